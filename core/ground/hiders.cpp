#include "core/ground/hiders.h"

#include <algorithm>

#include "core/ground/tuning.h"

namespace dune::ground {

namespace {
constexpr std::size_t kMost = 32;  // the smaller ones hide little and cost as much
}

void Hiders::find(std::uint32_t ground, std::span<const std::uint32_t> near, double least) {
  const Triangle& own = soup_.triangles()[ground];
  const double low = tuning::kSameHeight + least, high = agent_.height - low;
  all_.clear(), last_ = 0;
  for (const std::uint32_t i : near) {
    const Triangle& t = soup_.triangles()[i];
    const auto isOver = [&](const Vec3& p) {
      const double room = p.y - own.heightAt(plan(p));
      return room > low && room < high;
    };
    if (i != ground && !t.upright && std::ranges::all_of(t.p, isOver)) all_.push_back(i);
  }
  const auto size = [&](std::uint32_t i) { return doubleArea(soup_.triangles()[i].q); };
  const auto larger = [&](std::uint32_t i, std::uint32_t k) { return std::pair(-size(i), i) < std::pair(-size(k), k); };
  const std::size_t kept = std::min(kMost, all_.size());
  std::ranges::partial_sort(all_, all_.begin() + static_cast<std::ptrdiff_t>(kept), larger);
  all_.resize(kept);
}

bool Hiders::hide(const Vec2& q) {
  const auto covers = [&](std::uint32_t i) {
    bool onEdge = false;
    return soup_.covers(i, q, onEdge);
  };
  if (all_.empty()) return false;
  if (covers(all_[last_])) return true;
  const auto found = std::ranges::find_if(all_, covers);
  if (found == all_.end()) return false;
  last_ = static_cast<std::size_t>(found - all_.begin());
  return true;
}

bool Hiders::oneCovers(std::span<const Vec2> places) const {
  return std::ranges::any_of(all_, [&](std::uint32_t i) {
    bool onEdge = false;
    return std::ranges::all_of(places, [&](const Vec2& q) { return soup_.covers(i, q, onEdge); });
  });
}

bool Hiders::hideLine(const Vec2& a, const Vec2& b, const Vec2& aside) const {
  return oneCovers(std::array{a + aside, a - aside, b + aside, b - aside});
}

}  // namespace dune::ground
