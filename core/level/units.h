#pragma once
// What a level file was probably made in, when it does not look like metres with Y up.

#include <optional>

#include "core/level/import.h"

namespace dune::level {

/// Another way to read a file, and what speaks for it. A guess: people decide.
struct UnitsGuess {
  ImportOptions read;
  std::string reason;  ///< one sentence with the numbers: "It is 6080 m wide …: in centimetres it would be 60.8 m wide."
};

/// Looks at a file as it was read with `read`: how wide it is, how high its objects are, and which way its largest flat surface faces.
/// Nothing where that looks like a level of metres with Y up, and for height maps and tile maps, which have neither units nor axes.
/// O(triangles).
std::optional<UnitsGuess> guessUnits(const Level& file, const std::string& path, const ImportOptions& read);

/// What reading as guessed changes: "Use centimetres, Z up".
std::string howToRead(const ImportOptions& now, const ImportOptions& guessed);

}  // namespace dune::level
