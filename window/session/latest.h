#pragma once
// The one shape of results in a session: the value, which remembers what it was made from, and one way to ask whether it is fresh.

#include "core/pipeline/answers.h"
#include "core/pipeline/change.h"
#include "core/pipeline/crowd_run.h"

namespace dune::window {

/// What a result would be made from now.
struct Now {
  const project::Project& project;
  std::size_t agent = 0;  ///< of the project
  const generate::Scope& scope;
  std::shared_ptr<const level::Level> level;       ///< as it was read
  std::shared_ptr<const pipeline::Ground> ground;  ///< the last one of the agent
};

// Whether a result made now would be the same.
bool holds(const pipeline::Ground& ground, const Now& now);
bool holds(const pipeline::Run& run, const Now& now);
bool holds(const pipeline::Answers& answers, const Now& now);

template <class Value>
class Latest {
 public:
  Latest() = default;
  Latest(std::shared_ptr<const Value> value) : value_(std::move(value)) {}
  const std::shared_ptr<const Value>& value() const { return value_; }
  const Value* operator->() const { return value_.get(); }
  explicit operator bool() const { return value_ != nullptr; }
  bool fresh(const Now& now) const { return value_ && holds(*value_, now); }
  void reset() { value_.reset(); }

 private:
  std::shared_ptr<const Value> value_;
};

}  // namespace dune::window
