// What is wrong with a recording itself, and where a body does anything but walk: there its track is cut.

#include <algorithm>

#include "core/base/text.h"
#include "core/review/body_review.h"

namespace dune::review {

using trace::State;

namespace {

constexpr double kHurry = 1.5;     // times the top speed that one step may be: times are jittered
constexpr double kFalling = 15;    // m/s, at most
constexpr double kNearLink = 0.6;  // m beyond the radius from a link's end where it may still be that one takes it

bool walks(const Moment& m) { return m.state != State::link && m.state != State::offMesh; }

}  // namespace

void BodyReview::cutIntoSpans() {
  const auto& moments = track_.moments;
  const double longest = longestPause(limits_, track_.interval);
  Event jump;
  const auto tellJump = [&] {
    const Event e = std::exchange(jump, {});
    if (!e.open) return;
    add("jumped", Severity::error, e, limits_.jump, text("Agent %d is %.2f m further on from one sample to the next.", body().id, e.worst),
        text("At %.1f m/s it cannot have walked there, and no link leads there.", topSpeed_),
        "looking at what set it to another place at this time.");
  };
  std::size_t first = 0;
  std::optional<std::size_t> leftGround;  // the last moment before a link
  for (std::size_t i = 1; i <= moments.size(); ++i) {
    bool cut = i == moments.size();
    if (!cut) {
      const Moment &before = moments[i - 1], &after = moments[i];
      const double dt = after.t - before.t, far = glm::distance(plan(before.at), plan(after.at));
      if (jump.over(after.t)) tellJump();
      if (dt > longest) {
        cut = true;
        gap(before, after);
      } else if (!walks(before) || !walks(after)) {
        cut = true;
        if (walks(before) && after.state == State::link) leftGround = i - 1;
        if (walks(after) && before.state == State::link && leftGround)
          (void)crossed(moments[*std::exchange(leftGround, std::nullopt)], after);
      } else if (!fastBy(i) &&
                 (far > topSpeed_ * kHurry * dt + limits_.jump || std::abs(after.at.y - before.at.y) > kFalling * dt + limits_.jump)) {
        cut = true;
        if (!crossed(before, after)) jump.add(after.t, glm::distance(before.at, after.at), after.at);
      }
    }
    if (!cut) continue;
    if (walks(moments[first])) spans_.push_back({first, i - 1});
    first = i;
  }
  tellJump();
}

/// Whether a long step is one of several: then it is fast, and no jump.
bool BodyReview::fastBy(std::size_t i) const {
  constexpr double kFastest = 15;  // m/s
  const auto velocity = [&](std::size_t k) {
    const Moment &a = moment(k - 1), &b = moment(k);
    return (plan(b.at) - plan(a.at)) / (b.t - a.t);
  };
  const Vec2 own = velocity(i);
  if (glm::length(own) > kFastest) return false;
  const auto alike = [&](std::size_t k) {
    return k > 0 && k < track_.moments.size() && glm::length(velocity(k)) > topSpeed_ && glm::dot(velocity(k), own) > 0;
  };
  return alike(i - 1) || alike(i + 1);
}

void BodyReview::gap(const Moment& before, const Moment& after) {
  // Where nobody was recorded that is said once.
  if (after.frame == before.frame + 1 && std::ranges::binary_search(recording_.gaps, after.frame)) return;
  const Event e = Event::lasting(before.t, after.t, after.t - before.t, before.at);
  add("gap", Severity::warning, e, limits_.gap,
      text("Agent %d is missing from the recording for %.1f s; %.1f m further on it is there again.", body().id, e.worst,
           glm::distance(before.at, after.at)),
      "It was not there meanwhile, or its samples were lost.", "recording it all the time, or giving it another id when it comes back.");
}

/// Whether there is a link from about the one place to about the other; tells where it may not be taken like that.
bool BodyReview::crossed(const Moment& before, const Moment& after) {
  const double near = radius_ + kNearLink + topSpeed_ * track_.interval;
  const auto at = [&](const Vec3& middle, const Vec3& half, const Vec3& p) {
    return glm::distance(nav::nearestOnStretch(middle, half, p), p) <= near;
  };
  const nav::Link* wrong = nullptr;
  for (const nav::Link& link : ground_.mesh.links) {
    bool forward = at(link.from, link.fromHalf, before.at) && at(link.to, link.toHalf, after.at);
    bool back = at(link.to, link.toHalf, before.at) && at(link.from, link.fromHalf, after.at);
    if (nav::isOneWayBorder(link)) {  // its ends lie next to each other
      const auto beyond = [&](const Moment& m) {
        return glm::dot(plan(m.at) - plan((link.from + link.to) * 0.5), plan(link.to) - plan(link.from));
      };
      forward = forward && beyond(before) <= 0 && beyond(after) >= 0, back = back && beyond(before) >= 0 && beyond(after) <= 0;
    }
    if (!forward && !back) continue;
    const bool allowed = !ground_.field || ground_.field->rules().allows(link);
    if (allowed && (forward || !link.oneWay)) return true;
    wrong = &link;
  }
  if (!wrong) return false;
  const Event e = Event::lasting(before.t, after.t, glm::distance(before.at, after.at), before.at);
  if (!ground_.field || ground_.field->rules().allows(*wrong))
    add("link-against", Severity::error, e, 0,
        nav::isOneWayBorder(*wrong)
            ? text("Agent %d went over a border that is crossed one way, against its direction.", body().id)
            : text("Agent %d took link %d, a %s, against its direction.", body().id, wrong->id, nav::kindName(wrong->kind)),
        "It goes one way.", "a link both ways, if it may be taken like that.");
  else
    add("link-not-allowed", Severity::error, e, 0,
        text("Agent %d took link %d, a %s, which %s may not take.", body().id, wrong->id, nav::kindName(wrong->kind), agent().name.c_str()),
        "Its rules forbid links of this kind.", "another rule, or looking at who sent it there.");
  return true;
}

}  // namespace dune::review
