// make-pictures FOLDER: draws each step of the generator over a corner of Saltwind Depot, from the generator's own data, as SVG.

#include <cstdio>
#include <filesystem>

#include "core/base/file.h"
#include "core/base/text.h"
#include "core/generate/build.h"
#include "core/generate/cells.h"
#include "core/generate/join.h"
#include "core/generate/tuning.h"
#include "core/level/import.h"
#include "core/system/threads.h"
#include "demo/depot.h"

using namespace dune;

namespace {

constexpr double kPixels = 30;  // a metre
constexpr Vec2 kLow{0.3, -16.2}, kHigh{30.3, -1};

class Picture {
 public:
  void polygon(const std::vector<Vec2>& points, const char* fill, const char* stroke, double width) {
    body_ += "<polygon points=\"";
    for (const Vec2& p : points) body_ += place(p) + " ";
    body_ += text("\" fill=\"%s\" stroke=\"%s\" stroke-width=\"%.2f\"/>\n", fill, stroke, width);
  }
  void line(const Vec2& a, const Vec2& b, const char* stroke, double width) {
    body_ += "<polyline points=\"" + place(a) + " " + place(b) +
             text("\" stroke=\"%s\" stroke-width=\"%.2f\" stroke-linecap=\"round\"/>\n", stroke, width);
  }
  void key(const char* colour, const char* words) {
    const double y = 22.0 + 20 * keys_++;
    keyText_ += text("<rect x=\"10\" y=\"%.0f\" width=\"14\" height=\"14\" fill=\"%s\"/><text x=\"30\" y=\"%.0f\">%s</text>\n", y - 11,
                     colour, y, words);
  }
  bool save(const std::string& path) const {
    const double w = (kHigh.x - kLow.x) * kPixels, h = (kHigh.y - kLow.y) * kPixels, top = 16 + 20 * keys_;
    return writeFile(
               path,
               text("<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 %.0f %.0f\" font-family=\"sans-serif\" font-size=\"14\">\n", w,
                    h + top) +
                   text("<rect width=\"%.0f\" height=\"%.0f\" fill=\"#f6f1e7\"/>\n", w, h + top) + keyText_ +
                   text("<svg y=\"%.0f\" width=\"%.0f\" height=\"%.0f\" viewBox=\"0 0 %.0f %.0f\"><g fill=\"none\" "
                        "stroke-linejoin=\"round\">\n",
                        top, w, h, w, h) +
                   body_ + "</g></svg></svg>\n")
        .ok();
  }

