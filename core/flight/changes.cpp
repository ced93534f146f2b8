#include "core/flight/changes.h"

#include <algorithm>

#define XXH_INLINE_ALL
#include "xxhash.h"

// Mostly one object of a level moves, and all others keep their order: then one pass over both lists tells.

namespace dune::flight {

namespace {

constexpr std::uint32_t kNone = 0xffffffffu;

struct Keyed {
  std::uint64_t key;
  std::uint32_t number;
  bool operator<(const Keyed& o) const { return key != o.key ? key < o.key : number < o.number; }
};

std::vector<Keyed> sorted(std::span<const Barrier> barriers) {
  std::vector<Keyed> list;
  list.reserve(barriers.size());
  for (const Barrier& b : barriers) list.push_back({XXH3_64bits(&b.corner, sizeof b.corner), static_cast<std::uint32_t>(list.size())});
  std::sort(list.begin(), list.end());
  return list;
}

/// One a triangle of `now`: the one before that it is; of several alike the first is the first.
std::vector<std::uint32_t> matched(std::span<const Barrier> before, std::span<const Barrier> now) {
  std::vector<std::uint32_t> of(now.size(), kNone);
  const std::vector<Keyed> old = sorted(before);
  std::size_t i = 0;
  for (const Keyed& n : sorted(now)) {
    while (i < old.size() && old[i].key < n.key) ++i;
    if (i < old.size() && old[i].key == n.key && before[old[i].number].corner == now[n.number].corner) of[n.number] = old[i++].number;
  }
  return of;
}

/// Leaves of the numbers a longest row that ascends, the others become none (Schensted 1961).
void keepAscending(std::vector<std::uint32_t>& of) {
  std::vector<std::uint32_t> last, before(of.size(), kNone);  // of each length the place where the least last one is
  for (std::uint32_t i = 0; i < of.size(); ++i) {
    if (of[i] == kNone) continue;
    const auto at = std::partition_point(last.begin(), last.end(), [&](std::uint32_t k) { return of[k] < of[i]; });
    if (at != last.begin()) before[i] = *std::prev(at);
    if (at == last.end())
      last.push_back(i);
    else
      *at = i;
  }
  std::vector<char> kept(of.size(), 0);
  for (std::uint32_t i = last.empty() ? kNone : last.back(); i != kNone; i = before[i]) kept[i] = 1;
  for (std::size_t i = 0; i < of.size(); ++i)
    if (!kept[i]) of[i] = kNone;
}

}  // namespace

Changes::Changes(std::span<const Barrier> before, std::span<const Barrier> now, std::vector<Box3> others) : boxes_(std::move(others)) {
  std::vector<std::uint32_t> of = matched(before, now);
  keepAscending(of);
  std::vector<char> still(before.size(), 0);
  for (std::size_t i = 0; i < of.size(); ++i) {
    if (of[i] == kNone)
      boxes_.push_back(boxOf(now[i].corner));
    else
      still[of[i]] = 1;
  }
  for (std::size_t i = 0; i < still.size(); ++i)
    if (!still[i]) boxes_.push_back(boxOf(before[i].corner));
  constexpr std::uint32_t kLeaf = 4;
  nodes_ = BoxNodes(boxes_, kLeaf);
}

bool Changes::touch(const Box3& box) const {
  return !nodes_.each([&](const Box3& b) { return b.overlaps(box); },
                      [&](std::uint32_t i) { return !boxes_[nodes_.order()[i]].overlaps(box); });
}

}  // namespace dune::flight
