#include "core/hand/edit.h"

#include <cmath>
#include <map>
#include <numeric>
#include <set>

#include "core/base/lattice.h"
#include "core/base/plan_geometry.h"
#include "core/base/plan_grid.h"
#include "core/hand/drape.h"
#include "core/hand/part_lines.h"
#include "core/hand/pick.h"
#include "core/hand/shape.h"
#include "core/hand/sheet.h"

namespace dune::hand {

using nav::FaceId;

namespace {

constexpr double kUnseen = 1e-3;  // m² that corners on the lattice may make out

Problem nothingPicked(const char* what) {
  return {ProblemCode::usage, std::string("No ") + what + " is picked.", {}, std::string("picking at least one ") + what + "."};
}

Problem nothingBeyond(const std::array<Vec3, 2>& ends) {
  return {ProblemCode::unusable, "There is nothing beyond this edge to part it from.", placeText((ends[0] + ends[1]) * 0.5),
          "an edge between two faces."};
}

bool samePlace(const Vec3& a, const Vec3& b) { return glm::distance(plan(a), plan(b)) < 2 * kLatticeStep && std::abs(a.y - b.y) < 0.05; }

}  // namespace

std::vector<Vec3> outlineOf(const nav::NavMesh& mesh, FaceId f) {
  std::vector<Vec3> outline;
  for (std::size_t i = 0; i < mesh.cornerCount(f); ++i) outline.push_back(mesh.cornerAt(f, i));
  return outline;
}

/// Of the ground that gives way; of the first where there is none.
std::string Editor::kindUnder(const Vec3& at) const {
  const FaceId f = faceUnder(mesh_, at);
  return f == nav::kNoFace ? std::string() : kindOf(f);
}

std::vector<FaceId> Editor::facesAt(std::span<const std::uint32_t> corners) const {
  std::vector<FaceId> faces;
  std::vector<char> asked(mesh_.vertices.size(), 0);
  for (const std::uint32_t v : corners) asked[v] = 1;
  for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f)
    if (std::ranges::any_of(mesh_.cornersOf(FaceId{f}), [&](std::uint32_t v) { return asked[v] != 0; })) faces.push_back(FaceId{f});
  return faces;
}

/// Says how far it is; false when it was cancelled.
bool Editor::goesOn(std::size_t done, std::size_t of) const {
  if (!job_) return true;
  if (done % 64 == 0) job_->advance(static_cast<double>(done) / static_cast<double>(of));
  return !job_->cancelled();
}

Vec3 Editor::followed(const Vec3& at) const {
  const auto y = levelAt_ ? levelAt_(at) : std::nullopt;
  return {at.x, y ? *y : at.y, at.z};
}

Result<std::vector<Face>> Editor::shaped(const std::vector<Vec3>& outline, const std::string& kind) const {
  auto shapes = convexFaces(outline);
  if (!shapes) return shapes.problem();
  std::vector<Face> faces;
  for (auto& shape : shapes.value()) faces.push_back({std::move(shape), kind});
  return faces;
}

/// Takes out of the patches what goes, and puts them into one. A drawn face of which only a piece goes leaves its other pieces.
void Editor::absorb(Patch& into, Work& work, const std::vector<FaceId>& gone) const {
  const auto goes = [&](FaceId f) { return std::ranges::binary_search(gone, f); };
  std::map<std::pair<int, std::uint32_t>, std::vector<FaceId>> pieces;  // of each drawn face
  for (std::uint32_t f = 0; f < origin_.size(); ++f)
    if (origin_[f].patch != 0) pieces[{origin_[f].patch, origin_[f].face}].push_back(FaceId{f});
  std::vector<int> touched;
  for (const FaceId f : gone)
    if (const int patch = origin_[index(f)].patch; patch == 0)
      into.instead.push_back(outlineOf(mesh_, f));
    else if (std::ranges::count(touched, patch) == 0)
      touched.push_back(patch);
  std::set<int> agents;  // whom any of them is for
  bool all = false;
  for (const int id : touched) {
    const auto patch = std::ranges::find(work.patches, id, &Patch::id);
    if (patch == work.patches.end()) continue;
    into.id = into.id == 0 ? id : std::min(into.id, id);
    all = all || patch->agents.empty();
    agents.insert(patch->agents.begin(), patch->agents.end());
    into.instead.insert(into.instead.end(), patch->instead.begin(), patch->instead.end());
    for (std::uint32_t i = 0; i < patch->faces.size(); ++i) {
      const auto laid = pieces.find({id, i});
      const std::vector<FaceId> own = laid == pieces.end() ? std::vector<FaceId>() : laid->second;
      // As it was drawn where all of it is seen; what later patches cover of it must not come to the top now.
      double seen = 0;
      for (const FaceId f : own) seen += nav::faceArea(mesh_, f);
      if (std::ranges::none_of(own, goes) && std::abs(seen - planArea(patch->faces[i].corners)) < kUnseen) {
        into.faces.push_back(patch->faces[i]);
        continue;
      }
      for (const FaceId f : own)
        if (!goes(f)) into.faces.push_back({outlineOf(mesh_, f), patch->faces[i].kind, patch->faces[i].ground});
    }
    work.patches.erase(patch);
  }
  if (!all) into.agents.assign(agents.begin(), agents.end());
}

