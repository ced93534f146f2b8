#pragma once
// Sentences with numbers in them.

#include <cstdio>
#include <string>

namespace dune {

/// As std::printf does it, into a string.
template <class... Values>
std::string text(const char* format, Values... values) {
  const int size = std::snprintf(nullptr, 0, format, values...);
  std::string result(static_cast<std::size_t>(size > 0 ? size : 0), '\0');
  std::snprintf(result.data(), result.size() + 1, format, values...);
  return result;
}

}  // namespace dune
