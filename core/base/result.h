#pragma once
// Errors that a user can cause are values.
//
// A Problem says what is wrong, where, why, and what to try. A Result<T> is a T or a Problem. Our own mistakes are
// asserts; a negative answer ("there is no path") is an ordinary result, not a Problem.

#include <cassert>
#include <optional>
#include <string>
#include <utility>
#include <variant>

namespace dune {

enum class ProblemCode {
  usage,       ///< a value makes no sense, whatever the files say
  unreadable,  ///< the file cannot be opened or read
  unwritable,  ///< the file cannot be written
  notOurs,     ///< the file is of another kind
  tooNew,      ///< the file was written by a later version
  damaged,     ///< the file's content contradicts itself
  unusable,    ///< the content is whole but cannot be used for what was asked
  cancelled,   ///< the person cancelled
  overLimit,   ///< a stated limit (memory) would be passed
};

struct Problem {
  ProblemCode code = ProblemCode::unusable;
  std::string what;    ///< one sentence: what is wrong
  std::string where;   ///< file and line, byte, or JSON path; for geometry the object and the point. May be empty
  std::string advice;  ///< what to try. May be empty

  /// The whole message on one line: "where: what Try: advice".
  std::string text() const;
  /// The same problem, seen from further out: "context" is put in front of `where`.
  Problem within(const std::string& context) const;
};

/// The exit code of the batch command for a problem of this kind (2, 3, 4 or 5).
int exitCode(ProblemCode code);

template <class T>
class [[nodiscard]] Result {
 public:
  Result(T value) : state_(std::move(value)) {}
  Result(Problem problem) : state_(std::move(problem)) {}

  bool ok() const { return std::holds_alternative<T>(state_); }
  explicit operator bool() const { return ok(); }
  const T& value() const& { return assert(ok()), std::get<T>(state_); }
  T& value() & { return assert(ok()), std::get<T>(state_); }
  T&& value() && { return assert(ok()), std::get<T>(std::move(state_)); }
  const T& operator*() const& { return value(); }
  T&& operator*() && { return std::move(*this).value(); }
  const T* operator->() const { return &value(); }
  T* operator->() { return &value(); }
  const Problem& problem() const { return assert(!ok()), std::get<Problem>(state_); }

 private:
  std::variant<T, Problem> state_;
};

struct Nothing {};
using Outcome = Result<Nothing>;

}  // namespace dune
