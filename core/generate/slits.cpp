#include "core/generate/slits.h"

#include <algorithm>

#include "core/generate/cells.h"
#include "core/generate/tuning.h"

namespace dune::generate {

namespace {

constexpr double kWidest = 3.2 * kLatticeStep;  // of a slit, metres: both sides may have been moved by a step and a half
constexpr int kClosingRounds = 8;               // each closes what borders on the one before

}  // namespace

double widthOf(const std::array<Vec2, 3>& c) {
  return cross(c[1] - c[0], c[2] - c[0]) / std::max({glm::distance(c[0], c[1]), glm::distance(c[1], c[2]), glm::distance(c[2], c[0])});
}

Across acrossSlit(const Triangulation& plan, std::int32_t cell, int e, const std::function<bool(std::int32_t)>& empty) {
  const Vec2 from = toPlan(plan.corner(cell, e)), to = toPlan(plan.corner(cell, e + 1)), middle = (from + to) * 0.5;
  const Vec2 out = -leftOf(to - from) / glm::distance(from, to);
  Across found;
  for (std::int32_t before = cell, at = plan.triangles()[static_cast<std::size_t>(cell)].n[static_cast<std::size_t>(e)];;) {
    if (at == Triangulation::kOutside) return {};
    if (!empty(at)) {
      found.beyond = at;
      return found;
    }
    const Triangulation::Triangle& t = plan.triangles()[static_cast<std::size_t>(at)];
    const std::array<Vec2, 3> corners{toPlan(plan.corner(at, 0)), toPlan(plan.corner(at, 1)), toPlan(plan.corner(at, 2))};
    if (widthOf(corners) > kWidest) return {};
    found.cells.push_back(at);
    const auto in = static_cast<std::size_t>(std::ranges::find(t.n, before) - t.n.begin());
    const std::size_t tip = (in + 2) % 3;
    // Coming in over the edge from corner `in` on, the first of its ends lies to the left.
    const std::size_t leave = cross(out, corners[tip] - middle) > 0 ? (in + 1) % 3 : tip;
    const Vec2 a = corners[leave], b = corners[(leave + 1) % 3];
    const double left = cross(out, a - middle), right = cross(out, b - middle);
    found.at = left == right ? a : glm::mix(a, b, std::clamp(left / (left - right), 0.0, 1.0));
    if (glm::dot(found.at - middle, out) > kWidest) return {};
    before = at, at = t.n[leave];
  }
}

/// Every corner of a slit is one of the ground beside it, and no place in it farther from that than it is wide.
bool Cells::closeSlits(const ground::Clearance& clearance, const Job& job) {
  const nav::Agent& agent = standing_->agent();
  if (agent.radius < 2 * kWidest) return true;  // then what is forbidden can be as thin
  const double meets = meetsWithin(agent);
  std::vector<std::pair<std::int32_t, ground::Followed>> more;
  const auto hasAt = [&](std::int32_t cell, const Vec2& q, double y) {
    for (auto k = start_[static_cast<std::size_t>(cell)]; k < start_[static_cast<std::size_t>(cell) + 1]; ++k)
      if (std::abs(ground::follow(*standing_, centre(cell), storeys_[k].ground, q).y - y) <= meets) return true;
    return false;
  };
  const auto close = [&](const Storey& s, int e) {
    const Vec2 middle = (toPlan(plan_.corner(s.cell, e)) + toPlan(plan_.corner(s.cell, e + 1))) * 0.5;
    const ground::Followed edge = ground::follow(*standing_, centre(s.cell), s.ground, middle);
    const Across slit = acrossSlit(plan_, s.cell, e, [&](std::int32_t cell) { return !hasAt(cell, centre(cell), edge.y); });
    if (slit.cells.empty() || !hasAt(slit.beyond, slit.at, edge.y)) return;
    for (const std::int32_t cell : slit.cells) {
      const ground::Followed at = ground::follow(*standing_, middle, edge, centre(cell));
      if (!hasForbiddenTip(clearance, cell, at)) more.emplace_back(cell, at);
    }
  };
  for (int round = 0; round < kClosingRounds; ++round) {
    more.clear();
    for (const Storey& s : storeys_)
      for (int e = 0; e < 3; ++e)
        if (s.across[static_cast<std::size_t>(e)] == -1) close(s, e);
    if (more.empty()) return true;
    addStoreys(more);
    if (!joinStoreys(job)) return false;
  }
  return true;
}

/// Each at most once a cell and height; what was joined must be joined anew.
void Cells::addStoreys(const std::vector<std::pair<std::int32_t, ground::Followed>>& more) {
  constexpr double kSame = 0.02;  // metres
  std::vector<Storey> all = std::move(storeys_);
  for (Storey& s : all) s.across = {-1, -1, -1};
  const std::size_t before = all.size();
  for (const auto& [cell, ground] : more)
    if (std::none_of(all.begin() + static_cast<std::ptrdiff_t>(before), all.end(),
                     [&, cell = cell, y = ground.y](const Storey& s) { return s.cell == cell && std::abs(s.ground.y - y) < kSame; }))
      all.push_back({cell, ground, {-1, -1, -1}, -1});
  std::ranges::stable_sort(all, {}, &Storey::cell);
  storeys_ = std::move(all);
  start_.assign(plan_.triangles().size() + 1, 0);
  for (const Storey& s : storeys_) ++start_[static_cast<std::size_t>(s.cell) + 1];
  for (std::size_t i = 1; i < start_.size(); ++i) start_[i] += start_[i - 1];
}

}  // namespace dune::generate