/// Two made faces over each other: one corner went over the face beside it.
std::optional<Problem> Editor::overlapping(const std::vector<Face>& made) const {
  const double storey = storeyHeight(mesh_.agent);
  std::vector<SheetFace> faces;
  std::vector<Box2> boxes;
  for (const Face& f : made) faces.push_back(sheetFace(f.corners, 0)), boxes.push_back(faces.back().box());
  const PlanGrid grid(boxes, 1.0);
  for (std::uint32_t i = 0; i < made.size(); ++i)
    for (const std::uint32_t k : grid.collect(boxes[i])) {
      if (k <= i) continue;
      const std::vector<Vec3> common = within(faces[i], faces[k], 0);
      const auto meets = [&](const Vec3& p) { return std::abs(faces[k].heightAt(toLattice(plan(p))) - p.y) <= storey; };
      if (common.size() >= 3 && planArea(common) > kOverlap && std::ranges::any_of(common, meets))
        return Problem{ProblemCode::unusable, "Two faces would lie over each other.", placeText(meanOf(common)), "a smaller move."};
    }
  return std::nullopt;
}

/// A made face that touches two grounds over each other, nearer than a storey, could not be laid.
std::optional<Problem> Editor::betweenGrounds(const Change& change) const {
  const double storey = storeyHeight(mesh_.agent);
  std::vector<Sheet> sheets;
  std::vector<PlanGrid> regions;
  std::vector<Box2> boxes;
  for (const Face& f : change.made) {
    sheets.emplace_back().made.push_back(sheetFace(f.corners, 0));
    regions.push_back(sheets.back().regions()), boxes.push_back(sheets.back().made[0].box().grown(2 * kLatticeStep));
  }
  const PlanGrid grid(boxes, 1.0);
  for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) {
    Box2 box;
    for (const std::uint32_t v : mesh_.cornersOf(FaceId{f})) box.add(plan(mesh_.vertices[v]));
    if (!box.overlaps(grid.bounds()) || std::ranges::binary_search(change.gone, FaceId{f})) continue;
    const std::vector<std::uint32_t> near = grid.collect(box);
    if (near.empty()) continue;
    const SheetFace face = sheetFace(outlineOf(mesh_, FaceId{f}), 0);
    for (const std::uint32_t i : near)
      if (sheets[i].touches(face, storey, regions[i])) sheets[i].around.push_back(face);
  }
  for (const Sheet& sheet : sheets)
    if (const auto at = sheet.foldedAt())
      return Problem{ProblemCode::unusable, "A face would touch two grounds that lie over each other, nearer than a storey.",
                     placeText(*at), "taking one of them away first, or another height."};
  return std::nullopt;
}

Result<Work> Editor::apply(Change change) const {
  for (const FaceId f : change.gone)
    if (index(f) >= mesh_.faceCount()) return Problem{ProblemCode::usage, "There is no such face.", {}, {}};
  std::ranges::sort(change.gone);
  change.gone.erase(std::unique(change.gone.begin(), change.gone.end()), change.gone.end());
  if (const auto over = overlapping(change.made)) return *over;
  if (const auto between = betweenGrounds(change)) return *between;
  Work work = work_;
  Patch patch;
  absorb(patch, work, change.gone);
  if (patch.id == 0) {
    for (const Patch& p : work.patches) patch.id = std::max(patch.id, p.id);
    ++patch.id;
    patch.agents = {agent_};
  }
  for (std::size_t i = 0; i < change.made.size(); ++i) {
    if (!goesOn(i, change.made.size())) return Job::cancelledProblem();
    if (levelAt_) change.made[i].ground = levelAt_(meanOf(change.made[i].corners));
    patch.faces.push_back(std::move(change.made[i]));
  }
  if (!patch.faces.empty() || !patch.instead.empty()) work.patches.push_back(std::move(patch));
  return work;
}

