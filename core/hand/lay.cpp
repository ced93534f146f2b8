#include "core/hand/lay.h"

#include <map>
#include <set>

#include "core/generate/join.h"
#include "core/generate/label.h"
#include "core/hand/part_lines.h"
#include "core/hand/sheet.h"
#include "core/nav/locator.h"

namespace dune::hand {

namespace {

constexpr double kLinkEnd = 0.05;     // m that a link's end may be moved
constexpr double kSameHeight = 0.01;  // m between corners of a face that is still as it was

using nav::FaceId;

class Laying {
 public:
  Laying(const nav::NavMesh& mesh, int agent)
      : from_(mesh), agent_(agent), levels_(storeyHeight(mesh.agent)), locator_(mesh), faces_(mesh.faceCount()) {}

  Laid run(const Work& work, const Standing& standing) {
    for (const Patch& patch : work.patches)
      if (patch.isFor(agent_)) layPatch(patch);
    for (const Solid& solid : standing.solids) takeUnder(solid, standing.onAll);
    gatherParts(work.parts);
    for (const Part& part : parts_) cutAlong(part);
    Laid laid{assemble(), {}, std::move(notLaid_), {}};
    generate::resolveLabels(laid.mesh, from_.tags);
    const std::vector<OpenSide> open = sever(laid.mesh, parts_, levels_);
    generate::turnFans(laid.mesh);
    laid.crossings = crossings(laid.mesh, open);
    nav::labelIslands(laid.mesh);
    tieLinks(laid.mesh);
    laid.origin = std::move(origin_);
    return laid;
  }

 private:
  /// A face of the mesh, or one that took the place of some; `shape` is empty for one that is as it was.
  struct Kept {
    SheetFace shape;
    Origin origin;
    bool gone = false;
  };

  SheetFace shapeOf(std::size_t f) const {
    if (!faces_[f].shape.corners.empty()) return faces_[f].shape;
    const FaceId id{static_cast<std::uint32_t>(f)};
    SheetFace shape;
    shape.area = labelAt(id);
    for (std::size_t i = 0; i < from_.cornerCount(id); ++i) {
      const Vec3& c = from_.cornerAt(id, i);
      shape.corners.push_back(toLattice(plan(c))), shape.heights.push_back(c.y);
    }
    return shape;
  }

  std::uint16_t labelAt(FaceId f) const { return generate::labelOf(from_.area[index(f)], from_.tagsOf(f)); }

  std::uint16_t areaOf(const std::string& kind) const {
    const auto at = std::ranges::find(from_.kinds, kind, &nav::Kind::name);
    return at == from_.kinds.end() ? 0 : static_cast<std::uint16_t>(at - from_.kinds.begin());
  }

  using Cell = std::pair<std::int64_t, std::int64_t>;
  void layPatch(const Patch& patch) {
    Sheet all;
    std::vector<Origin> origins;  // of the made faces
    for (const Face& face : patch.faces) {
      origins.push_back({patch.id, static_cast<std::uint32_t>(origins.size())});
      all.made.push_back(sheetFace(face.corners, areaOf(face.kind)));
    }
    for (const auto& gone : patch.instead)
      if (SheetFace shape = sheetFace(gone, 0); !takeWhole(shape)) all.instead.push_back(std::move(shape));
    if ((all.made.empty() && all.instead.empty()) || !laySheet(all, origins)) return;
    // It goes over several storeys that lie over each other: one face after the other.
    std::optional<Vec3> folded;
    const auto layOne = [&](Sheet one, const std::vector<Origin>& origin) {
      if (const auto at = laySheet(one, origin)) folded = at;
    };
    for (const SheetFace& gone : all.instead) layOne({{}, {gone}, {}}, {});
    for (const Origin& origin : origins) layOne({{all.made[origin.face]}, {}, {}}, {origin});
    if (folded) notLaid_.push_back({patch.id, *folded});
  }

