#pragma once
// How games name the columns of what they record.

#include <optional>
#include <string_view>

namespace dune::trace {

enum Column : std::size_t {
  kT,
  kId,
  kX,
  kY,
  kZ,
  kVx,
  kVy,
  kVz,
  kWx,
  kWy,
  kWz,
  kState,
  kFace,
  kRadius,
  kGoalX,
  kGoalY,
  kGoalZ,
  kGroup,
  kCount
};

/// As our own tables name it.
const char* columnName(std::size_t column);
/// The column that a name means, in any case and with or without quotes: "t", "Time", "pos_x".
std::optional<std::size_t> columnNamed(std::string_view name);

}  // namespace dune::trace
