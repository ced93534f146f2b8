#pragma once
// Numbers that people set, each with the range in which it makes sense.

#include <optional>
#include <span>
#include <string>

#include "core/base/result.h"

namespace dune {

struct ValueRange {
  const char* name;  ///< "radius"
  double value, least, most;
  const char* unit;
};

/// The first value that is not finite or outside its range, said with the range; `where`: whose it is.
std::optional<Problem> outsideRange(std::span<const ValueRange> values, const std::string& where);
/// A number as people write it, with six digits that count.
std::string plainNumber(double value);

}  // namespace dune
