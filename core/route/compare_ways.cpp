#include <algorithm>
#include <map>

#include "core/base/text.h"
#include "core/route/path.h"

namespace dune::route {

namespace {

/// What a path costs by what it is paid for.
struct Price {
  double length = 0, cost = 0;
  double perMetre() const { return length > 0 ? cost / length : 0; }
};

struct Prices {
  std::map<std::uint16_t, Price> ground, entries;  // of entries the length is how often
  std::map<int, Price> links;

  explicit Prices(const PathAnswer& answer) {
    for (const Stretch& s : answer.stretches) {
      Price& price = s.link >= 0 ? links[s.link] : ground[s.kind];
      price.length += s.length, price.cost += s.cost;
      if (s.entry > 0) entries[s.kind].length += 1, entries[s.kind].cost += s.entry;
    }
  }
};

/// One thing that a path pays more for than another.
struct Difference {
  double more;
  std::string words;
};

template <class Key, class Words>
void compare(const std::map<Key, Price>& found, const std::map<Key, Price>& other, std::vector<Difference>& all, Words words) {
  for (const auto& [key, price] : other) {
    const auto mine = found.find(key);
    const Price less = mine == found.end() ? Price{} : mine->second;
    if (price.cost > less.cost)
      all.push_back({price.cost - less.cost, words(key, Price{price.length - less.length, price.cost - less.cost}, price)});
  }
}

}  // namespace

std::string whatDecides(const PathAnswer& found, const PathAnswer& other, const nav::NavMesh& mesh) {
  if (other.status != PathStatus::complete) return "The other way does not get there. " + other.note;
  constexpr double kSameCost = 0.005;
  const double more = other.cost - found.cost;
  if (std::abs(more) <= kSameCost) return text("Both ways cost the same, %.2f.", found.cost);
  std::vector<Difference> all;
  const PathAnswer &cheap = more > 0 ? found : other, &dear = more > 0 ? other : found;
  const Prices less(cheap), most(dear);
  compare(less.ground, most.ground, all, [&](std::uint16_t kind, const Price& by, const Price& whole) {
    return text("%.1f m more of %s at %.2f a metre", by.length, mesh.kinds[kind].name.c_str(), whole.perMetre());
  });
  compare(less.entries, most.entries, all, [&](std::uint16_t kind, const Price& by, const Price&) {
    return text("%.2f to enter %s", by.cost, mesh.kinds[kind].name.c_str());
  });
  compare(less.links, most.links, all, [&](int link, const Price& by, const Price&) { return text("%.2f for link %d", by.cost, link); });
  std::ranges::stable_sort(all, std::greater<>(), &Difference::more);
  std::string words;
  constexpr std::size_t kMost = 3;
  constexpr double kWorthSaying = 0.05;  // of the difference
  for (std::size_t i = 0; i < all.size() && i < kMost && all[i].more > kWorthSaying * std::abs(more); ++i)
    words += (i ? " and " : "") + all[i].words;
  return text(more > 0 ? "The other way costs %.2f, %.2f more: " : "The other way costs %.2f, %.2f less: this one has ", other.cost,
              std::abs(more)) +
         words + ".";
}

}  // namespace dune::route
