#include "core/route/bend_table.h"

#include <algorithm>
#include <limits>
#include <queue>

#include "core/base/parallel.h"

namespace dune::route {

BendTable::BendTable(const BendSight& sight, bool fits, Job& job) : bends_(sight.bends()) {
  if (!fits || !sight.all()) return;
  join(sight);
  const std::size_t count = bends_.size();
  length_.resize(count * count), before_.resize(count * count);
  complete_ = parallelFor(job, count, [&](std::size_t b) {
    fillRow(static_cast<std::uint32_t>(b), std::span(length_).subspan(b * count, count), std::span(before_).subspan(b * count, count));
  });
}

/// At each corner of the ground, and at the foot of each link, those that see it.
void BendTable::join(const BendSight& sight) {
  const Facets& facets = sight.facets();
  std::vector<std::vector<Join>> from(bends_.size());
  std::vector<SeenBend> seen;
  std::vector<Facet> around;
  const auto add = [&](std::uint32_t to, double more, auto&& turns) {
    for (const SeenBend& s : seen)
      if (s.bend != to && turns(s.sight)) from[s.bend].push_back({to, s.sight, s.length + more});
  };
  for (std::uint32_t b = 0; b < bends_.size(); ++b) {
    const Bend& bend = bends_[b];
    seen.clear();
    if (bend.link != nullptr) {
      facets.around(bend.link->facet, bend.to, around);
      for (const Facet& t : around) sight.see(t, bend.to, true, seen);
      add(b, bend.link->length, [](std::uint32_t) { return true; });
      continue;
    }
    FacetPart at = bend.corner;
    do {
      seen.clear();
      sight.see(at.facet, bend.to, true, seen);
      add(b, 0, [&](std::uint32_t s) { return sight.turns(s, at); });
      at = facets.leftOf(at);
    } while (at.facet.valid() && at.facet != bend.corner.facet);
  }
  first_.assign(1, 0);
  for (std::vector<Join>& list : from) {
    std::ranges::sort(list, std::less(), [](const Join& j) { return std::tuple(j.to, j.length, j.sight); });
    list.erase(std::ranges::unique(list, {}, &Join::to).begin(), list.end());
    joins_.insert(joins_.end(), list.begin(), list.end());
    first_.push_back(static_cast<std::uint32_t>(joins_.size()));
  }
}

/// How far it is from one bend to all.
void BendTable::fillRow(std::uint32_t from, std::span<float> length, std::span<std::uint16_t> before) const {
  std::vector<double> least(bends_.size(), std::numeric_limits<double>::infinity());
  using Next = std::pair<double, std::uint32_t>;
  std::priority_queue<Next, std::vector<Next>, std::greater<>> next;
  least[from] = 0, before[from] = static_cast<std::uint16_t>(from);
  next.emplace(0, from);
  while (!next.empty()) {
    const auto [g, b] = next.top();
    next.pop();
    if (g > least[b]) continue;
    for (std::uint32_t i = first_[b]; i < first_[b + 1]; ++i) {
      const Join& onward = joins_[i];
      if (g + onward.length >= least[onward.to]) continue;
      least[onward.to] = g + onward.length, before[onward.to] = static_cast<std::uint16_t>(b);
      next.emplace(least[onward.to], onward.to);
    }
  }
  std::ranges::transform(least, length.begin(), [](double l) { return static_cast<float>(l); });
}

BendTable::Between BendTable::best(const Vec3& start, std::vector<SeenBend>& first, const Vec3& goal, std::vector<SeenBend>& last) const {
  // Links may be shorter than the crow flies.
  const bool flies = bends_.empty() || bends_.back().link == nullptr;
  for (SeenBend& s : first) s.least = s.length + (flies ? glm::distance(bends_[s.bend].from, goal) : 0);
  for (SeenBend& s : last) s.least = s.length + (flies ? glm::distance(bends_[s.bend].to, start) : 0);
  Between best{std::numeric_limits<double>::infinity(), {}, {}};
  const auto from = [&](const SeenBend& a) {
    for (const SeenBend& b : last) {
      const double length = a.length + static_cast<double>(length_[at(a.bend, b.bend)]) + b.length;
      if (length < best.length) best = {length, a, b};
    }
  };
  const auto mayBeBest = [&](const SeenBend& s) { return s.least < best.length; };
  if (const auto a = std::ranges::min_element(first, {}, &SeenBend::least); a != first.end()) from(*a);
  std::erase_if(last, [&](const SeenBend& b) { return !mayBeBest(b); });
  for (const SeenBend& a : first)
    if (mayBeBest(a)) from(a);
  return best;
}

void BendTable::between(std::uint32_t first, std::uint32_t last, std::vector<Step>& steps) const {
  const auto from = static_cast<std::ptrdiff_t>(steps.size());
  for (std::uint32_t b = last; b != first;) {
    const std::uint32_t before = before_[at(first, b)];
    const auto all = std::span(joins_).subspan(first_[before], first_[before + 1] - first_[before]);
    steps.push_back({b, std::ranges::lower_bound(all, b, {}, &Join::to)->sight});
    b = before;
  }
  steps.push_back({first, kNoSight});
  std::reverse(steps.begin() + from, steps.end());
}

}  // namespace dune::route
