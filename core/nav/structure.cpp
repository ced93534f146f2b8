#include "core/nav/structure.h"

#include <algorithm>
#include <span>

#include "core/base/lattice.h"
#include "core/nav/pieces.h"

namespace dune::nav {

namespace {

constexpr double kFarthest = static_cast<double>(kLatticeMax) * kLatticeStep;  // metres from the origin, in plan and in height
constexpr double kLinkEnd = 0.1;                                               // metres that a link's end may be off its face
constexpr double kMostLinkCost = 1e9;

class Checker {
 public:
  Checker(const NavMesh& mesh, std::size_t most) : mesh_(mesh), most_(most) {}

  std::vector<std::string> run() {
    if (const auto wrong = arrays(); !wrong.empty()) return {wrong};
    if (const auto problem = checkAgent(mesh_.agent)) say(problem->where + ": " + problem->what);
    for (std::size_t v = 0; v < mesh_.vertices.size(); ++v)
      if (!near(mesh_.vertices[v])) return say("vertex " + std::to_string(v) + " is not a place within 65 km of the origin"), wrong_;
    neighbours();
    if (!wrong_.empty()) return wrong_;  // what follows walks over the faces
    for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) shape(FaceId{f});
    islands();
    for (const Link& link : mesh_.links) check(link);
    return wrong_;
  }

 private:
  void say(const std::string& what) {
    if (wrong_.size() < most_) wrong_.push_back(what);
  }
  void say(FaceId f, const std::string& what) { say("face " + std::to_string(index(f)) + ": " + what); }
  static bool near(const Vec3& p) {
    return isFinite(p) && std::abs(p.x) <= kFarthest && std::abs(p.y) <= kFarthest && std::abs(p.z) <= kFarthest;
  }

  /// Whether every number that is an index is one; the first that is not.
  std::string arrays() const {
    const auto& m = mesh_;
    if (m.start.empty() || m.start.front() != 0 || m.start.back() != m.corners.size() || m.across.size() != m.corners.size() ||
        m.area.size() != m.faceCount() || m.island.size() != m.faceCount() || (!m.tagged.empty() && m.tagged.size() != m.faceCount()))
      return "the arrays do not fit each other";
    if (m.tags.size() > kMostTags) return "there are more tags than " + std::to_string(kMostTags);
    const std::size_t n = m.faceCount();
    for (std::uint32_t f = 0; f < n; ++f) {
      const auto wrong = [f](const char* what) { return "face " + std::to_string(f) + ": " + what; };
      // Before the next corner is looked up: starts that go down again would leave the array.
      if (m.start[f + 1] < m.start[f] || m.start[f + 1] - m.start[f] < 3 || m.start[f + 1] > m.corners.size())
        return wrong("has fewer than three corners");
      if (m.area[f] >= m.kinds.size()) return wrong("has an area that is not in the list");
      if (m.tagsOf(FaceId{f}) >> m.tags.size() != 0) return wrong("has a tag that is not in the list");
      if (m.island[f] >= n) return wrong("has an island number that no mesh of this size has");
      for (const std::uint32_t v : m.cornersOf(FaceId{f}))
        if (v >= m.vertices.size()) return wrong("has a corner that is not in the list");
      for (const FaceId g : m.acrossOf(FaceId{f}))
        if (g != kNoFace && index(g) >= n) return wrong("has a neighbour that is not in the list");
    }
    for (const Link& l : m.links)
      if (index(l.fromFace) >= n || index(l.toFace) >= n || l.area < 0 || static_cast<std::size_t>(l.area) >= m.kinds.size() ||
          static_cast<std::size_t>(l.kind) >= kLinkKinds)
        return "link " + std::to_string(l.id) + " names a face, an area or a kind that is not in the list";
    return {};
  }

