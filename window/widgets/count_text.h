#pragma once
// Large numbers in words of the window: in groups of three, the same everywhere.

#include <QLocale>
#include <QString>

namespace dune::window {

inline QString countText(std::size_t count) {
  constexpr char16_t kThinSpace = 0x2009;
  return QLocale(QLocale::English).toString(static_cast<qulonglong>(count)).replace(QLatin1Char(','), QChar(kThinSpace));
}

}  // namespace dune::window
