#include "core/ground/bridging.h"

#include <algorithm>
#include <cmath>

#include "core/ground/line_split.h"
#include "core/ground/tuning.h"

namespace dune::ground {

namespace {

constexpr double kInHairline = 3e-5;  // m beside a line: more than corners that are one are apart
constexpr double kInset = 1e-3;       // of a line: how far from its ends heights are taken

}  // namespace

double Bridging::slack(double beside) const { return beside * steepestRise(agent_) + tuning::kLimitSlack + tuning::kSameHeight; }

Interval Bridging::heightsThatMatter(double a, double b) const {
  const double below = agent_.stepHeight + 0.1;
  return {std::min(a, b) - below, std::max(a, b) + below + agent_.height};
}

/// One strip where the ground beyond runs as this one does; where it does not, as where something stands on it at one end, strips between
/// the places where it may change.
void Bridging::overGap(const Vec2& a, const Vec2& b, const Vec2& here, const std::array<Vec2, 2>& asked, const Gap& gap,
                       std::span<const Vec2> places) {
  const std::optional<Bridge> strip = stripOver(a, b, here, asked, gap);
  const auto rise = [&](std::size_t i, std::size_t k) { return strip->corner[k].y - strip->corner[i].y; };
  if (places.empty() || (strip && std::abs(rise(0, 1) - rise(3, 2)) < tuning::kLeastStep)) {
    if (strip) add(*strip, here);
    return;
  }
  const std::size_t half = places.size() / 2;
  overGap(a, places[half], here, {asked[0], places[half]}, gap, places.first(half));
  overGap(places[half], b, here, {places[half], asked[1]}, gap, places.subspan(half + 1));
}

/// `asked`: between these two places it was found that ground goes on; heights are taken just within.
std::optional<Bridge> Bridging::stripOver(const Vec2& a, const Vec2& b, const Vec2& here, const std::array<Vec2, 2>& asked,
                                          const Gap& gap) const {
  const double join = standing_.world().joinDistance, step = agent_.stepHeight + slack(tuning::kBeside);
  Bridge strip{{}, ground_.object, true};
  const std::array<Vec2, 2> ends{glm::mix(asked[0], asked[1], kInset), glm::mix(asked[1], asked[0], kInset)};
  std::array<std::optional<Gap::Ground>, 2> far;
  for (std::size_t i = 0; i < 2; ++i) {
    const double y = ground_.heightAt(ends[i]);
    const double near = standing_.nearest(ends[i] + here * tuning::kBeside, y, step);
    far[i] = gap.beyond(ends[i], y, step + slack(join));
    if (std::isnan(near) || !far[i]) return std::nullopt;
    strip.corner[i] = lift(i == 0 ? a : b, near);
  }
  const double depth = std::max(far[0]->depth, far[1]->depth);
  for (std::size_t i = 0; i < 2; ++i) strip.corner[3 - i] = lift((i == 0 ? a : b) - here * depth, far[i]->y);
  return strip;
}

/// Where ground on the other side of lower ground is as high again within the joining distance, that is but a groove: it is bridged, as a
/// deeper gap is, for otherwise faces would hang down into it.
void Bridging::stepOrGroove(const Vec2& a, const Vec2& b, const Vec2& left, double reach) {
  const double join = standing_.world().joinDistance;
  const auto addStep = [&](const Vec2& p, const Vec2& q) {
    const auto [low, high] = std::minmax({ground_.heightAt(p), ground_.heightAt(q)});
    found_.steps.push_back({p, q, low, high});
  };
  if (join <= tuning::kBeside) return addStep(a, b);
  const Gap gap(standing_, a, b, left, join, heightsThatMatter(ground_.heightAt(a), ground_.heightAt(b)));
  const auto across = [&](double t) -> std::optional<Gap::Ground> {
    const Vec2 q = glm::mix(a, b, t);
    const double high = ground_.heightAt(q), low = standing_.nearest(q - left * tuning::kBeside, high, reach);
    if (std::isnan(low) || high - low < tuning::kLeastStep) return std::nullopt;
    return gap.edgeBeyond(q, high, (high - low) / 2);
  };
  for (const Piece& piece : answersAlong(
           gap.splits(), [](double) {}, [&](double t) { return across(t) ? 1 : 0; })) {
    const Vec2 p = glm::mix(a, b, piece.from), q = glm::mix(a, b, piece.to);
    const double inset = (piece.to - piece.from) * kInset;
    const auto first = across(piece.from + inset), last = across(piece.to - inset);
    if (piece.answer == 0 || !first || !last) {
      addStep(p, q);
      continue;
    }
    const double depth = std::max(first->depth, last->depth);
    add({{lift(p, ground_.heightAt(p)), lift(q, ground_.heightAt(q)), lift(q - left * depth, last->y), lift(p - left * depth, first->y)},
         ground_.object,
         true},
        left);
  }
}

/// Adds a strip, longer at its ends by the gaps that it runs into there: where gaps meet, none of them has a side.
void Bridging::add(Bridge strip, const Vec2& here) {
  const Vec3 near = strip.corner[1] - strip.corner[0], far = strip.corner[2] - strip.corner[3];
  const double length = glm::length(plan(near));
  const Vec2 along = plan(near) / length;
  const double before = crossing(plan(strip.corner[0]), -along, here) / length,
               after = crossing(plan(strip.corner[1]), along, here) / length;
  strip.corner[0] -= near * before, strip.corner[3] -= far * before;
  strip.corner[1] += near * after, strip.corner[2] += far * after;
  found_.bridges.push_back(strip);
}

/// How wide the gap is that a line beside ground runs into at its end, metres; zero where it runs out of the ground.
double Bridging::crossing(const Vec2& end, const Vec2& along, const Vec2& here) const {
  constexpr int kParts = 8;
  const double join = standing_.world().joinDistance, y = ground_.heightAt(end);
  for (int k = 1; k <= kParts; ++k)
    if (const double far = join * k / kParts;
        !std::isnan(standing_.nearest(end + along * far + here * tuning::kBeside, y, tuning::kLeastStep)))
      return far;
  return 0;
}

/// Ground goes on over a line, and yet there may be a crack along it, narrower than what is looked over: whatever falls right into it
/// would be on the floor below.
void Bridging::closeHairline(const Vec2& a, const Vec2& b, const Vec2& left, double rise) {
  const double reach = agent_.stepHeight + slack(tuning::kBeside);
  const Vec2 middle = (a + b) * 0.5;
  for (const Vec2& to : {left, -left}) {
    if (!std::isnan(standing_.nearest(middle + to * kInHairline, ground_.heightAt(middle), rise + slack(tuning::kBeside)))) continue;
    Bridge strip{{}, ground_.object, true};
    bool whole = true;
    for (std::size_t i = 0; i < 2; ++i) {
      const Vec2& end = i == 0 ? a : b;
      const Vec2 within = glm::mix(end, i == 0 ? b : a, kInset);
      const double y = ground_.heightAt(within), near = standing_.nearest(within - to * tuning::kBeside, y, reach),
                   far = standing_.nearest(within + to * tuning::kBeside, y, reach);
      whole = whole && !std::isnan(near) && !std::isnan(far);
      strip.corner[i] = lift(end, near), strip.corner[3 - i] = lift(end + to * tuning::kBeside, far);
    }
    if (whole) add(strip, -to);
  }
}

}  // namespace dune::ground