Result<Work> Editor::remove(std::span<const FaceId> faces) const {
  if (faces.empty()) return nothingPicked("face");
  return apply({{faces.begin(), faces.end()}, {}});
}

Result<Work> Editor::move(std::span<const std::uint32_t> corners, const Vec3& by, bool follow) const {
  if (corners.empty()) return nothingPicked("corner");
  if (!isFinite(by)) return Problem{ProblemCode::usage, "The move is not a number.", {}, {}};
  std::vector<std::uint32_t> moved(corners.begin(), corners.end());
  std::ranges::sort(moved);
  Change change{facesAt(corners), {}};
  for (std::size_t k = 0; k < change.gone.size(); ++k) {
    if (!goesOn(k, change.gone.size())) return Job::cancelledProblem();
    const FaceId f = change.gone[k];
    std::vector<Vec3> outline = outlineOf(mesh_, f);
    const auto own = mesh_.cornersOf(f);
    for (std::size_t i = 0; i < own.size(); ++i)
      if (std::ranges::binary_search(moved, own[i])) outline[i] = follow ? followed(outline[i] + by) : outline[i] + by;
    // Where corners fall together a face may vanish between its neighbours.
    outline = onLattice(outline);
    if (outline.size() < 3) continue;
    auto faces = shaped(outline, kindOf(f));
    if (!faces) return faces.problem();
    for (Face& face : faces.value()) change.made.push_back(std::move(face));
  }
  return apply(std::move(change));
}

Result<Work> Editor::pull(const Edge& edge, const Vec3& by, bool follow) const {
  if (edge.face == nav::kNoFace) return nothingPicked("edge");
  const auto [a, b] = endsOf(mesh_, edge);
  if (mesh_.acrossOf(edge.face)[edge.side] != nav::kNoFace)
    return Problem{ProblemCode::unusable, "There is ground on both sides of this edge.", placeText((a + b) * 0.5),
                   "an edge where the ground ends."};
  const auto moved = [&](const Vec3& p) { return follow ? followed(p + by) : p + by; };
  auto faces = shaped({b, a, moved(a), moved(b)}, kindOf(edge.face));
  if (!faces) return faces.problem();
  return apply({{}, std::move(faces.value())});
}

Result<Work> Editor::draw(std::vector<Vec3> outline, const std::string& kind) const {
  outline = onLattice(outline);
  if (planArea(outline) < 0) std::ranges::reverse(outline);
  auto faces = shaped(outline, kind.empty() && outline.size() > 2 ? kindUnder(meanOf(outline)) : kind);
  if (!faces) return faces.problem();
  return apply({{}, std::move(faces.value())});
}

Result<Work> Editor::splitEdge(const Edge& edge, double along) const {
  if (edge.face == nav::kNoFace) return nothingPicked("edge");
  if (!(along > 0 && along < 1))
    return Problem{ProblemCode::usage, "A new corner must lie between the ends of its edge.", {}, "a part between 0 and 1."};
  const auto [a, b] = endsOf(mesh_, edge);
  // On the very line where the lattice has a place there, so that both faces stay convex.
  const LatticePoint p = toLattice(plan(a)), q = toLattice(plan(b));
  const std::int64_t steps = std::max<std::int64_t>(1, std::gcd(q.u - p.u, q.v - p.v));
  const auto step = std::clamp<std::int64_t>(std::llround(along * static_cast<double>(steps)), 1, std::max<std::int64_t>(1, steps - 1));
  Vec3 at = glm::mix(a, b, along);
  if (const double exact = static_cast<double>(step) / static_cast<double>(steps);
      steps > 1 && std::abs(exact - along) * glm::distance(a, b) < 0.1)
    at = glm::mix(a, b, exact);
  at = onLattice(at);
  if (samePlace(at, a) || samePlace(at, b))
    return Problem{ProblemCode::unusable, "The edge is too short to be split there.", placeText(at), {}};
  Change change;
  const FaceId beyond = mesh_.acrossOf(edge.face)[edge.side];
  for (const FaceId f : {edge.face, beyond}) {
    if (f == nav::kNoFace) continue;
    std::vector<Vec3> outline = outlineOf(mesh_, f);
    for (std::size_t i = 0; i < outline.size(); ++i) {
      const Vec3 &from = outline[i], &to = outline[(i + 1) % outline.size()];
      if ((from != a || to != b) && (from != b || to != a)) continue;
      outline.insert(outline.begin() + static_cast<std::ptrdiff_t>(i) + 1, at);
      break;
    }
    auto faces = shaped(outline, kindOf(f));
    if (!faces) return faces.problem();
    change.gone.push_back(f);
    for (Face& face : faces.value()) change.made.push_back(std::move(face));
  }
  return apply(std::move(change));
}

