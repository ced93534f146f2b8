#include "core/route/bend_table.h"

#include <algorithm>
#include <limits>
#include <queue>

#include "core/base/parallel.h"

namespace dune::route {

BendTable::BendTable(const BendSight& sight, bool fits, Job& job) : bends_(sight.bends()) {
  if (!fits || !sight.all() || !join(sight, job)) return;
  const std::size_t count = bends_.size();
  length_.resize(count * count), before_.resize(count * count);
  complete_ = parallelFor(job, count, [&](std::size_t b) {
    fillRow(static_cast<std::uint32_t>(b), std::span(length_).subspan(b * count, count), std::span(before_).subspan(b * count, count));
  });
}

/// The bends from which one comes straight to a corner, or to the foot of a link, with how far it is until one is there.
std::vector<SeenBend> BendTable::comingTo(const BendSight& sight, std::uint32_t number) const {
  const Bend& bend = bends_[number];
  const Facets& facets = sight.facets();
  std::vector<SeenBend> all, seen;
  const auto add = [&](const Facet& t, auto&& turns) {
    seen.clear();
    sight.see(t, bend.to, true, seen);
    std::ranges::copy_if(seen, std::back_inserter(all), [&](const SeenBend& s) { return s.bend != number && turns(s.sight); });
  };
  if (bend.link != nullptr) {
    std::vector<Facet> around;
    facets.around(bend.link->facet, bend.to, around);
    for (const Facet& t : around) add(t, [](std::uint32_t) { return true; });
    for (SeenBend& s : all) s.length += bend.link->length;
  } else {
    facets.eachAround(bend.corner, [&](const FacetPart& at) { add(at.facet, [&](std::uint32_t s) { return sight.turns(s, at); }); });
  }
  std::ranges::sort(all, std::less(), [](const SeenBend& s) { return std::tuple(s.bend, s.length, s.sight); });
  all.erase(std::ranges::unique(all, {}, &SeenBend::bend).begin(), all.end());
  return all;
}

/// False when the job was cancelled.
bool BendTable::join(const BendSight& sight, Job& job) {
  const std::size_t count = bends_.size();
  std::vector<std::vector<SeenBend>> to(count);
  if (!parallelFor(job, count, [&](std::size_t b) { to[b] = comingTo(sight, static_cast<std::uint32_t>(b)); })) return false;
  first_.assign(count + 1, 0);
  for (const auto& list : to)
    for (const SeenBend& s : list) ++first_[s.bend + 1];
  for (std::size_t b = 0; b < count; ++b) first_[b + 1] += first_[b];
  joins_.resize(first_.back());
  std::vector<std::uint32_t> free(first_.begin(), first_.end() - 1);
  for (std::uint32_t b = 0; b < count; ++b)
    for (const SeenBend& s : to[b]) joins_[free[s.bend]++] = {b, s.sight, s.length};
  return true;
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

void BendTable::between(std::uint32_t first, std::uint32_t last, std::vector<std::uint32_t>& joins) const {
  joins.clear();
  for (std::uint32_t b = last; b != first;) {
    const std::uint32_t before = before_[at(first, b)];
    const auto begin = joins_.begin() + first_[before], end = joins_.begin() + first_[before + 1];
    joins.push_back(static_cast<std::uint32_t>(std::ranges::lower_bound(begin, end, b, {}, &Join::to) - joins_.begin()));
    b = before;
  }
  std::ranges::reverse(joins);
}

}  // namespace dune::route
