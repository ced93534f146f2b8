#pragma once
// What all that joins or changes convex faces asks of their loops. A loop's elements stand for corners, turning left.

#include <algorithm>
#include <cmath>
#include <functional>

#include "core/base/lattice.h"
#include "core/base/vec.h"

namespace dune::generate {

/// Whether all corners lie within `within` metres of the loop's mean plane (Newell's normal, independent of the corner it starts
/// from). `at(element)` is a corner's place. O(corners).
template <class Loop, class At>
bool nearlyFlat(const Loop& loop, At&& at, double within) {
  Vec3 normal{0}, centre{0};
  const Vec3 origin = at(loop[0]);
  for (std::size_t i = 0; i < loop.size(); ++i) {
    const Vec3 a = at(loop[i]) - origin, b = at(loop[(i + 1) % loop.size()]) - origin;
    normal += glm::cross(a, b);
    centre += a;
  }
  if (normal.y <= 0) return false;
  centre /= static_cast<double>(loop.size());
  return std::ranges::all_of(loop, [&](const auto& c) { return std::abs(glm::dot(at(c) - origin - centre, normal)) <= within * normal.y; });
}

/// 1 where the loop turns left at corner i, 0 where it is straight, -1 where it turns right; exact.
template <class Loop, class LatticeAt>
int turnAt(const Loop& loop, LatticeAt&& at, std::size_t i) {
  const std::size_t n = loop.size();
  return orientation(at(loop[(i + n - 1) % n]), at(loop[i]), at(loop[(i + 1) % n]));
}

/// Whether corner i is straight in plan and within `within` metres of the line between its neighbours in height.
template <class Loop, class LatticeAt, class At>
bool straightAt(const Loop& loop, LatticeAt&& lattice, At&& at, std::size_t i, double within) {
  if (turnAt(loop, lattice, i) != 0) return false;
  const std::size_t n = loop.size();
  const Vec3 a = at(loop[(i + n - 1) % n]), v = at(loop[i]), b = at(loop[(i + 1) % n]);
  const double part = glm::distance(plan(a), plan(v)) / glm::distance(plan(a), plan(b));
  return std::abs(glm::mix(a.y, b.y, part) - v.y) <= within;
}

/// The loop around two faces that share the edge a → b of `left` and all of the chain around it: empty where nothing would be left,
/// else it starts at the one end of that chain, and `joint` is where the other end lies. `vertex(element)` is a corner's number.
template <class Loop, class VertexOf>
Loop spliced(Loop left, Loop right, std::uint32_t a, std::uint32_t b, VertexOf&& vertex, std::size_t& joint) {
  std::rotate(left.begin(), std::ranges::find(left, b, vertex), left.end());     // left: b …, a
  std::rotate(right.begin(), std::ranges::find(right, a, vertex), right.end());  // right: a …, b
  auto twoLeft = [&] { return left.size() > 2 && right.size() > 2; };
  while (twoLeft() && std::invoke(vertex, left[1]) == std::invoke(vertex, right[right.size() - 2]))
    left.erase(left.begin()), right.pop_back();  // on beyond b
  while (twoLeft() && std::invoke(vertex, right[1]) == std::invoke(vertex, left[left.size() - 2]))
    right.erase(right.begin()), left.pop_back();  // and before a
  left.back() = right.front();                    // the way goes on along the right face from here
  joint = left.size() - 1;
  left.insert(left.end(), right.begin() + 1, right.end() - 1);
  if (left.size() < 3) left.clear();
  return left;
}

/// As above, but empty as well where the two faces together are not convex.
template <class Loop, class VertexOf, class LatticeAt>
Loop splicedConvex(const Loop& left, const Loop& right, std::uint32_t a, std::uint32_t b, VertexOf&& vertex, LatticeAt&& at) {
  std::size_t joint = 0;
  Loop whole = spliced(left, right, a, b, vertex, joint);
  if (!whole.empty() && (turnAt(whole, at, 0) < 0 || turnAt(whole, at, joint) < 0)) whole.clear();
  return whole;
}

}  // namespace dune::generate
