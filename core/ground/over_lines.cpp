#include "core/ground/over_lines.h"

#include <algorithm>
#include <cmath>

#include "core/ground/line_split.h"
#include "core/ground/tuning.h"

namespace dune::ground {

namespace {

constexpr double kLeastFold = 0.5;   // m: shorter folds are left to the fitting of heights
constexpr double kLeastMiss = 0.04;  // m: how far a face over a fold would be off the ground

}  // namespace

void OverLines::note(const Vec2& a, const Vec2& b, const Vec2& left) {
  const Vec2 middle = (a + b) * 0.5;
  const double y = ground_.heightAt(middle), reach = standing_.agent().stepHeight + bridging_.slack(tuning::kBeside);
  const double here = standing_.nearest(middle + left * tuning::kBeside, y, reach),
               there = standing_.nearest(middle - left * tuning::kBeside, y, reach);
  bridging_.closeHairline(a, b, left, std::abs(here - there));
  if (std::abs(here - y) <= tuning::kLeastStep / 2 && std::abs(here - there) < tuning::kLeastStep) {
    foldBeyond(a, b, middle - left * tuning::kBeside, there);
    return;
  }
  if (std::abs(here - y) > tuning::kLeastStep / 2 || here - there < tuning::kLeastStep) return;
  bridging_.stepOrGroove(a, b, left, reach);
}

/// Where the ground goes on over an open edge, on another object say: the triangle it goes on with tells whether it bends.
void OverLines::foldBeyond(const Vec2& a, const Vec2& b, const Vec2& there, double y) {
  for (const std::uint32_t i : standing_.soup().above().at(there)) {
    const Triangle& t = standing_.soup().triangles()[i];
    if (i != number_ && standing_.walkable(t) && t.covers(there) && std::abs(t.heightAt(there) - y) < tuning::kSameHeight)
      return noteFold(a, b, t);
  }
}

void OverLines::noteFold(Vec2 a, Vec2 b, const Triangle& other) {
  const double length = glm::distance(a, b);
  if (other.upright || length < kLeastFold) return;
  const double bend = std::hypot(other.gu - ground_.gu, other.gv - ground_.gv);
  auto height = [length](const Triangle& t) { return std::abs(cross(t.q[1] - t.q[0], t.q[2] - t.q[0])) / length; };
  if (bend * std::min(height(ground_), height(other)) < kLeastMiss) return;
  if (cutTo(within_, a, b)) found_.folds.push_back({a, b, ground_.heightAt((a + b) * 0.5)});
}

}  // namespace dune::ground
