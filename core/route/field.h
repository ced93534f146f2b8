#pragma once
// A mesh prepared for queries under one agent's rules: which corners a path may bend at, where costs meet, what can be reached.

#include <memory>

#include "core/nav/rules.h"
#include "core/route/dead_ends.h"

namespace dune::route {

class Field {
 public:
  static constexpr double kPointSpacing = 0.25;  ///< metres between the places on an edge between costs where a path may bend

  /// Over a layout that other rules may share. O(corners). Links of the mesh are used as they are.
  Field(std::shared_ptr<const Layout> layout, nav::Rules rules);
  /// Over a mesh, to which it keeps a reference.
  Field(const nav::NavMesh& mesh, nav::Rules rules) : Field(std::make_shared<const Layout>(mesh), std::move(rules)) {}

  using LinkEnd = Layout::LinkEnd;

  const nav::NavMesh& mesh() const { return mesh_; }
  const std::shared_ptr<const Layout>& layout() const { return layout_; }
  const nav::Locator& locator() const { return layout_->locator(); }
  const nav::Rules& rules() const { return rules_; }
  bool passable(nav::FaceId f) const { return rules_.passable(mesh_, f); }
  /// Cost per metre of a face.
  double perMetre(nav::FaceId f) const { return rules_.of(mesh_, f).cost; }
  /// Cost of a link's flight, its own cost included.
  double costOf(const nav::Link& link) const {
    return link.cost + glm::distance(link.from, link.to) * rules_.of(static_cast<std::size_t>(link.area)).cost;
  }
  /// What it costs to go from one face on to another besides the way.
  double entryCost(nav::FaceId from, nav::FaceId to) const {
    return mesh_.area[index(from)] == mesh_.area[index(to)] ? 0 : rules_.of(mesh_, to).entryCost;
  }
  /// Whether two faces that may be walked on are not one ground to a path.
  bool differ(nav::FaceId f, nav::FaceId g) const {
    return mesh_.area[index(f)] != mesh_.area[index(g)] && (perMetre(f) != perMetre(g) || entryCost(f, g) > 0 || entryCost(g, f) > 0);
  }
  /// Whether a shortest path may bend at the vertex: the border of where one may walk stands out there, or costs meet.
  bool bends(std::uint32_t vertex) const { return bends_[vertex] != 0; }
  /// Whether the ground that may be walked on around the vertex hangs together there and is of one cost, so that whoever is at the vertex
  /// can go on into all of it.
  bool whole(std::uint32_t vertex) const { return borders_[vertex] <= 2; }
  /// Whether the two sides of the edge at a corner number cost differently, so that a path may bend anywhere on it.
  bool meets(std::uint32_t corner) const { return firstPoint_[corner + 1] > firstPoint_[corner]; }
  /// Points on the edge at a corner number where paths may bend between costs: the first number, and how many.
  std::uint32_t firstPoint(std::uint32_t corner) const { return firstPoint_[corner]; }
  std::uint32_t pointCount(std::uint32_t corner) const { return firstPoint_[corner + 1] - firstPoint_[corner]; }
  std::uint32_t allPoints() const { return firstPoint_.back(); }
  /// Whether a way to a goal may go from a face to the next one, or over a link: it leads nowhere else otherwise.
  bool leadsTo(nav::FaceId from, nav::FaceId to, nav::FaceId goal) const { return deadEnds_.leadsTo(from, to, goal); }
  /// Some of these the rules may not allow; see usable().
  std::span<const LinkEnd> linksFrom(nav::FaceId f) const { return layout_->linksFrom(f); }
  bool usable(const nav::Link& link) const { return rules_.allows(link); }
  /// The largest distance between two neighbouring points of an edge, metres.
  double widestSpacing() const { return widestSpacing_; }
  /// The dearest cost per metre of any kind that may be walked on, at least 1.
  double mostCost() const { return mostCost_; }
  /// The cheapest cost per metre of any kind of ground that occurs, at most 1.
  double leastCost() const { return leastCost_; }
  /// A cost that no way over this distance can be below. A best way goes through each face of the cheapest kind at most once,
  /// and straight, so it cannot save more than all of them together are wide.
  double leastCostOver(double distance) const { return std::max(distance * leastCost_, distance - mostSaved_); }
  /// How far, in plan, it is at least to ground or a link that costs less than 1 a metre; infinite without any.
  double toCheap(const Vec2& p) const;

  /// The faces that can be reached from a face over ground and links, forbidden ones left out.
  std::vector<char> reachable(nav::FaceId from) const;
  /// Whether one of them is `to`; at once where both lie in one piece of ground, else O(pieces that links join).
  bool reaches(nav::FaceId from, nav::FaceId to) const;

 private:
  std::shared_ptr<const Layout> layout_;
  const nav::NavMesh& mesh_;
  nav::Rules rules_;
  DeadEnds deadEnds_;
  std::vector<char> bends_;
  std::vector<std::uint8_t> borders_;  // edges of the border at each vertex; where costs meet, more than there can be
  std::vector<std::uint32_t> firstPoint_;
  double leastCost_ = 1, mostCost_ = 1, mostSaved_ = 0, widestSpacing_ = 0;
  std::vector<Box2> cheap_;  // around each piece of cheap ground, and each cheap link
  void findBends();
  void findSavings();
  void findCheap();
  void findPieces();

  static constexpr std::uint32_t kNoPiece = 0xffffffffu;
  std::vector<std::uint32_t> piece_;                 // one a face: which piece of ground that hangs together; none where it is forbidden
  std::vector<std::vector<std::uint32_t>> pieceTo_;  // one a piece: those that links lead to
};

}  // namespace dune::route
