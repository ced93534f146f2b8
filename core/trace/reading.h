#pragma once
// How a recording is read where that cannot be told from it: which column is what, and the units and axes of its numbers.

#include <map>
#include <optional>
#include <string>
#include <string_view>

#include "core/base/vec.h"

namespace dune::trace {

struct Reading {
  std::map<std::size_t, std::string> columns{};  ///< names of columns, by what they are (column_names.h), that a person gave
  double scale = 1;                              ///< metres a unit
  bool zUp = false;                              ///< the third number is the height
  double seconds = 1;                            ///< a unit of time
  bool operator==(const Reading&) const = default;

  /// What a column of that name is: as a person said, else by its name.
  std::optional<std::size_t> columnOf(std::string_view name) const;
  /// A place or a direction as ours, in metres.
  Vec3 turned(const Vec3& v) const { return (zUp ? Vec3{v.x, v.z, -v.y} : v) * scale; }
};

/// "as centimetres, Z up, times in milliseconds"; "as it is" where nothing is another.
std::string wordsOf(const Reading& reading);

}  // namespace dune::trace
