#include "core/base/utf8.h"

#include <cstdint>

namespace dune {

namespace {

/// Bytes of the whole character at the begin of the text; 0 where there is none (Unicode 15, table 3-7: no overlong forms, no surrogates).
std::size_t characterSize(std::string_view text) {
  const auto at = [&](std::size_t i) { return i < text.size() ? static_cast<std::uint8_t>(text[i]) : std::uint8_t{0}; };
  const auto follows = [&](std::size_t i, std::uint8_t low = 0x80, std::uint8_t high = 0xBF) { return at(i) >= low && at(i) <= high; };
  const std::uint8_t first = at(0);
  if (first < 0x80) return 1;
  if (first >= 0xC2 && first <= 0xDF) return follows(1) ? 2 : 0;
  if (first >= 0xE0 && first <= 0xEF) {
    const std::uint8_t low = first == 0xE0 ? 0xA0 : 0x80, high = first == 0xED ? 0x9F : 0xBF;
    return follows(1, low, high) && follows(2) ? 3 : 0;
  }
  if (first >= 0xF0 && first <= 0xF4) {
    const std::uint8_t low = first == 0xF0 ? 0x90 : 0x80, high = first == 0xF4 ? 0x8F : 0xBF;
    return follows(1, low, high) && follows(2) && follows(3) ? 4 : 0;
  }
  return 0;
}

}  // namespace

bool isUtf8(std::string_view text) {
  while (!text.empty()) {
    const std::size_t size = characterSize(text);
    if (size == 0) return false;
    text.remove_prefix(size);
  }
  return true;
}

std::string asUtf8(std::string_view text) {
  std::string valid;
  while (!text.empty()) {
    const std::size_t size = characterSize(text);
    if (size > 0) {
      valid += text.substr(0, size);
    } else {
      const auto byte = static_cast<std::uint8_t>(text[0]);
      valid += static_cast<char>(0xC0 | byte >> 6);
      valid += static_cast<char>(0x80 | (byte & 0x3F));
    }
    text.remove_prefix(size > 0 ? size : 1);
  }
  return valid;
}

}  // namespace dune