  /// Neighbours are mutual and share a whole edge. By way of all edges at once, in the order of where they begin and end, so that faces of
  /// very many corners cost no more.
  void neighbours() {
    struct Side {
      std::uint32_t to;
      FaceId face, across;
    };
    std::vector<std::uint32_t> first(mesh_.vertices.size() + 2, 0);  // of the edges that begin at each vertex
    eachEdge([&](FaceId, std::uint32_t a, std::uint32_t, FaceId g) { first[a + 2] += g != kNoFace; });
    for (std::size_t v = 2; v < first.size(); ++v) first[v] += first[v - 1];
    std::vector<Side> sides(first.back());
    eachEdge([&](FaceId f, std::uint32_t a, std::uint32_t b, FaceId g) {
      if (g != kNoFace) sides[first[a + 1]++] = {b, f, g};
    });
    for (std::size_t v = 0; v < mesh_.vertices.size(); ++v) {
      const std::span here(sides.data() + first[v], sides.data() + first[v + 1]);
      std::ranges::stable_sort(here, {}, &Side::to);
      for (std::size_t i = 1; i < here.size(); ++i)
        if (here[i].to == here[i - 1].to) say(here[i].face, "has an edge with a neighbour that another face has too");
    }
    eachEdge([&](FaceId f, std::uint32_t a, std::uint32_t b, FaceId g) {
      if (g == kNoFace) return;
      const std::span there(sides.data() + first[b], sides.data() + first[b + 1]);
      const auto back = std::ranges::lower_bound(there, a, {}, &Side::to);
      if (back == there.end() || back->to != a || back->face != g || back->across != f)
        say(f, "and its neighbour " + std::to_string(index(g)) + " do not share a whole edge");
    });
  }

  template <class Visit>
  void eachEdge(Visit&& visit) const {
    for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) {
      const auto corners = mesh_.cornersOf(FaceId{f});
      for (std::size_t i = 0; i < corners.size(); ++i)
        visit(FaceId{f}, corners[i], corners[(i + 1) % corners.size()], mesh_.acrossOf(FaceId{f})[i]);
    }
  }

  void shape(FaceId f) {
    corners_.clear();
    for (const std::uint32_t v : mesh_.cornersOf(f)) corners_.push_back(toLattice(plan(mesh_.vertices[v])));
    if (!isConvex(corners_)) say(f, "is not convex");
    if (!(faceArea(mesh_, f) > 0)) say(f, "has no area");
  }

  /// Faces that touch are of one island, and faces of one island hang together.
  void islands() {
    const Pieces pieces = piecesOf(mesh_, [](FaceId) { return true; });
    std::vector<std::uint32_t> nameOf(mesh_.faceCount(), 0xffffffffu), pieceOf(mesh_.faceCount(), 0xffffffffu);
    for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) {
      std::uint32_t &name = nameOf[pieces.of[f]], &piece = pieceOf[mesh_.island[f]];
      if (name == 0xffffffffu) name = mesh_.island[f];
      if (piece == 0xffffffffu) piece = pieces.of[f];
      if (name != mesh_.island[f] || piece != pieces.of[f])
        return say(FaceId{f}, "has another island number than the ground it hangs together with");
    }
  }

  void check(const Link& link) {
    const std::string name = "link " + std::to_string(link.id);
    if (!near(link.from) || !near(link.to)) return say(name + " has an end that is not a place within 65 km of the origin");
    for (const Vec3& end : {link.from + link.fromHalf, link.from - link.fromHalf, link.to + link.toHalf, link.to - link.toHalf})
      if (!near(end)) return say(name + " has a stretch that does not end within 65 km of the origin");
    if (!std::isfinite(link.cost) || link.cost < 0 || link.cost > kMostLinkCost)
      say(name + " has a cost that is not a number of zero or more");
    if (!std::isfinite(link.perMetre) || link.perMetre < 0 || link.perMetre > kMostLinkCost)
      say(name + " has a cost per metre that is not a number of zero or more");
    if (!std::isfinite(link.seconds) || link.seconds < 0 || link.seconds > kMostLinkCost)
      say(name + " has a time that is not a number of zero or more");
    if (!std::isfinite(link.radius) || link.radius < 0) say(name + " has a radius that is not a number of zero or more");
    const auto off = [&](FaceId f, const Vec3& p) { return glm::distance(nearestOnFace(mesh_, f, p), p); };
    if (off(link.fromFace, link.from) > kLinkEnd || off(link.toFace, link.to) > kLinkEnd) say(name + " has an end that is not on its face");
  }

  const NavMesh& mesh_;
  std::size_t most_;
  std::vector<std::string> wrong_;
  std::vector<LatticePoint> corners_;  // of one face
};

}  // namespace

std::vector<std::string> checkStructure(const NavMesh& mesh, std::size_t most) { return Checker(mesh, most).run(); }

}  // namespace dune::nav
