#pragma once
// Numbers in files, whatever the desktop's language: always a point, never a comma.

#include <charconv>
#include <optional>
#include <string>
#include <string_view>

namespace dune {

/// Appends a number with so many digits after the point; -0 is 0.
void appendFixed(std::string& text, double x, int digits);
/// Appends a number with so many digits that count, without an exponent where it has few.
void appendNumber(std::string& text, double x, int digits);
/// The finite number that the whole of the text is, or nothing.
std::optional<double> numberFrom(std::string_view text);

}  // namespace dune
