#pragma once
// Text that comes from files may be anything; what leaves us is UTF-8.

#include <string>
#include <string_view>

namespace dune {

bool isUtf8(std::string_view text);
/// The text itself where it is UTF-8; else every byte that is no part of a whole character is read as Latin-1 (0xE9 is é), which is what
/// such files mean as a rule.
std::string asUtf8(std::string_view text);

}  // namespace dune