Result<Work> Editor::splitAlong(std::span<const FaceId> faces, const Vec3& a, const Vec3& b) const {
  if (faces.empty()) return nothingPicked("face");
  if (!isFinite(a) || !isFinite(b) || glm::distance(plan(a), plan(b)) < 0.01)
    return Problem{ProblemCode::usage, "The line has no length.", {}, "two places that are farther apart."};
  Change change;
  for (const FaceId f : faces) {
    std::vector<Vec3> left = outlineOf(mesh_, f), right = left;
    clipByLine(left, plan(a), plan(b), true), clipByLine(right, plan(a), plan(b), false);
    if (left.size() < 3 || right.size() < 3) continue;
    auto one = shaped(left, kindOf(f)), other = shaped(right, kindOf(f));
    if (!one || !other) continue;  // only its rim lies beyond the line
    change.gone.push_back(f);
    for (auto* list : {&one.value(), &other.value()})
      for (Face& face : *list) change.made.push_back(std::move(face));
  }
  if (change.gone.empty())
    return Problem{ProblemCode::unusable, "The line crosses none of the picked faces.", placeText(a), "a line across them."};
  return apply(std::move(change));
}

Result<Work> Editor::join(std::span<const FaceId> faces) const {
  if (faces.size() < 2) return Problem{ProblemCode::usage, "Fewer than two faces are picked.", {}, "picking faces that lie side by side."};
  std::vector<std::vector<Vec3>> outlines;
  for (const FaceId f : faces) {
    if (mesh_.area[index(f)] != mesh_.area[index(faces[0])])
      return Problem{ProblemCode::unusable, "The picked faces are of several kinds of ground.", placeText(nav::middleOf(mesh_, f)),
                     "painting them first."};
    outlines.push_back(outlineOf(mesh_, f));
  }
  const std::vector<Vec3> around = outlineAround(outlines);
  if (around.empty())
    return Problem{ProblemCode::unusable, "The picked faces do not hang together, or there is a hole between them.",
                   placeText(nav::middleOf(mesh_, faces[0])), "faces that share edges."};
  auto joined = shaped(around, kindOf(faces[0]));
  if (!joined) return joined.problem();
  if (joined->size() >= faces.size())
    return Problem{ProblemCode::unusable, "Together they are not convex, and would fall into as many faces again.",
                   placeText(nav::middleOf(mesh_, faces[0])), "faces that are convex together."};
  return apply({{faces.begin(), faces.end()}, std::move(joined.value())});
}

Result<Work> Editor::strip(const Edge& from, const Edge& to) const {
  if (from.face == nav::kNoFace || to.face == nav::kNoFace || from == to)
    return Problem{ProblemCode::usage, "A strip needs two edges.", {}, "picking two edges."};
  const auto [a, b] = endsOf(mesh_, from);
  const auto [c, d] = endsOf(mesh_, to);
  // The sides of a strip do not cross: whichever way round the second edge runs.
  auto faces = shaped({b, a, d, c}, kindOf(from.face));
  if (!faces) faces = shaped({b, a, c, d}, kindOf(from.face));
  if (!faces) return faces.problem();
  return apply({{}, std::move(faces.value())});
}

Result<Work> Editor::paint(std::span<const FaceId> faces, const std::string& kind) const {
  if (faces.empty()) return nothingPicked("face");
  if (!kind.empty() && std::ranges::find(mesh_.kinds, kind, &nav::Kind::name) == mesh_.kinds.end())
    return Problem{ProblemCode::usage, "There is no kind of ground called " + kind + ".", {}, "one of the project's kinds."};
  Change change{{faces.begin(), faces.end()}, {}};
  for (const FaceId f : faces) change.made.push_back({outlineOf(mesh_, f), kind});
  return apply(std::move(change));
}

