#pragma once
// Reports in the form that build servers read as test results.

#include <string>
#include <vector>

namespace dune::exchange {

struct TestCase {
  std::string group, name;
  std::vector<std::string> failures;  ///< none: it passed
};

/// The XML document.
std::string junit(const std::string& suite, const std::vector<TestCase>& cases);

}  // namespace dune::exchange
