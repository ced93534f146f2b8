#include "core/base/value_range.h"

#include <cmath>

#include "core/base/number_text.h"

namespace dune {

std::string plainNumber(double value) {
  std::string text;
  appendNumber(text, value, 6);
  return text;
}

std::optional<Problem> outsideRange(std::span<const ValueRange> values, const std::string& where) {
  for (const ValueRange& v : values) {
    if (std::isfinite(v.value) && v.value >= v.least && v.value <= v.most) continue;
    const std::string unit = std::string(" ") + v.unit;
    return Problem{ProblemCode::usage, std::string("The ") + v.name + " " + plainNumber(v.value) + unit + " makes no sense.", where,
                   "a value from " + plainNumber(v.least) + " to " + plainNumber(v.most) + unit + "."};
  }
  return std::nullopt;
}

}  // namespace dune
