#pragma once
// Names of files as they are written in other files.

#include <cctype>
#include <string>

namespace dune::import {

/// A name in which a percent sign and two digits of sixteen stand for a character: "a%20b" for "a b".
inline std::string unescaped(const std::string& uri) {
  std::string name;
  auto digit = [&](std::size_t i) { return i < uri.size() && std::isxdigit(static_cast<unsigned char>(uri[i])) != 0; };
  for (std::size_t i = 0; i < uri.size(); ++i)
    if (uri[i] == '%' && digit(i + 1) && digit(i + 2))
      name += static_cast<char>(std::stoi(uri.substr(i + 1, 2), nullptr, 16)), i += 2;
    else
      name += uri[i];
  return name;
}

}  // namespace dune::import
