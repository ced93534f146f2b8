#pragma once
// What findings of one kind have in common.

#include <map>
#include <string>

#include "core/base/text.h"

namespace dune::review {

/// Counts why something happened.
class Causes {
 public:
  void add(const std::string& why) { ++count_[why], ++all_; }
  /// What is said most often, and of how many where not of all: "30 of 40: The door is narrow."; empty without any.
  std::string sentence() const {
    const Counted* most = mostOften();
    if (!most) return {};
    return most->second == all_ ? most->first : text("%zu of %zu: ", most->second, all_) + most->first;
  }
  /// What is said most often; empty without any.
  std::string usual() const { return mostOften() ? mostOften()->first : std::string(); }

 private:
  using Counted = std::pair<const std::string, std::size_t>;
  const Counted* mostOften() const {
    const Counted* most = nullptr;
    for (const Counted& cause : count_)
      if (!most || cause.second > most->second) most = &cause;
    return most;
  }

  std::map<std::string, std::size_t> count_;
  std::size_t all_ = 0;
};

}  // namespace dune::review
