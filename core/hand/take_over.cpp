#include "core/hand/take_over.h"

#include <algorithm>
#include <map>
#include <unordered_map>

#include "core/base/lattice.h"
#include "core/base/plan_geometry.h"
#include "core/generate/label.h"
#include "core/generate/merge.h"
#include "core/generate/tuning.h"
#include "core/hand/loose_mesh.h"
#include "core/hand/shape.h"

namespace dune::hand {

namespace {

constexpr double kOneHeight = 0.02;  // m in height between corners that are one
constexpr double kNoArea = 1e-6;     // m²: less is no face; the thinnest sliver still joins what lies on its sides
constexpr double kTurnedAt = 0.01;   // m

using Loop = LooseMesh::Loop;
using Face = LooseMesh::Face;

Where whereOf(const std::vector<Mend>& mends, Mend::What what) {
  Where where;
  for (const Mend& m : mends) {
    if (m.what != what) continue;
    if (m.at)
      where.at.push_back(*m.at);
    else
      where.everywhere = true;
  }
  return where;
}

class Taker {
 public:
  Taker(const level::RawMesh& raw, const std::vector<Mend>& mends) : raw_(raw), mends_(mends) {}

  Taken run(const nav::Agent& agent, const std::vector<nav::Kind>& kinds) {
    weld();
    takeFaces(kinds);
    if (const Where where = whereOf(mends_, Mend::What::close); where.any()) closeSeams(mesh_, where);
    taken_.notes.inserted = meetOnBorders(mesh_);
    taken_.notes.cut = cutConvex();
    const Where thin = whereOf(mends_, Mend::What::thin);
    if (thin.any()) thinOut(mesh_, thin), cutConvex();
    if (whereOf(mends_, Mend::What::join).any()) {
      (void)dropStraight(mesh_);
      join();
      if (dropStraight(mesh_)) join();
      if (thin.any()) thinOut(mesh_, thin), cutConvex();
    }
    finish(agent, kinds);
    return std::move(taken_);
  }

 private:
  /// Corners onto the lattice; `now_` says which of the new ones each became.
  void weld() {
    std::map<LatticePoint, std::vector<std::uint32_t>> known;
    std::vector<char> used(raw_.corners.size(), 0);
    for (const auto& face : raw_.faces)
      for (const std::uint32_t c : face) used[c] = 1;
    taken_.notes.unused = static_cast<std::size_t>(std::ranges::count(used, char{0}));
    now_.resize(raw_.corners.size());
    for (std::size_t c = 0; c < raw_.corners.size(); ++c) {
      if (!used[c]) continue;
      const LatticePoint at = toLattice(plan(raw_.corners[c]));
      const double y = roundHeight(raw_.corners[c].y);
      auto& here = known[at];
      const auto same = std::ranges::find_if(here, [&](std::uint32_t v) { return std::abs(mesh_.corners[v].y - y) <= kOneHeight; });
      now_[c] = same == here.end() ? static_cast<std::uint32_t>(mesh_.corners.size()) : *same;
      if (same == here.end()) here.push_back(now_[c]), mesh_.corners.push_back(lift(toPlan(at), y));
    }
  }

  void leaveOut(LeftOut::Why why, const Loop& loop, double area) {
    if (!loop.empty()) taken_.notes.leftOut.push_back({why, meanOf(mesh_.outlineOf(loop)), area});
  }

  void takeFaces(const std::vector<nav::Kind>& kinds) {
    std::map<std::string, std::uint16_t> kindNumber;
    for (std::size_t k = kinds.size(); k-- > 0;) kindNumber[kinds[k].name] = static_cast<std::uint16_t>(k);
    const Where turn = whereOf(mends_, Mend::What::turn);
    std::vector<Face> all;
    double sum = 0;
    for (std::size_t f = 0; f < raw_.faces.size(); ++f) {
      Loop loop;
      for (const std::uint32_t c : raw_.faces[f]) loop.push_back(now_[c]);
      loop = tidy(loop);
      const auto kind = f < raw_.kinds.size() ? kindNumber.find(raw_.kinds[f]) : kindNumber.end();
      sum += planArea(mesh_.outlineOf(loop));
      const std::uint8_t tags = f < raw_.tagged.size() && kinds.size() < generate::kMostKindsWithTags ? raw_.tagged[f] : std::uint8_t{0};
      all.push_back({std::move(loop), generate::labelOf(kind == kindNumber.end() ? 0 : kind->second, tags)});
    }
    for (Face& face : all) {
      if (sum < 0) std::ranges::reverse(face.loop);
      const Vec3 middle = face.loop.empty() ? Vec3{0} : meanOf(mesh_.outlineOf(face.loop));
      const bool turned = turn.near(middle, kTurnedAt);
      double area = planArea(mesh_.outlineOf(face.loop));
      if (turned && area < 0) std::ranges::reverse(face.loop), area = -area;
      if (face.loop.size() < 3 || std::abs(area) < kNoArea)
        leaveOut(LeftOut::Why::noArea, face.loop, std::abs(area));
      else if (area < 0)
        leaveOut(LeftOut::Why::looksDown, face.loop, -area);
      else
        mesh_.faces.push_back(std::move(face));
    }
  }

