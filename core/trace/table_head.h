#pragma once
// The first lines of a recording as it is written, so that a person can say what its columns are.

#include "core/base/result.h"
#include "core/trace/column_names.h"
#include "core/trace/reading.h"

#include <array>
#include <vector>

namespace dune::trace {

struct TableHead {
  std::vector<std::string> names;              ///< of columns; of JSON lines the names of fields, "pos.x" for those within one
  std::vector<std::vector<std::string>> rows;  ///< some, as long as `names`
  /// The names of what cannot be left out and has no column yet: "t", "id" …
  std::vector<std::string> missing(const Reading& reading) const;
  /// The columns by name in one text, which is the same for recordings of one make.
  std::string make() const;
};
constexpr std::array<std::size_t, 5> kNeeded{kT, kId, kX, kY, kZ};

/// Nothing for our compact files, which say all themselves. Fails on files that cannot be read. O(length of some lines).
Result<std::optional<TableHead>> headOf(const std::string& path);
TableHead headOfText(std::string_view text);

}  // namespace dune::trace
