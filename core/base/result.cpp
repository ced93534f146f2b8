#include "core/base/result.h"

namespace dune {

std::string Problem::text() const {
  std::string line = where.empty() ? what : where + ": " + what;
  if (!advice.empty()) line += " Try: " + advice;
  return line;
}

Problem Problem::within(const std::string& context) const {
  Problem outer = *this;
  outer.where = where.empty() ? context : context + ", " + where;
  return outer;
}

int exitCode(ProblemCode code) {
  switch (code) {
    case ProblemCode::usage:
      return 2;
    case ProblemCode::cancelled:
      return 4;
    case ProblemCode::overLimit:
      return 5;
    default:
      return 3;
  }
}

}  // namespace dune