  /// How many faces that was needed for; the sheet tells those that the file has, not what mending bends by a lattice step.
  std::size_t cutConvex() {
    std::size_t cut = 0;
    std::vector<Face> whole = std::exchange(mesh_.faces, {});
    for (Face& face : whole) {
      const std::vector<Vec3> outline = mesh_.outlineOf(face.loop);
      if (isFace(outline) && onLattice(outline).size() == outline.size()) {
        mesh_.faces.push_back(std::move(face));
        continue;
      }
      const auto shapes = convexFaces(outline);
      if (!shapes) {
        leaveOut(LeftOut::Why::crossesItself, face.loop, planArea(outline));
        continue;
      }
      // The shapes' corners are those of the outline, by place: no two of one face are the same.
      std::map<LatticePoint, std::uint32_t> number;
      for (const std::uint32_t v : face.loop) number[toLattice(plan(mesh_.corners[v]))] = v;
      cut += shapes->size() > 1;
      for (const auto& shape : *shapes) {
        if (planArea(shape) <= 0) continue;
        Face& piece = mesh_.faces.emplace_back();
        piece.area = face.area;
        for (const Vec3& p : shape) piece.loop.push_back(number.at(toLattice(plan(p))));
      }
    }
    return cut;
  }

  /// The corner whose triangle can be taken off a convex loop so that it goes on having area; a straight corner has none, and what would
  /// leave only straight ones lose them.
  std::size_t earOf(const Loop& loop) const {
    constexpr double kLeft = 1e-9;  // m² twice
    const std::size_t n = loop.size();
    const double twice = 2 * planArea(mesh_.outlineOf(loop));
    std::size_t best = n;
    double most = 0;
    for (std::size_t i = 0; i < n; ++i) {
      const Vec2 p = plan(mesh_.corners[loop[(i + n - 1) % n]]), q = plan(mesh_.corners[loop[i]]),
                 r = plan(mesh_.corners[loop[(i + 1) % n]]);
      const double ear = cross(q - p, r - q), turn = ear / std::max(1e-9, glm::distance(p, r));
      if (turn > most && twice - ear > kLeft) most = turn, best = i;
    }
    return best;
  }

  void join() {
    std::vector<LatticePoint> points;
    std::vector<double> heights;
    for (const Vec3& p : mesh_.corners) points.push_back(toLattice(plan(p))), heights.push_back(p.y);
    std::vector<std::array<std::uint32_t, 3>> triangles;
    std::vector<std::uint16_t> area;
    const auto add = [&](std::uint32_t a, std::uint32_t b, std::uint32_t c, std::uint16_t kind) {
      triangles.push_back({a, b, c}), area.push_back(kind);
    };
    for (const Face& face : mesh_.faces) {
      Loop left = face.loop;
      while (left.size() > 3) {
        const std::size_t ear = earOf(left), n = left.size();
        if (ear == n) break;
        add(left[(ear + n - 1) % n], left[ear], left[(ear + 1) % n], face.area);
        left.erase(left.begin() + static_cast<std::ptrdiff_t>(ear));
      }
      if (left.size() == 3) add(left[0], left[1], left[2], face.area);
    }
    const generate::Faces merged = generate::mergeTriangles({points, heights, triangles, area, generate::tuning::kFlat});
    mesh_.faces.clear();
    for (std::size_t f = 0; f < merged.loops.size(); ++f) mesh_.faces.push_back({merged.loops[f], merged.area[f]});
  }

  void finish(const nav::Agent& agent, const std::vector<nav::Kind>& kinds) {
    nav::NavMesh& mesh = taken_.mesh;
    mesh.agent = agent, mesh.kinds = kinds;
    std::vector<std::uint32_t> number(mesh_.corners.size(), 0xffffffffu);
    std::unordered_map<std::uint64_t, nav::FaceId> sides;  // the first face that has each
    for (const Face& face : mesh_.faces) {
      const nav::FaceId f{static_cast<std::uint32_t>(mesh.faceCount())};
      for (std::size_t i = 0; i < face.loop.size(); ++i) {
        const std::uint32_t v = face.loop[i];
        if (number[v] == 0xffffffffu)
          number[v] = static_cast<std::uint32_t>(mesh.vertices.size()), mesh.vertices.push_back(mesh_.corners[v]);
        mesh.corners.push_back(number[v]);
        sides.emplace(sideKey(v, face.loop[(i + 1) % face.loop.size()]), f);
      }
      mesh.start.push_back(static_cast<std::uint32_t>(mesh.corners.size()));
      mesh.area.push_back(face.area);
    }
    std::size_t f = 0;
    for (const Face& face : mesh_.faces) {
      const nav::FaceId own{static_cast<std::uint32_t>(f++)};
      for (std::size_t i = 0; i < face.loop.size(); ++i) {
        const std::uint32_t a = face.loop[i], b = face.loop[(i + 1) % face.loop.size()];
        const auto back = sides.find(sideKey(b, a));
        // Of several faces with one side the first has the neighbour, on both sides of it.
        mesh.across.push_back(back != sides.end() && sides.at(sideKey(a, b)) == own ? back->second : nav::kNoFace);
      }
    }
    generate::resolveLabels(mesh, raw_.tags);
    nav::labelIslands(mesh);
  }

  const level::RawMesh& raw_;
  const std::vector<Mend>& mends_;
  std::vector<std::uint32_t> now_;
  LooseMesh mesh_;
  Taken taken_;
};

}  // namespace

const char* mendName(Mend::What what) {
  constexpr const char* kNames[] = {"turn", "close", "thin", "join"};
  return kNames[static_cast<std::size_t>(what)];
}

Taken takeOver(const level::RawMesh& raw, const nav::Agent& agent, const std::vector<nav::Kind>& kinds, const std::vector<Mend>& mends) {
  return Taker(raw, mends).run(agent, kinds);
}

}  // namespace dune::hand
