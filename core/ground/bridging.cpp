#include "core/ground/bridging.h"

#include <algorithm>
#include <cmath>

#include "core/ground/line_split.h"
#include "core/ground/tuning.h"

namespace dune::ground {

namespace {

constexpr double kInHairline = 3e-5;     // m beside a line: more than corners that are one are apart
constexpr double kInsetHairline = 1e-3;  // of a line: how far from its ends heights are taken

}  // namespace

double Bridging::slack(double beside) const {
  return beside * std::tan(std::min(radians(agent_.maxSlope), 1.5)) + tuning::kLimitSlack + tuning::kSameHeight;
}

Interval Bridging::heightsThatMatter(double a, double b) const {
  const double below = agent_.stepHeight + 0.1;
  return {std::min(a, b) - below, std::max(a, b) + below + agent_.height};
}

/// Where the ground beyond a gap may change, strictly between two places of a line.
std::vector<Vec2> placesBetween(const Gap& gap, const Vec2& a, const Vec2& b, const Vec2& p, const Vec2& q) {
  std::vector<Vec2> places;
  for (const double t : gap.splits())
    if (const Vec2 at = glm::mix(a, b, t); glm::dot(at - p, q - p) > 0 && glm::dot(at - q, p - q) > 0) places.push_back(at);
  return places;
}

/// One strip where the ground beyond runs as this one does; where it does not, as where something stands on it at one end, strips between
/// the places where it may change.
void Bridging::overGap(const Vec2& a, const Vec2& b, const Vec2& here, const std::array<Vec2, 2>& asked, const Gap& gap,
                       std::span<const Vec2> places) {
  const std::optional<Bridge> strip = stripOver(a, b, here, asked, gap);
  const auto rise = [&](std::size_t i, std::size_t k) { return strip->corner[k].y - strip->corner[i].y; };
  if (places.empty() || (strip && std::abs(rise(0, 1) - rise(3, 2)) < tuning::kLeastStep)) {
    if (strip) found_.bridges.push_back(*strip);
    return;
  }
  const std::size_t half = places.size() / 2;
  overGap(a, places[half], here, {asked[0], places[half]}, gap, places.first(half));
  overGap(places[half], b, here, {places[half], asked[1]}, gap, places.subspan(half + 1));
}

/// `asked`: between these two places it was found that ground goes on; heights are taken just within.
std::optional<Bridge> Bridging::stripOver(const Vec2& a, const Vec2& b, const Vec2& here, const std::array<Vec2, 2>& asked,
                                          const Gap& gap) const {
  const double join = standing_.world().joinDistance, inset = 1e-3, step = agent_.stepHeight + slack(tuning::kBeside);
  Bridge strip{{}, ground_.object, true};
  const std::array<Vec2, 2> ends{glm::mix(asked[0], asked[1], inset), glm::mix(asked[1], asked[0], inset)};
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
    const double inset = (piece.to - piece.from) * kInsetHairline;
    const auto first = across(piece.from + inset), last = across(piece.to - inset);
    if (piece.answer == 0 || !first || !last) {
      addStep(p, q);
      continue;
    }
    const double depth = std::max(first->depth, last->depth);
    const Vec2 along = glm::normalize(q - p), from = p - along * crossing(p, -along, left), to = q + along * crossing(q, along, left);
    found_.bridges.push_back({{lift(from, ground_.heightAt(from)), lift(to, ground_.heightAt(to)), lift(to - left * depth, last->y),
                               lift(from - left * depth, first->y)},
                              ground_.object,
                              true});
  }
}

/// How wide another groove is that the end of one runs into, metres; zero where it runs out of the ground.
double Bridging::crossing(const Vec2& end, const Vec2& along, const Vec2& left) const {
  constexpr int kParts = 8;
  const double join = standing_.world().joinDistance, y = ground_.heightAt(end);
  for (int k = 1; k <= kParts; ++k)
    if (const double far = join * k / kParts;
        !std::isnan(standing_.nearest(end + along * far + left * tuning::kBeside, y, tuning::kLeastStep)))
      return far;
  return 0;
}

/// Ground goes on over a line, and yet there may be a crack along it, narrower than what is looked over: whatever falls right into it
/// would be on the floor below.
void Bridging::closeHairline(const Vec2& a, const Vec2& b, const Vec2& left) {
  const double reach = agent_.stepHeight + slack(tuning::kBeside);
  const Vec2 middle = (a + b) * 0.5;
  const double here = standing_.nearest(middle + left * tuning::kBeside, ground_.heightAt(middle), reach),
               there = standing_.nearest(middle - left * tuning::kBeside, ground_.heightAt(middle), reach),
               rise = std::abs(here - there) + slack(tuning::kBeside);
  for (const Vec2& to : {left, -left}) {
    if (!std::isnan(standing_.nearest(middle + to * kInHairline, ground_.heightAt(middle), rise))) continue;
    Bridge strip{{}, ground_.object, true};
    bool whole = true;
    for (std::size_t i = 0; i < 2; ++i) {
      const Vec2& end = i == 0 ? a : b;
      const Vec2 within = glm::mix(end, i == 0 ? b : a, kInsetHairline);
      const double y = ground_.heightAt(within), near = standing_.nearest(within - to * tuning::kBeside, y, reach),
                   far = standing_.nearest(within + to * tuning::kBeside, y, reach);
      whole = whole && !std::isnan(near) && !std::isnan(far);
      strip.corner[i] = lift(end, near), strip.corner[3 - i] = lift(end + to * tuning::kBeside, far);
    }
    if (whole) found_.bridges.push_back(strip);
  }
}

}  // namespace dune::ground
