#pragma once
// Keeps two storeys of one sheet apart in plan: their borders are simplified, and those a sliver apart would cross.

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <vector>

#include "core/base/vec.h"

namespace dune::generate {

/// The squares of the plan that edges of a sheet's cells go through, and how high. One sheet after the other uses the same.
class SheetSquares {
 public:
  static constexpr double kSquare = 0.15;  // m

  SheetSquares(const Vec2& low, const Vec2& high)
      : low_(low), columns_(1 + squares(high.x - low.x)), taken_(columns_ * (1 + squares(high.y - low.y))) {}

  /// Whether nothing else of the sheet comes near to a cell at a height that differs by more than `apart`; if so the cell is taken into it.
  /// O(length of its edges).
  bool take(const std::array<Vec2, 3>& corners, const std::array<double, 3>& y, std::int32_t sheet, double apart) {
    const auto isFree = [&](std::size_t square, double at) {
      for (const std::size_t row : {square - columns_, square, square + columns_})
        for (const std::size_t k : {row - 1, row, row + 1})
          if (k < taken_.size() && taken_[k].sheet == sheet && std::abs(taken_[k].y - at) > apart) return false;
      return true;
    };
    if (!along(corners, y, isFree)) return false;
    return along(corners, y, [&](std::size_t square, double at) { return taken_[square] = {sheet, at}, true; });
  }

 private:
  struct Taken {
    std::int32_t sheet = -1;
    double y = 0;
  };

  static std::size_t squares(double length) { return static_cast<std::size_t>(length / kSquare) + 2; }

  template <class Visit>
  bool along(const std::array<Vec2, 3>& corners, const std::array<double, 3>& y, Visit&& visit) const {
    constexpr double kEvery = 0.1;  // m
    for (std::size_t i = 0; i < 3; ++i) {
      const std::size_t next = (i + 1) % 3;
      const int parts = 1 + static_cast<int>(glm::distance(corners[i], corners[next]) / kEvery);
      for (int part = 0; part < parts; ++part) {
        const double t = static_cast<double>(part) / parts;
        const Vec2 at = (glm::mix(corners[i], corners[next], t) - low_) / kSquare + 1.0;
        if (!visit(static_cast<std::size_t>(at.y) * columns_ + static_cast<std::size_t>(at.x), glm::mix(y[i], y[next], t))) return false;
      }
    }
    return true;
  }

  Vec2 low_;
  std::size_t columns_;
  std::vector<Taken> taken_;
};

}  // namespace dune::generate
