#include "core/base/number_text.h"

#include <cmath>

namespace dune {

namespace {

void append(std::string& text, double x, std::chars_format format, int digits) {
  char buffer[400];  // the largest double has 309 digits before the point
  const auto end = std::to_chars(buffer, buffer + sizeof buffer, x == 0 ? 0.0 : x, format, digits).ptr;
  text.append(buffer, end);
}

}  // namespace

void appendFixed(std::string& text, double x, int digits) {
  const std::size_t before = text.size();
  append(text, x, std::chars_format::fixed, digits);
  // What rounds to nothing has no sign.
  if (text[before] == '-' && text.find_first_not_of("-0.", before) == std::string::npos) text.erase(before, 1);
}

void appendNumber(std::string& text, double x, int digits) { append(text, x, std::chars_format::general, digits); }

std::optional<double> numberFrom(std::string_view text) {
  double x = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), x);
  if (error != std::errc() || end != text.data() + text.size() || !std::isfinite(x)) return std::nullopt;
  return x;
}

}  // namespace dune
