#pragma once
// Sentences with numbers in them.

#include <clocale>
#include <cstdio>
#include <string>

namespace dune {

/// While it lives, this thread writes and reads numbers with a point, whatever the desktop's language.
class PlainNumbers {
 public:
  PlainNumbers();
  ~PlainNumbers();
  PlainNumbers(const PlainNumbers&) = delete;
  PlainNumbers& operator=(const PlainNumbers&) = delete;

 private:
  void* before_;
};

/// As std::printf does it in the C locale, into a string.
template <class... Values>
std::string text(const char* format, Values... values) {
  const PlainNumbers plain;
  const int size = std::snprintf(nullptr, 0, format, values...);
  std::string result(static_cast<std::size_t>(size > 0 ? size : 0), '\0');
  std::snprintf(result.data(), result.size() + 1, format, values...);
  return result;
}

/// What a library says is wrong, as a sentence and without the label that it puts before it: of "[label.501] a line is missing" it is
/// "A line is missing.".
std::string sentenceOf(const char* message);

}  // namespace dune
