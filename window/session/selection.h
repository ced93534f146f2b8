#pragma once
// What is chosen, in lists and in the world alike. Of every kind of thing something can be chosen; what was chosen last is what Delete
// takes away.

#include <map>
#include <optional>
#include <set>

#include "window/scene/thing.h"
#include "window/session/bulletin.h"

namespace dune::window {

class Selection {
 public:
  explicit Selection(Bulletin& bulletin) : bulletin_(bulletin) {}

  /// Chooses one thing, and no other of its kind.
  void choose(const Thing& thing) { set(thing.kind, {thing.key}); }
  void choose(ThingKind kind, int id) { choose(thing(kind, id)); }
  /// Adds it to what is chosen of its kind, or takes it out.
  void toggle(const Thing& thing);
  void set(ThingKind kind, std::set<std::string> keys);
  void clear(ThingKind kind) { set(kind, {}); }
  void drop();

  const std::set<std::string>& all(ThingKind kind) const;
  bool has(const Thing& thing) const { return all(thing.kind).contains(thing.key); }
  /// The key of the one thing of its kind that is chosen; empty when none or several are.
  std::string one(ThingKind kind) const;
  /// The same of things that go by number; -1 when none or several are.
  int id(ThingKind kind) const;
  /// The kind of which something was chosen last.
  std::optional<ThingKind> last() const { return last_; }
  /// Rises with every change.
  std::size_t changes() const { return changes_; }

 private:
  Bulletin& bulletin_;
  std::map<ThingKind, std::set<std::string>> keys_;
  std::optional<ThingKind> last_;
  std::size_t changes_ = 1;
};

}  // namespace dune::window
