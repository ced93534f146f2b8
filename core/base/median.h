#pragma once
// The middle one of some numbers.

#include <algorithm>
#include <vector>

namespace dune {

/// Of an even count the upper one of both; `none` where there are no numbers. O(count).
inline double medianOf(std::vector<double> numbers, double none = 0) {
  if (numbers.empty()) return none;
  const auto middle = numbers.begin() + static_cast<std::ptrdiff_t>(numbers.size() / 2);
  std::nth_element(numbers.begin(), middle, numbers.end());
  return *middle;
}

}  // namespace dune