  void takeUnder(const Solid& solid, bool onAll) {
    Box2 box;
    for (const Vec3& c : solid.roof) box.add(plan(c));
    Sheet sheet;
    sheet.from = onAll ? Sheet::From::all : Sheet::From::drawn;
    std::vector<int> patches;  // one for each of what goes
    for (const std::size_t f : near(box.grown(2 * from_.agent.radius))) {
      if (faces_[f].origin.patch == 0 && !onAll) continue;
      const SheetFace own = shapeOf(f);
      std::vector<Vec3> corners;
      for (std::size_t i = 0; i < own.corners.size(); ++i) corners.push_back(own.place(i));
      SheetFace taken = sheetFace(takenFrom(corners, solid, from_.agent.crouching()), 0);
      if (taken.corners.size() >= 3) sheet.instead.push_back(std::move(taken)), patches.push_back(faces_[f].origin.patch);
    }
    if (sheet.instead.empty() || !laySheet(sheet, {})) return;
    for (std::size_t i = 0; i < patches.size(); ++i) {
      Sheet one;
      one.from = sheet.from, one.instead = {sheet.instead[i]};
      if (const auto folded = laySheet(one, {})) notLaid_.push_back({patches[i], *folded});
    }
  }

  void gatherParts(const std::vector<Part>& parts) {
    std::optional<nav::Border> border;
    for (const Part& part : parts) {
      if (!part.isFor(agent_)) continue;
      if (!border) border.emplace(from_);
      addToBorder(parts_, part, from_, locator_, *border);
    }
  }

  /// Faces that a part leads through fall in two, so that it has edges to run along.
  void cutAlong(const Part& part) {
    Box2 box;
    box.add(plan(part.from)), box.add(plan(part.to));
    std::set<std::size_t> done;  // faces around one that is cut are made anew with it
    for (bool again = true; std::exchange(again, false);)
      for (const std::size_t f : near(box)) {
        if (faces_[f].gone || !done.insert(f).second) continue;
        Sheet sheet{halvesOf(shapeOf(f), part, levels_), {}, {}};
        if (sheet.made.empty()) continue;
        const Origin origin = faces_[f].origin;
        again = !laySheet(sheet, {origin, origin}) || again;
      }
  }

  /// A face that is still as it was goes as a whole, and those around it stay what they are, even where others lie over it.
  bool takeWhole(const SheetFace& gone) {
    for (const std::size_t f : near(gone.box())) {
      if (faces_[f].origin.patch != 0) continue;
      const SheetFace shape = shapeOf(f);
      const std::size_t n = shape.corners.size();
      const auto begin = std::ranges::find(shape.corners, gone.corners.front());
      if (n != gone.corners.size() || begin == shape.corners.end()) continue;
      const auto first = static_cast<std::size_t>(begin - shape.corners.begin());
      bool same = true;
      for (std::size_t i = 0; same && i < n; ++i) {
        const std::size_t k = (first + i) % n;
        same = shape.corners[k] == gone.corners[i] && std::abs(shape.heights[k] - gone.heights[i]) < kSameHeight;
      }
      if (same) return faces_[f].gone = true;
    }
    return false;
  }

  /// `made`: where the made faces come from. Where ground around is folded over itself, the place, and nothing is done.
  std::optional<Vec3> laySheet(Sheet& sheet, const std::vector<Origin>& made) {
    sheet.around.clear();
    const PlanGrid regions = sheet.regions();
    std::vector<std::size_t> touched;
    for (const std::size_t f : near(regions.bounds())) {
      SheetFace shape = shapeOf(f);
      if (!sheet.touches(shape, levels_, regions)) continue;
      shape.drawn = faces_[f].origin.patch != 0;
      touched.push_back(f), sheet.around.push_back(std::move(shape));
    }
    if (const auto where = sheet.foldedAt()) return where;
    std::vector<Origin> origins;
    for (const std::size_t f : touched) origins.push_back(faces_[f].origin), faces_[f].gone = true;
    for (Sheet::Piece& piece : sheet.pieces()) {
      const Origin origin = piece.made ? made[piece.of] : origins[piece.of];
      faces_.push_back({std::move(piece.shape), origin, false});
      eachCell(faces_.back().shape.box(), [&](const Cell& cell) { added_[cell].push_back(faces_.size() - 1); });
    }
    return std::nullopt;
  }

