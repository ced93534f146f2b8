// Whether a body got where it was going, and whether there was a better way.

#include <algorithm>

#include "core/base/text.h"
#include "core/review/body_review.h"
#include "core/route/path.h"

namespace dune::review {

using trace::State;

namespace {

constexpr double kAtGoal = 0.5;    // m
constexpr double kTouches = 0.25;  // m between bodies that stand in each other's way
constexpr std::size_t kNamed = 3;

}  // namespace

bool BodyReview::arrived(std::size_t i) const {
  return moment(i).state == State::arrived || (body().goal && glm::distance(*body().goal, moment(i).at) < kAtGoal + agent().arriveWithin);
}

std::string BodyReview::goalCannotBeReached(const Vec3& from) const {
  if (!body().goal || !ground_.field) return {};
  const auto way = wayOver(*ground_.field, from, *body().goal);
  if (way.status == route::PathStatus::complete) return {};
  return way.status == route::PathStatus::none ? "There is no ground at one of the ends of its way."
                                               : "No way leads from here to its goal.";
}

std::vector<std::pair<double, int>> BodyReview::bodiesNear(const Vec3& at, std::size_t frame, double within) const {
  std::vector<std::pair<double, int>> near;
  for (std::size_t b = 0; b < recording_.trace.bodies().size(); ++b) {
    if (b == track_.body) continue;
    const trace::Sample s = recording_.trace.at(frame, b);
    const double apart = glm::distance(plan(s.at), plan(at)) - radius_ - recording_.radiusOf(b);
    if (s.state != State::waiting && apart < within && std::abs(s.at.y - at.y) < agent().height) near.emplace_back(apart, s.id);
  }
  std::ranges::sort(near);
  return near;
}

std::string BodyReview::whoStandsAround(const Vec3& at, std::size_t frame, std::vector<int>& others) const {
  const std::vector<std::pair<double, int>> near = bodiesNear(at, frame, kTouches);
  for (std::size_t i = 0; i < std::min(near.size(), kNamed); ++i) others.push_back(near[i].second);
  if (near.size() == 1) return text("Agent %d stands in its way.", near[0].second);
  if (!near.empty()) {
    std::string names = text("Agents %d", near[0].second);
    for (std::size_t i = 1; i < others.size(); ++i)
      names += (i + 1 == others.size() && near.size() <= kNamed ? " and " : ", ") + std::to_string(others[i]);
    return names + (near.size() > kNamed ? text(" and %zu more stand around it.", near.size() - kNamed) : " stand around it.");
  }
  return {};
}

std::string BodyReview::whyItStands(const Span& standing, std::vector<int>& others) const {
  const Moment& m = moment((standing.first + standing.last) / 2);
  if (std::string closed = goalCannotBeReached(m.at); !closed.empty()) return closed;
  if (std::string who = whoStandsAround(m.at, m.frame, others); !who.empty()) return who;
  const Standing there = standingAt(m);
  const double wall = there.on ? wallDistance(m.at, there, radius_ + 1) : radius_ + 1;
  if (wall < radius_ + limits_.wallTouch) return text("It stands against a wall, %.2f m from it.", wall);
  return body().goal ? "Nothing that is recorded holds it: there is a way to its goal, and nobody is near."
                     : "Nothing that is recorded holds it, and nobody is near.";
}

void BodyReview::lookAtWay() {
  if (!ground_.field || track_.moments.size() < 2) return;
  const std::size_t last = track_.moments.size() - 1;
  if (body().goal) {
    for (std::size_t i = 0; i <= last; ++i)
      if (arrived(i)) return i > 0 ? (lookAtTrip(0, i, true), lookAtLateness(0, i)) : void();
    return;
  }
  // Without a goal, what it went to is where it stayed.
  std::size_t from = 0;
  for (const Span& stood : stood_) {
    if (stood.first > from) lookAtTrip(from, stood.first, false);
    from = stood.last;
  }
}

double BodyReview::costAt(const Vec3& at) const {
  if (ground_.field->isOfOneCost()) return 1;
  double least = 0;
  for (const Vec3& by : kAround) {
    const nav::Place under = ground_.locator.under(at + by, 1);
    if (!under.valid()) continue;
    const double cost = ground_.field->perMetre(under.face);
    least = least > 0 ? std::min(least, cost) : cost;
  }
  return least > 0 ? least : 1;
}

void BodyReview::lookAtTrip(std::size_t first, std::size_t last, bool meant) {
  constexpr double kGuessed = 1.5, kGuessedMore = 5,
                   kRound = 4;  // where the goal is not known: a round that ends where it began is no trip
  const Moment &a = moment(first), &b = moment(last);
  if (toldBetween(a.t, b.t, {"jumped", "gap", "through-wall", "left-ground"})) return;
  double length = 0, cost = 0;
  for (std::size_t i = first + 1; i <= last; ++i) {
    const double step = glm::distance(moment(i).at, moment(i - 1).at);
    length += step, cost += step * costAt((moment(i).at + moment(i - 1).at) * 0.5);
  }
  const double times = meant ? limits_.around : std::max(kGuessed, limits_.around), more = meant ? limits_.aroundMore : kGuessedMore;
  // The best way is no shorter than straight: most trips need no search.
  if (length < times * glm::distance(a.at, b.at) + more && ground_.field->isOfOneCost()) return;
  const auto best = bestWay(a.at, b.at);
  if (!best || cost < times * best->cost + more || (!meant && length > kRound * best->length)) return;
  const bool longer = length > times * best->length + more / 2;
  Event e = Event::lasting(a.t, b.t, longer ? length : cost, a.at);
  double far = -1;  // told where it is furthest from the straight line
  for (std::size_t i = first; i <= last; ++i) {
    const double d = glm::distance(moment(i).at, a.at) + glm::distance(moment(i).at, b.at);
    if (d > far) far = d, e.at = moment(i).at, e.worstTime = moment(i).t;
  }
  if (longer)
    add("long-way", Severity::warning, e, best->length,
        text("Agent %d walked %.1f m where %.1f m are enough.", body().id, length, best->length),
        "It followed an old path, made way for others, or was sent over places in between.",
        "asking for the path between both ends, and how often it asks anew.");
  else
    add("dear-way", Severity::warning, e, best->cost,
        text("Agent %d took a way that costs %.1f where one of %.1f leads there.", body().id, cost, best->cost),
        "It walked over dearer ground than it needed to.", "asking for the path between both ends: its price list says what costs.");
}

void BodyReview::lookAtStart() {
  if (!body().goal) return;  // a recording need not have anything of it
  const std::size_t last = recording_.trace.frameCount() - 1;
  const Vec3 at = recording_.trace.at(last, track_.body).at;
  std::vector<int> others;
  std::string who = whoStandsAround(at, last, others);
  if (who.empty()) return;  // its time may not have come
  const double now = recording_.trace.timeOf(last);
  const Event e = Event::lasting(now, now, glm::distance(at, *body().goal), at);
  Finding& f = add("never-arrives", Severity::warning, e, 0, text("Agent %d never set out.", body().id),
                   "Its start is taken. " + std::move(who), "another start, or another place to go to for who stands there.");
  f.others = std::move(others);
}

void BodyReview::lookAtArrival() {
  const std::size_t last = track_.moments.size() - 1;
  if (!body().goal || arrived(last)) return;
  const Moment& m = moment(last);
  const double left = glm::distance(m.at, *body().goal);
  const Span* stands = !stood_.empty() && stood_.back().last == last ? &stood_.back() : nullptr;
  const Event e = Event::lasting(stands ? moment(stands->first).t : m.t, m.t, left, m.at);
  if (m.state == State::offMesh) {
    add("never-arrives", Severity::error, e, 0, text("Agent %d starts where there is no ground.", body().id),
        "Its start lies off the mesh.", "moving its start on to walkable ground.");
    return;
  }
  double nearest = left;
  for (const Moment& k : track_.moments) nearest = std::min(nearest, glm::distance(k.at, *body().goal));
  const bool nearer = nearest < left - kAtGoal;
  std::vector<int> others;
  std::string why = stands ? text("It has been standing for %.1f s. ", m.t - moment(stands->first).t) + whyItStands(*stands, others)
                           : goalCannotBeReached(m.at);
  if (why.empty()) why = "It was still on its way: the time was too short, or the way too long.";
  Finding& f = add("never-arrives", stands ? Severity::error : Severity::warning, e, 0,
                   text("Agent %d has not arrived after %.1f s: %.2f m are left.", body().id, m.t, left) +
                       (nearer ? text(" It was as near as %.2f m.", nearest) : std::string()),
                   std::move(why), "asking for the path from here to the goal.");
  f.others = std::move(others);
}

}  // namespace dune::review