 private:
  static std::string place(const Vec2& p) { return text("%.2f,%.2f", (p.x - kLow.x) * kPixels, (kHigh.y - p.y) * kPixels); }
  std::string body_, keyText_;
  int keys_ = 0;
};

struct Scene {
  level::World world;
  nav::Agent agent;
  std::shared_ptr<const generate::Built> built;
};

bool shown(const Vec2& p) { return p.x > kLow.x - 1 && p.x < kHigh.x + 1 && p.y > kLow.y - 1 && p.y < kHigh.y + 1; }

std::vector<std::size_t> shownChunks(const Scene& s) {
  std::vector<std::size_t> chunks;
  Box2 view;
  view.add(kLow), view.add(kHigh);
  for (std::size_t i = 0; i < s.built->chunks.size(); ++i)
    if (ground::chunkBox(s.built->chunks[i].id, s.built->survey->chunkSize()).overlaps(view)) chunks.push_back(i);
  return chunks;
}

void triangles(const Scene& s, Picture& p) {
  p.key("#d9b27c", "can be walked on");
  p.key("#8f8a80", "too steep, or a lower side");
  const ground::Soup soup(s.world);
  std::vector<const ground::Triangle*> order;
  for (const ground::Triangle& t : soup.triangles())
    if (shown(t.q[0]) || shown(t.q[1]) || shown(t.q[2])) order.push_back(&t);
  std::sort(order.begin(), order.end(),
            [](auto* a, auto* b) { return a->p[0].y + a->p[1].y + a->p[2].y < b->p[0].y + b->p[1].y + b->p[2].y; });
  for (const ground::Triangle* t : order) {
    const bool walkable = !t->underside && t->slope <= radians(s.agent.maxSlope);
    p.polygon({t->q.begin(), t->q.end()}, walkable ? "#d9b27c" : "#8f8a80", "#6b5a40", 0.7);
  }
}

void limits(const Scene& s, Picture& p) {
  p.key("#b3402a", "wall; each line is drawn on the side that it limits");
  p.key("#7a4fa0", "low ceiling");
  p.key("#2f6f8f", "end of ground");
  p.key("#c9a227", "step (no limit)");
  const char* colours[] = {"#b3402a", "#7a4fa0", "#2f6f8f", "#2f6f8f"};
  for (const std::size_t i : shownChunks(s)) {
    const ground::Limits& found = s.built->chunks[i].limits->found;
    for (const ground::StepLine& step : found.steps) p.line(step.a, step.b, "#c9a227", 1.5);
    for (const ground::Limit& l : found.limits) {
      // Each kind a little farther on the side that it limits, so that all are seen.
      const Vec2 aside = leftOf(l.b - l.a) / glm::distance(l.a, l.b);
      const Vec2 off = aside * (0.06 + 0.07 * static_cast<double>(l.kind)), middle = (l.a + l.b) * 0.5 + off;
      p.line(l.a + off, l.b + off, colours[static_cast<std::size_t>(l.kind)], 2);
      p.line(middle, middle + aside * 0.14, colours[static_cast<std::size_t>(l.kind)], 1.2);
    }
  }
}

/// The limits, grown shapes and cells of one chunk with those around it.
template <class Visit>
void eachChunkInWork(const Scene& s, Visit&& visit) {
  for (const std::size_t i : shownChunks(s)) {
    const ground::ChunkId id = s.built->chunks[i].id;
    const Box2 box = ground::chunkBox(id, s.built->survey->chunkSize());
    std::vector<ground::Limit> near;
    for (const ground::Limit& l : s.built->clearance.limits()) {
      Box2 line;
      line.add(l.a), line.add(l.b);
      if (line.overlaps(box.grown(s.agent.radius + 0.05))) near.push_back(l);
    }
    visit(id, box, ground::Clearance(near, s.agent.height));
  }
}

void outline(const Scene& s, Picture& p) {
  p.key("#c9bfae", "nearer than the radius to a limit");
  p.key("#b3402a", "outline");
  eachChunkInWork(s, [&](ground::ChunkId, const Box2& box, const ground::Clearance& clearance) {
    const auto grown = generate::growLimits(clearance.limits(), s.agent.radius, generate::tuning::kArcError);
    for (const generate::Grown& g : grown) p.polygon(g.border, "#c9bfae", "#a99b84", 0.6);
    ThreadedJob job;
    const auto pieces = generate::outlinePieces(clearance.limits(), grown, s.agent.height, box, job);
    for (const generate::OutlinePiece& piece : *pieces) p.line(piece.a, piece.b, "#b3402a", 1.6);
  });
}

void cells(const Scene& s, Picture& p) {
  p.key("#e3c489", "cell with ground");
  p.key("#c58f3d", "with ground on two storeys");
  eachChunkInWork(s, [&](ground::ChunkId id, const Box2& box, const ground::Clearance& clearance) {
    const auto grown = generate::growLimits(clearance.limits(), s.agent.radius, generate::tuning::kArcError);
    const ground::Soup soup = s.built->soupNear(box);
    const ground::Standing standing(soup, s.world, s.agent);
    ThreadedJob job;
    const auto pieces = generate::outlinePieces(clearance.limits(), grown, s.agent.height, box, job);
    const auto made =
        generate::Cells::build(standing, clearance, grown, *pieces, generate::latticeBox(id, s.built->survey->chunkSize()), nullptr, job);
    std::vector<int> storeys(made->plan().triangles().size(), 0);
    for (const generate::Storey& storey : made->storeys()) ++storeys[static_cast<std::size_t>(storey.cell)];
    for (std::size_t c = 0; c < storeys.size(); ++c) {
      const auto corners = made->cornersOf(static_cast<std::int32_t>(c));
      p.polygon({corners.begin(), corners.end()}, storeys[c] == 0 ? "none" : storeys[c] == 1 ? "#e3c489" : "#c58f3d", "#8a7a60", 0.5);
    }
  });
}

void faceOf(const nav::NavMesh& m, std::uint32_t f, Picture& p) {
  std::vector<Vec2> corners;
  double y = 0;
  for (const std::uint32_t v : m.cornersOf(nav::FaceId{f})) corners.push_back(plan(m.vertices[v])), y = std::max(y, m.vertices[v].y);
  if (std::ranges::any_of(corners, shown)) p.polygon(corners, y > 1.3 ? "#c58f3d" : y > 0.5 ? "#d6a95f" : "#e3c489", "#5d4a2c", 1.1);
}

void chunkFaces(const Scene& s, Picture& p) {
  p.key("#e3c489", "faces of each chunk, before joining");
  p.key("#2f6f8f", "line between chunks");
  for (const std::size_t i : shownChunks(s)) {
    const generate::ChunkRecord& record = s.built->chunks[i];
    const nav::NavMesh m = generate::joinChunks(s.world, s.agent, {{record.id, record.mesh.get()}}, 0.4);
    for (std::uint32_t f = 0; f < m.faceCount(); ++f) faceOf(m, f, p);
  }
  for (const std::size_t i : shownChunks(s)) {
    const Box2 box = ground::chunkBox(s.built->chunks[i].id, s.built->survey->chunkSize());
    p.polygon({box.min, {box.max.x, box.min.y}, box.max, {box.min.x, box.max.y}}, "none", "#2f6f8f", 1.6);
  }
}

void joined(const Scene& s, Picture& p) {
  p.key("#e3c489", "faces, darker where they lie higher");
  const nav::NavMesh& m = s.built->mesh;
  for (std::uint32_t f = 0; f < m.faceCount(); ++f) faceOf(m, f, p);
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 2) return 2;
  const std::string folder = argv[1];
  const std::string level = (std::filesystem::temp_directory_path() / "dune-step-pictures.glb").string();
  ThreadedJob job;
  if (!writeFile(level, demo::depotLevel().bytes())) return 3;
  const auto read = level::importLevel(level, {}, job);
  std::filesystem::remove(level);
  if (!read) return std::fprintf(stderr, "%s\n", read.problem().text().c_str()), 3;
  Scene scene{level::plainWorld(*read), demo::depotProject().agents->agents[0], nullptr};
  scene.built = *generate::build(scene.world, scene.agent, job);
  std::filesystem::create_directories(folder);
  const std::pair<const char*, void (*)(const Scene&, Picture&)> steps[] = {{"1-triangles", triangles}, {"2-limits", limits},
                                                                            {"3-outline", outline},     {"4-cells", cells},
                                                                            {"5-chunks", chunkFaces},   {"6-joined", joined}};
  for (const auto& [name, draw] : steps) {
    Picture picture;
    draw(scene, picture);
    if (!picture.save(folder + "/" + name + ".svg")) return 3;
  }
  return 0;
}
