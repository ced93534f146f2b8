#include "core/base/text.h"

#include <locale.h>

#include <cctype>

namespace dune {

namespace {
locale_t plainLocale() {
  static const locale_t kPlain = newlocale(LC_NUMERIC_MASK, "C", duplocale(LC_GLOBAL_LOCALE));
  return kPlain;
}
}  // namespace

PlainNumbers::PlainNumbers() : before_(uselocale(plainLocale())) {}
PlainNumbers::~PlainNumbers() { uselocale(static_cast<locale_t>(before_)); }

std::string sentenceOf(const char* message) {
  std::string sentence = message;
  if (sentence.starts_with('['))
    if (const auto end = sentence.find("] "); end != std::string::npos) sentence.erase(0, end + 2);
  if (sentence.empty()) return sentence;
  sentence[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(sentence[0])));
  if (sentence.back() != '.') sentence += '.';
  return sentence;
}

}  // namespace dune
