#pragma once
// "A shift at the depot": movement as a game would record it, made up, with a mistake in most of it.

#include <string>

namespace dune::demo {

constexpr char kShiftFile[] = "saltwind-shift.csv";
/// A table with t, id, x, y, z at 15 samples a second. Who does what wrong stands in its source.
std::string depotShift();

}  // namespace dune::demo