Result<Work> Editor::drape(std::span<const FaceId> faces) const {
  if (faces.empty()) return nothingPicked("face");
  Change change{{faces.begin(), faces.end()}, {}};
  for (std::size_t i = 0; i < faces.size(); ++i) {
    if (!goesOn(i, faces.size())) return Job::cancelledProblem();
    const FaceId f = faces[i];
    auto draped = drapedFaces(outlineOf(mesh_, f), levelAt_);
    if (!draped) return draped.problem();
    for (auto& shape : draped.value()) change.made.push_back({std::move(shape), kindOf(f)});
  }
  return apply(std::move(change));
}

Result<Work> Editor::part(std::span<const Edge> edges) const {
  if (edges.empty()) return nothingPicked("edge");
  Work work = work_;
  const std::vector<char> border = atBorder();
  for (const Edge& e : edges) {
    const auto there = std::ranges::find_if(work.parts, [&](const Part& p) { return p.oneWay && isOf(p, e); });
    if (there != work.parts.end())
      there->oneWay = false;
    else if (mesh_.acrossOf(e.face)[e.side] == nav::kNoFace)
      return nothingBeyond(endsOf(mesh_, e));
    else
      work.parts.push_back(partOf(e, false, border));
  }
  return work;
}

Result<Work> Editor::partOneWay(std::span<const Edge> edges) const {
  if (edges.empty()) return nothingPicked("edge");
  Work work = work_;
  const std::vector<char> border = atBorder();
  std::set<std::size_t> done;  // several edges may be of one part
  for (const Edge& e : edges) {
    const auto number =
        static_cast<std::size_t>(std::ranges::find_if(work_.parts, [&](const Part& p) { return isOf(p, e); }) - work_.parts.begin());
    if (number == work_.parts.size() && mesh_.acrossOf(e.face)[e.side] == nav::kNoFace) return nothingBeyond(endsOf(mesh_, e));
    if (number == work_.parts.size())
      work.parts.push_back(partOf(e, true, border));
    else if (done.insert(number).second)
      goOneWay(work.parts[number], e);
  }
  return work;
}

/// Out of the face of an edge of it, or where it does so already, the other way.
void Editor::goOneWay(Part& part, const Edge& edge) const {
  const auto [a, b] = endsOf(mesh_, edge);
  const bool outward = glm::dot(plan(part.to) - plan(part.from), plan(b) - plan(a)) > 0;
  if (part.oneWay || !outward) std::swap(part.from, part.to), std::swap(part.toBorder[0], part.toBorder[1]);
  part.oneWay = true;
}

/// Corners at which the ground ends, and is not only parted. O(corners).
std::vector<char> Editor::atBorder() const {
  std::vector<char> at(mesh_.vertices.size(), 0);
  for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) {
    const auto corners = mesh_.cornersOf(FaceId{f});
    for (std::uint32_t i = 0; i < corners.size(); ++i) {
      if (mesh_.acrossOf(FaceId{f})[i] != nav::kNoFace) continue;
      if (std::ranges::any_of(work_.parts, [&](const Part& p) { return isOf(p, {FaceId{f}, i}); })) continue;
      at[corners[i]] = at[corners[(i + 1) % corners.size()]] = 1;
    }
  }
  return at;
}

Part Editor::partOf(const Edge& edge, bool oneWay, const std::vector<char>& atBorder) const {
  const auto [a, b] = endsOf(mesh_, edge);
  const auto corners = mesh_.cornersOf(edge.face);
  return {{agent_}, a, b, oneWay, {atBorder[corners[edge.side]] != 0, atBorder[corners[(edge.side + 1) % corners.size()]] != 0}};
}

Result<Work> Editor::unpart(std::span<const Edge> edges) const {
  if (edges.empty()) return nothingPicked("edge");
  Work work = work_;
  for (const Edge& e : edges) std::erase_if(work.parts, [&](const Part& p) { return isOf(p, e); });
  if (work.parts.size() == work_.parts.size())
    return Problem{ProblemCode::unusable, "Nothing is parted there by hand.", {}, "an edge that was parted."};
  return work;
}

bool Editor::isOf(const Part& part, const Edge& edge) const {
  const auto [a, b] = endsOf(mesh_, edge);
  return part.isFor(agent_) && liesOn(part, (a + b) * 0.5, storeyHeight(mesh_.agent));
}

}  // namespace dune::hand
