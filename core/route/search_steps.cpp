// What a search found, as steps of a way: from the last node back over those before it.

#include <algorithm>

#include "core/nav/line_in_face.h"
#include "core/route/link_lanes.h"
#include "core/route/search.h"

namespace dune::route {

using nav::FaceId;
using nav::Place;

/// The steps of the way to a last node.
std::vector<WayStep> Search::stepsTo(std::int32_t last, const Place& start, const Place& goal) const {
  std::vector<const Node*> chain;
  for (std::int32_t n = last; n >= 0; n = nodes_[static_cast<std::size_t>(n)].parent) chain.push_back(&nodes_[static_cast<std::size_t>(n)]);
  std::reverse(chain.begin(), chain.end());
  const auto& mesh = ground_.mesh();
  std::vector<WayStep> steps{{.at = start.position, .face = start.face}};
  Vec2 at = plan(start.position);
  const auto bendAt = [&](const Vec2& p, FaceId face) {
    if (isSamePoint(p, at)) {
      steps.back().face = face;
      return;
    }
    steps.push_back({.at = lift(p, 0), .face = face});
    at = p;
  };
  const auto ends = [&](WayStep& step, FaceId face, std::size_t edge) {
    step.left = plan(mesh.cornerAt(face, edge)), step.right = plan(mesh.cornerAt(face, (edge + 1) % mesh.cornerCount(face)));
  };
  for (std::size_t i = 1; i < chain.size(); ++i) {
    const Node& node = *chain[i];
    if (node.link >= 0) {
      const nav::Link& link = mesh.links[static_cast<std::size_t>(node.link)];
      const Vec2 by = (plan(link.to) - plan(link.from)) * (node.forward ? 1.0 : -1.0);
      if (node.edge != kStart) bendAt(node.root - by, chain[i - 1]->face);
      steps.push_back({.at = node.forward ? link.from : link.to, .face = node.forward ? link.fromFace : link.toFace, .link = node.link});
      steps.back().forward = node.forward;
      steps.push_back({.at = node.forward ? link.to : link.from, .face = node.face});
      if (const double width = wholeLink(node.link).width(); width > 0) {
        // Over a gate it is somewhere in what was seen of it; over a lane about there.
        const bool gated = ground_.simple().gated[static_cast<std::size_t>(node.link)] != 0;
        const Vec2 where = node.edge != kStart ? (node.left + node.right) * 0.5 - by
                           : gated             ? node.root - by
                                               : plan(steps[steps.size() - 2].at);
        letSlide(steps[steps.size() - 2], steps.back(), where, gated ? 2 : 2 * kLaneSpacing / width);
      }
      at = node.root;
    } else if (node.edge == kStart) {
      // Where ground of three costs meets the way may go through all of them at one corner, and pay to enter each.
      const bool stays = isSamePoint(node.root, at);
      if (stays && !node.last && (steps.back().sort == WayStep::Sort::crossing || ground_.differ(steps.back().face, node.face)))
        steps.push_back({.at = lift(at, 0), .face = node.face});
      else
        bendAt(node.root, node.face);
      if (stays && !node.last) steps.back().sort = WayStep::Sort::bend;
      if (node.via == kStart || stays) continue;
      steps.back().sort = WayStep::Sort::slidingBend;
      ends(steps.back(), node.face, node.via);
    } else {
      bendAt(node.root, chain[i - 1]->face);
      steps.push_back({.face = node.face, .sort = WayStep::Sort::crossing});
      ends(steps.back(), node.face, node.edge);
    }
  }
  steps.push_back({.at = goal.position, .face = goal.face});
  for (WayStep& step : steps)
    step.perMetre = step.link < 0 ? perMetre(step.face) : ground_.perMetre(mesh.links[static_cast<std::size_t>(step.link)]);
  return steps;
}

/// Both ends of a wide link, from where the foot is about, and no farther than its faces reach.
void Search::letSlide(WayStep& foot, WayStep& landing, const Vec2& where, double reach) const {
  const nav::Link& link = wholeLink(foot.link);
  foot.middle = foot.forward ? link.from : link.to, foot.half = foot.forward ? link.fromHalf : link.toHalf;
  landing.middle = foot.forward ? link.to : link.from, landing.half = foot.forward ? link.toHalf : link.fromHalf;
  const Vec2 h = plan(foot.half);
  foot.along = std::clamp(glm::dot(where - plan(foot.middle), h) / glm::dot(h, h), -1.0, 1.0);
  foot.low = std::max(-1.0, foot.along - reach), foot.high = std::min(1.0, foot.along + reach);
  for (const WayStep* end : {&foot, &landing}) {
    const Interval part = nav::lineIn(ground_.mesh(), end->face, plan(end->middle), plan(end->half), kBesideStretch);
    foot.low = std::max(foot.low, part.from), foot.high = std::min(foot.high, part.to);
  }
  foot.at = foot.middle + foot.half * foot.along, landing.at = landing.middle + landing.half * foot.along;
}

}  // namespace dune::route
