#include "core/flight/changes.h"

#include <algorithm>
#include <cstring>
#include <numeric>

// Mostly one object of a level moves, and all others keep their order: then one pass over both lists tells.

namespace dune::flight {

namespace {

constexpr std::uint32_t kNone = 0xffffffffu;

std::uint64_t keyOf(const Corners& corners) {
  std::uint64_t key = 1;
  for (const Vec3& p : corners)
    for (int i = 0; i < 3; ++i) {
      std::uint64_t bits;
      std::memcpy(&bits, &p[i], sizeof bits);
      key ^= bits + 0x9e3779b97f4a7c15ull + (key << 6) + (key >> 2);
      key = (key ^ key >> 31) * 0xbf58476d1ce4e5b9ull;
    }
  return key;
}

struct Keyed {
  std::uint64_t key;
  std::uint32_t number;
  bool operator<(const Keyed& o) const { return key != o.key ? key < o.key : number < o.number; }
};

std::vector<Keyed> sorted(std::span<const Barrier> barriers) {
  std::vector<Keyed> list;
  list.reserve(barriers.size());
  for (const Barrier& b : barriers) list.push_back({keyOf(b.corner), static_cast<std::uint32_t>(list.size())});
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

Box3 boxAround(const Corners& corners) {
  Box3 box;
  for (const Vec3& p : corners) box.add(p);
  return box;
}

}  // namespace

Changes::Changes(std::span<const Barrier> before, std::span<const Barrier> now, std::vector<Box3> others) : boxes_(std::move(others)) {
  std::vector<std::uint32_t> of = matched(before, now);
  keepAscending(of);
  std::vector<char> still(before.size(), 0);
  for (std::size_t i = 0; i < of.size(); ++i) {
    if (of[i] == kNone)
      boxes_.push_back(boxAround(now[i].corner));
    else
      still[of[i]] = 1;
  }
  for (std::size_t i = 0; i < still.size(); ++i)
    if (!still[i]) boxes_.push_back(boxAround(before[i].corner));
  constexpr std::uint32_t kLeaf = 4;
  nodes_ = BoxNodes(boxes_, kLeaf);
}

bool Changes::touch(const Box3& box) const {
  return !nodes_.each([&](const Box3& b) { return b.overlaps(box); },
                      [&](std::uint32_t i) { return !boxes_[nodes_.order()[i]].overlaps(box); });
}

}  // namespace dune::flight
