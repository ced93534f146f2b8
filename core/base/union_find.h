#pragma once
// Sets of numbers that become one (Tarjan, "Efficiency of a good but not linear set union algorithm", J. ACM 1975, with path halving).

#include <algorithm>
#include <cstdint>
#include <numeric>
#include <vector>

namespace dune {

class UnionFind {
 public:
  explicit UnionFind(std::size_t n = 0) : parent_(n) { std::iota(parent_.begin(), parent_.end(), 0u); }

  std::size_t size() const { return parent_.size(); }
  /// The least number of the set. Nearly O(1) on average.
  std::uint32_t find(std::uint32_t i) {
    while (parent_[i] != i) i = parent_[i] = parent_[parent_[i]];
    return i;
  }
  /// Makes the sets of two numbers one.
  void unite(std::uint32_t a, std::uint32_t b) {
    a = find(a), b = find(b);
    parent_[std::max(a, b)] = std::min(a, b);
  }

 private:
  std::vector<std::uint32_t> parent_;
};

}  // namespace dune
