#include "core/base/text.h"

#include <locale.h>

namespace dune {

namespace {
locale_t plainLocale() {
  static const locale_t kPlain = newlocale(LC_NUMERIC_MASK, "C", duplocale(LC_GLOBAL_LOCALE));
  return kPlain;
}
}  // namespace

PlainNumbers::PlainNumbers() : before_(uselocale(plainLocale())) {}
PlainNumbers::~PlainNumbers() { uselocale(static_cast<locale_t>(before_)); }

}  // namespace dune
