#pragma once
// Simple ground prepared for searches under one agent's rules: which corners a path may bend at, where costs meet, what leads nowhere.

#include <algorithm>

#include "core/route/dead_ends.h"
#include "core/route/simple_ground.h"

namespace dune::route {

class SearchGround {
 public:
  /// `bendSpacing`: metres at most between the places on an edge between costs where a path may bend. O(corners). Keeps a reference to the
  /// rules.
  SearchGround(SimpleGround simple, const nav::Rules& rules, double bendSpacing);
  SearchGround(const SearchGround&) = delete;
  SearchGround& operator=(const SearchGround&) = delete;

  using LinkEnd = Adjacency::LinkEnd;

  const SimpleGround& simple() const { return simple_; }
  const nav::NavMesh& mesh() const { return simple_.mesh; }
  /// Cost per metre of a face.
  double perMetre(nav::FaceId f) const { return rules_.of(mesh(), f).cost; }
  /// Cost of a link's flight, its own cost included.
  double costOf(const nav::Link& link) const { return rules_.costOf(link); }
  /// Cost per metre of it.
  double perMetre(const nav::Link& link) const { return rules_.perMetre(link); }
  /// What it costs to go from one face on to another besides the way.
  double entryCost(nav::FaceId from, nav::FaceId to) const { return rules_.entryCost(mesh(), from, to); }
  /// Whether two faces are not one ground to a path.
  bool differ(nav::FaceId f, nav::FaceId g) const { return mesh().area[index(f)] != mesh().area[index(g)]; }
  /// Whether a shortest path may bend at the vertex: the border of where one may walk stands out there, or costs meet.
  bool bends(std::uint32_t vertex) const { return bends_[vertex] != 0; }
  /// Whether the ground that may be walked on around the vertex hangs together there and is of one cost, so that whoever is at the vertex
  /// can go on into all of it.
  bool whole(std::uint32_t vertex) const { return borders_[vertex] <= 2; }
  /// Whether the two sides of the edge at a corner number cost differently, so that a path may bend anywhere on it.
  bool meets(std::uint32_t corner) const { return firstPoint_[corner + 1] > firstPoint_[corner]; }
  /// Where a way may bend: the vertex at a corner number, on the ground of one cost that the corner's face is part of. Who is there on
  /// other ground has yet to pay to enter this.
  std::uint32_t spot(std::uint32_t corner) const { return spot_[corner]; }
  std::uint32_t spotCount() const { return spots_; }
  /// Points on the edge at a corner number where paths may bend between costs: the first number, and how many.
  std::uint32_t firstPoint(std::uint32_t corner) const { return firstPoint_[corner]; }
  std::uint32_t pointCount(std::uint32_t corner) const { return firstPoint_[corner + 1] - firstPoint_[corner]; }
  std::uint32_t allPoints() const { return firstPoint_.back(); }
  /// Of the edge at a corner number: its number in the face beyond.
  std::uint32_t edgeBeyond(std::uint32_t corner) const { return adjacency_.edgeBeyond(corner); }
  /// Whether a way to a goal may go from a face to the next one, or over a link: it leads nowhere else otherwise.
  bool leadsTo(nav::FaceId from, nav::FaceId to, nav::FaceId goal) const { return deadEnds_.leadsTo(from, to, goal); }
  /// Some of these the rules may not allow; see usable().
  std::span<const LinkEnd> linksFrom(nav::FaceId f) const { return adjacency_.linksFrom(f); }
  std::span<const LinkEnd> linksInto(nav::FaceId f) const { return adjacency_.linksInto(f); }
  /// The gates by which one leaves over the edge at a corner number; `towards`: by which one comes in over it, reversed.
  std::span<const Gate> gates(std::uint32_t corner, bool towards) const {
    const std::vector<Gate>& all = towards ? gatesIn_ : gatesOut_;
    const auto from = std::ranges::lower_bound(all, corner, {}, &Gate::out);
    return {from, std::find_if(from, all.end(), [corner](const Gate& g) { return g.out != corner; })};
  }
  bool usable(const nav::Link& link) const { return rules_.allows(link); }
  /// The largest distance between two neighbouring points of an edge, metres.
  double widestSpacing() const { return widestSpacing_; }
  /// The least cost per metre of any kind or link, at most 1.
  double leastCost() const { return leastCost_; }
  /// The dearest cost per metre of any kind that may be walked on, at least 1.
  double mostCost() const { return mostCost_; }
  /// A cost that no way over this distance can be below. A best way goes through each face of the cheapest kind at most once,
  /// and straight, so it cannot save more than all of them together are wide.
  double leastCostOver(double distance) const { return std::max(distance * leastCost_, distance - mostSaved_); }
  /// How far, in plan, it is at least to ground or a link that costs less than 1 a metre; infinite without any.
  double toCheap(const Vec2& p) const;

 private:
  SimpleGround simple_;
  const nav::Rules& rules_;
  Adjacency adjacency_;
  DeadEnds deadEnds_;
  std::vector<char> bends_;
  std::vector<std::uint8_t> borders_;  // edges of the border at each vertex; where costs meet, more than there can be
  std::vector<std::uint32_t> firstPoint_, spot_;
  std::uint32_t spots_ = 0;
  double bendSpacing_;
  double leastCost_ = 1, mostCost_ = 1, mostSaved_ = 0, widestSpacing_ = 0;
  std::vector<Gate> gatesOut_, gatesIn_;  // by the corner by which one leaves
  std::vector<Box2> cheap_;               // around each piece of cheap ground, and each cheap link
  void findBends();
  void findSpots();
  void findSavings();
  void findCheap();
};

}  // namespace dune::route