  template <class Visit>
  static void eachCell(const Box2& box, Visit&& visit) {
    constexpr double kCell = 8;  // m
    const auto cell = [](double x) { return static_cast<std::int64_t>(std::floor(x / kCell)); };
    for (std::int64_t u = cell(box.min.x); u <= cell(box.max.x); ++u)
      for (std::int64_t v = cell(box.min.y); v <= cell(box.max.y); ++v) visit(Cell{u, v});
  }

  /// What lies in a box of the plan or touches it.
  std::vector<std::size_t> near(const Box2& regions) const {
    const Box2 box = regions.grown(2 * kLatticeStep);
    std::vector<std::size_t> found;
    for (const std::uint32_t f : locator_.within(box))
      if (!faces_[f].gone) found.push_back(f);
    std::set<std::size_t> added;
    eachCell(box, [&](const Cell& cell) {
      if (const auto here = added_.find(cell); here != added_.end()) added.insert(here->second.begin(), here->second.end());
    });
    for (const std::size_t f : added)
      if (!faces_[f].gone) found.push_back(f);
    return found;
  }

  nav::NavMesh assemble() {
    nav::NavMesh out;
    out.agent = from_.agent, out.kinds = from_.kinds, out.links = from_.links;
    out.vertices = from_.vertices;
    seedCorners();
    newFace_.assign(faces_.size(), nav::kNoFace);
    // Drawn faces first: where heights differ a little, theirs count.
    std::vector<std::vector<std::uint32_t>> corners(faces_.size());
    for (const bool drawn : {true, false})
      for (std::size_t f = from_.faceCount(); f < faces_.size(); ++f)
        if (!faces_[f].gone && (faces_[f].origin.patch != 0) == drawn) corners[f] = cornersOf(faces_[f].shape, out.vertices);
    for (std::size_t f = 0; f < faces_.size(); ++f) {
      if (faces_[f].gone) continue;
      newFace_[f] = FaceId{static_cast<std::uint32_t>(out.faceCount())};
      if (f < from_.faceCount()) {
        const auto own = from_.cornersOf(FaceId{static_cast<std::uint32_t>(f)});
        out.corners.insert(out.corners.end(), own.begin(), own.end());
        out.area.push_back(labelAt(FaceId{static_cast<std::uint32_t>(f)}));
      } else {
        out.corners.insert(out.corners.end(), corners[f].begin(), corners[f].end());
        out.area.push_back(faces_[f].shape.area);
      }
      out.start.push_back(static_cast<std::uint32_t>(out.corners.size()));
      origin_.push_back(faces_[f].origin);
    }
    connect(out);
    dropUnused(out);
    return out;
  }

  /// Corners that faces around those that went have still: what came in their place meets them there.
  void seedCorners() {
    for (std::uint32_t f = 0; f < from_.faceCount(); ++f) {
      if (!faces_[f].gone) continue;
      for (const std::uint32_t v : from_.cornersOf(FaceId{f})) known_[toLattice(plan(from_.vertices[v]))].insert(v);
    }
  }

  std::vector<std::uint32_t> cornersOf(const SheetFace& shape, std::vector<Vec3>& vertices) {
    const double meets = std::max(0.02, from_.agent.stepHeight);
    std::vector<std::uint32_t> corners;
    for (std::size_t i = 0; i < shape.corners.size(); ++i) {
      auto& there = known_[shape.corners[i]];
      std::uint32_t best = 0xffffffffu;
      for (const std::uint32_t v : there)
        if (const double d = std::abs(vertices[v].y - shape.heights[i]);
            d <= meets && (best == 0xffffffffu || d < std::abs(vertices[best].y - shape.heights[i])))
          best = v;
      if (best == 0xffffffffu) {
        best = static_cast<std::uint32_t>(vertices.size());
        vertices.push_back(lift(toPlan(shape.corners[i]), roundHeight(shape.heights[i])));
        there.insert(best);
      }
      corners.push_back(best);
    }
    return corners;
  }

