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
  for (const Span& span : spans_) lookAtTurns(span);
  lookAtWay();
  lookAtArrival();
  return std::move(findings_);
}

bool BodyReview::toldBetween(double from, double to, std::initializer_list<const char*> codes) const {
  return std::ranges::any_of(findings_, [&](const Finding& f) {
    return f.from <= to && f.until >= from && std::ranges::any_of(codes, [&](const char* c) { return f.code == c; });
  });
}

Finding& BodyReview::add(const char* code, Severity severity, const Event& e, double limit, std::string sentence, std::string why,
                         std::string advice) {
  Finding& f = findings_.emplace_back();
  f.code = code, f.severity = severity;
  f.sentence = std::move(sentence), f.why = std::move(why), f.advice = std::move(advice);
  f.at = e.at, f.time = e.worstTime, f.from = e.begin, f.until = e.last;
  f.agent = body().id, f.measured = e.worst, f.limit = limit;
  return f;
}

std::optional<route::PathAnswer> BodyReview::bestWay(const Vec3& from, const Vec3& to) const {
  if (!ground_.field) return std::nullopt;
  if (!search_) search_.emplace(*ground_.field);
  auto way = route::findPath(*ground_.field, *search_, from, to, {2, false, false});
  if (way.status != route::PathStatus::complete) return std::nullopt;
  return way;
}

}  // namespace dune::review
