#include "core/exchange/junit.h"

#include <algorithm>
#include <pugixml.hpp>
#include <sstream>

namespace dune::exchange {

std::string junit(const std::string& suite, const std::vector<TestCase>& cases) {
  pugi::xml_document document;
  pugi::xml_node root = document.append_child("testsuites").append_child("testsuite");
  root.append_attribute("name") = suite.c_str();
  root.append_attribute("tests") = static_cast<unsigned>(cases.size());
  root.append_attribute("failures") =
      static_cast<unsigned>(std::ranges::count_if(cases, [](const TestCase& c) { return !c.failures.empty(); }));
  for (const TestCase& c : cases) {
    pugi::xml_node node = root.append_child("testcase");
    node.append_attribute("classname") = c.group.c_str();
    node.append_attribute("name") = c.name.c_str();
    for (const std::string& failure : c.failures) node.append_child("failure").append_attribute("message") = failure.c_str();
  }
  std::ostringstream out;
  document.save(out, " ");
  return out.str();
}

}  // namespace dune::exchange
