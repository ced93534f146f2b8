#pragma once
// A constrained Delaunay triangulation on the plan lattice.
//
// 1. Signs are exact; every triangle turns left and has area.
// 2. Constraints that cross are split at their crossing rounded to the lattice, so a constraint may bend by up to one
//    lattice step (1 mm) there; apart from that every constraint is a chain of edges.
// 3. Without crossing an edge that is fixed, no corner lies inside the circle of another triangle.
// 4. The same input in the same order gives the same triangulation.
//
// Insertion is Lawson's (flips after each point); constraints go in by flipping the edges that they cross (Sloan 1993).
// Expected O(n log n) with points inserted in spatial order, which insertSorted does.

#include <array>
#include <span>
#include <vector>

#include "core/base/job.h"
#include "core/base/lattice.h"

namespace dune::generate {

class Triangulation {
 public:
  static constexpr std::int32_t kOutside = -1;

  struct Triangle {
    std::array<std::uint32_t, 3> v;     ///< corners, turning left
    std::array<std::int32_t, 3> n;      ///< the triangle across the edge v[i] → v[i + 1], or kOutside
    std::array<std::uint8_t, 3> fixed;  ///< mask of the constraints on that edge, 0 when free
  };

  /// An empty rectangle as two triangles; every point inserted later must lie inside it.
  Triangulation(const LatticePoint& min, const LatticePoint& max);

  /// An empty rectangle around some points, a metre beyond them.
  static Triangulation around(std::span<const LatticePoint> points);

  /// The corner at p, new or there already.
  std::uint32_t insert(const LatticePoint& p);
  /// Inserts all points, in an order that keeps searches short. False when cancelled.
  bool insertSorted(std::vector<LatticePoint> points, Job& job);
  /// Makes ab a chain of fixed edges and adds `mask` to them.
  void constrain(const LatticePoint& a, const LatticePoint& b, std::uint8_t mask);
  /// A triangle that holds p, border included. Starts at `hint`.
  std::int32_t locate(const LatticePoint& p, std::int32_t hint = 0) const;

  const std::vector<Triangle>& triangles() const { return triangles_; }
  const std::vector<LatticePoint>& points() const { return points_; }
  const LatticePoint& corner(std::int32_t t, int i) const { return points_[at(t).v[static_cast<std::size_t>(i % 3)]]; }

 private:
  struct Wanted {
    std::uint32_t a, b;
    std::uint8_t mask;
  };
  struct Edge {
    std::int32_t t;
    int e;
  };

  Triangle& at(std::int32_t t) { return triangles_[static_cast<std::size_t>(t)]; }
  const Triangle& at(std::int32_t t) const { return triangles_[static_cast<std::size_t>(t)]; }
  int indexOf(std::int32_t t, std::uint32_t vertex) const;
  int edgeTo(std::int32_t t, std::int32_t neighbour) const;
  void replaceNeighbour(std::int32_t t, std::int32_t from, std::int32_t to);
  std::uint32_t splitTriangle(std::int32_t t, const LatticePoint& p);
  std::uint32_t splitEdge(std::int32_t t, int e, const LatticePoint& p);
  void flip(std::int32_t t, int e);
  void legalise(std::vector<Edge> stack);
  void settle(std::vector<std::array<std::uint32_t, 2>> edges);
  bool violates(std::int32_t t, int e) const;
  Edge findEdge(std::uint32_t a, std::uint32_t b) const;
  template <class Visit>
  void eachAround(std::uint32_t vertex, Visit&& visit) const;
  void fix(std::uint32_t a, std::uint32_t b, std::uint8_t mask);
  std::uint8_t release(std::uint32_t a, std::uint32_t b);
  void constrainOne(const Wanted& wanted, std::vector<Wanted>& more);
  void flipAway(std::uint32_t a, std::uint32_t b, std::vector<std::array<std::uint32_t, 2>> crossed);

  std::vector<LatticePoint> points_;
  std::vector<Triangle> triangles_;
  std::vector<std::int32_t> touching_;  // a triangle at each corner
  mutable std::int32_t last_ = 0;       // where the last insertion was
};

}  // namespace dune::generate
