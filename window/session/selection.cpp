#include "window/session/selection.h"

#include <charconv>

namespace dune::window {

void Selection::set(ThingKind kind, std::set<std::string> keys) {
  if (!keys.empty()) last_ = kind;
  if (keys.empty() && last_ == kind) last_.reset();
  if (all(kind) == keys) return;
  ++changes_, keys_[kind] = std::move(keys);
  bulletin_.add(Topic::selection);
}

void Selection::toggle(const Thing& thing) {
  std::set<std::string> keys = all(thing.kind);
  if (!keys.erase(thing.key)) keys.insert(thing.key);
  set(thing.kind, std::move(keys));
}

void Selection::drop() {
  ++changes_, keys_.clear(), last_.reset();
  bulletin_.add(Topic::selection);
}

const std::set<std::string>& Selection::all(ThingKind kind) const {
  static const std::set<std::string> kNone;
  const auto found = keys_.find(kind);
  return found == keys_.end() ? kNone : found->second;
}

std::string Selection::one(ThingKind kind) const {
  const auto& keys = all(kind);
  return keys.size() == 1 ? *keys.begin() : std::string();
}

int Selection::id(ThingKind kind) const {
  const std::string key = one(kind);
  int id = -1;
  const auto [end, error] = std::from_chars(key.data(), key.data() + key.size(), id);
  return error == std::errc() && end == key.data() + key.size() ? id : -1;
}

}  // namespace dune::window