  /// Faces that stayed keep the neighbours that stayed; all others are found by their edges.
  void connect(nav::NavMesh& out) const {
    out.across.assign(out.corners.size(), nav::kNoFace);
    std::map<std::pair<std::uint32_t, std::uint32_t>, std::vector<std::pair<std::uint32_t, std::uint32_t>>> open;  // edge: face, corner
    std::uint32_t face = 0;
    for (std::size_t f = 0; f < faces_.size(); ++f) {
      if (faces_[f].gone) continue;
      for (std::uint32_t c = out.start[face]; c < out.start[face + 1]; ++c) {
        const bool stayed = f < from_.faceCount();
        const FaceId before = stayed ? from_.across[from_.start[f] + (c - out.start[face])] : nav::kNoFace;
        if (before != nav::kNoFace && !faces_[index(before)].gone)
          out.across[c] = newFace_[index(before)];
        else if (!stayed || before != nav::kNoFace)
          open[edgeAt(out, face, c)].push_back({face, c});
      }
      ++face;
    }
    for (const auto& [edge, here] : open) {
      if (edge.first > edge.second) continue;
      const auto back = open.find({edge.second, edge.first});
      if (back == open.end() || here.size() != 1 || back->second.size() != 1) continue;
      out.across[here[0].second] = FaceId{back->second[0].first};
      out.across[back->second[0].second] = FaceId{here[0].first};
    }
  }

  static std::pair<std::uint32_t, std::uint32_t> edgeAt(const nav::NavMesh& m, std::uint32_t face, std::uint32_t c) {
    return {m.corners[c], m.corners[c + 1 == m.start[face + 1] ? m.start[face] : c + 1]};
  }

  static void dropUnused(nav::NavMesh& out) {
    std::vector<std::uint32_t> number(out.vertices.size(), 0xffffffffu);
    for (const std::uint32_t v : out.corners) number[v] = 0;
    std::uint32_t next = 0;
    for (std::size_t v = 0; v < number.size(); ++v)
      if (number[v] == 0) out.vertices[next] = out.vertices[v], number[v] = next++;
    out.vertices.resize(next);
    for (std::uint32_t& v : out.corners) v = number[v];
  }

  void tieLinks(nav::NavMesh& mesh) const {
    std::optional<nav::Locator> locator;
    const auto tie = [&](FaceId& face, Vec3& at) {
      if (const FaceId now = newFace_[index(face)]; now != nav::kNoFace) return face = now, true;
      if (!locator) locator.emplace(mesh);
      const nav::Place place = locator->nearest(at, kLinkEnd);
      face = place.face, at = place.position;
      return place.valid();
    };
    std::erase_if(mesh.links, [&](nav::Link& l) { return !tie(l.fromFace, l.from) || !tie(l.toFace, l.to); });
  }

  const nav::NavMesh& from_;
  int agent_;
  double levels_;
  nav::Locator locator_;                            // over it
  std::vector<Kept> faces_;                         // those of the mesh, then those that patches brought
  std::map<Cell, std::vector<std::size_t>> added_;  // the numbers of the latter, by where they are
  std::vector<NotLaid> notLaid_;
  std::vector<Part> parts_;                                // those that are for the agent, to where they end now
  std::map<LatticePoint, std::set<std::uint32_t>> known_;  // corners by place
  std::vector<FaceId> newFace_;                            // one for each of faces_
  std::vector<Origin> origin_;
};

}  // namespace

Laid lay(const nav::NavMesh& mesh, const Work& work, int agent, const Standing& standing) {
  const auto isFor = [&](const auto& item) { return item.isFor(agent); };
  const bool stands = standing.onAll && !standing.solids.empty();
  if (!stands && std::ranges::none_of(work.patches, isFor) && std::ranges::none_of(work.parts, isFor))
    return {mesh, std::vector<Origin>(mesh.faceCount()), {}, {}};
  return Laying(mesh, agent).run(work, standing);
}

}  // namespace dune::hand
