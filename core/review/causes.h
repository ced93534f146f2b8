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
  /// What is said most often, and how often: "30 of 40: The door is narrow."; empty without any.
  std::string sentence() const {
    const std::pair<const std::string, std::size_t>* most = nullptr;
    for (const auto& cause : count_)
      if (!most || cause.second > most->second) most = &cause;
    return most ? text("%zu of %zu: ", most->second, all_) + most->first : std::string();
  }

 private:
  std::map<std::string, std::size_t> count_;
  std::size_t all_ = 0;
};

}  // namespace dune::review
