#include "core/review/body_review.h"

#include <algorithm>

namespace dune::review {

double Recording::topSpeed(std::size_t body) const {
  constexpr double kAtMost = 2, kOfUsual = 1.5;
  const double top = of(body).mesh.agent.speed;
  return std::max(top * limits.speed, std::min(top * kAtMost, usualSpeed * kOfUsual));
}

BodyReview::BodyReview(const Recording& recording, std::size_t body)
    : recording_(recording),
      ground_(recording.of(body)),
      limits_(recording.limits),
      track_(trackOf(recording.trace, body)),
      radius_(recording.radiusOf(body)),
      topSpeed_(recording.topSpeed(body)) {}

std::vector<Finding> BodyReview::run() {
  if (track_.moments.empty()) {
    lookAtStart();
    return std::move(findings_);
  }
  cutIntoSpans();
  for (const Span& span : spans_) lookAtGround(span);
  for (const Span& span : spans_) lookAtSpeed(span), lookAtStanding(span);
  for (const Span& span : spans_) lookAtTrembling(span), lookAtBackAndForth(span), lookAtCircling(span);
  for (const Span& span : spans_) lookAtTurns(span), lookAtHesitation(span), lookAtPath(span);
  lookAtWay();
  lookAtArrival();
  return std::move(findings_);
}

bool BodyReview::toldBetween(double from, double to, std::initializer_list<const char*> codes) const {
  return std::ranges::any_of(codes, [&](const char* code) {
    const auto told = told_.find(code);
    if (told == told_.end()) return false;
    const auto after = std::ranges::upper_bound(told->second, to, {}, &std::pair<double, double>::first);
    return after != told->second.begin() && std::prev(after)->second >= from;
  });
}

Finding& BodyReview::add(const char* code, Severity severity, const Event& e, double limit, std::string sentence, std::string why,
                         std::string advice) {
  Finding& f = findings_.emplace_back();
  f.code = code, f.severity = severity;
  f.sentence = std::move(sentence), f.why = std::move(why), f.advice = std::move(advice);
  f.at = e.at, f.time = e.worstTime, f.from = e.begin, f.until = e.last;
  f.agent = body().id, f.measured = e.worst, f.limit = limit;
  told_[code].emplace_back(f.from, f.until);
  return f;
}

std::optional<route::PathAnswer> BodyReview::bestWay(const Vec3& from, const Vec3& to) const {
  if (!ground_.field) return std::nullopt;
  auto way = wayOver(*ground_.field, from, to);
  if (way.status != route::PathStatus::complete) return std::nullopt;
  return way;
}

route::PathAnswer BodyReview::wayOver(const route::Field& field, const Vec3& from, const Vec3& to) const {
  if (!search_) search_.emplace(field);
  return route::findPath(field, *search_, from, to, {2, false, false, 0});
}

}  // namespace dune::review
