#include "core/pipeline/expectations.h"

#include <algorithm>
#include <cmath>

#include "core/base/plan_geometry.h"
#include "core/base/slabs.h"
#include "core/base/text.h"

namespace dune::pipeline {

namespace {

using project::Expected;
using project::Touch;
using route::PathAnswer;
using route::PathStatus;

constexpr double kSameWay = 0.25;   // metres that two ways may be apart and be the same
constexpr double kRounding = 1e-6;  // of a limit: a route that is exactly as long as it may be holds
constexpr double kAlong = 0.5;      // metres between the places at which two ways are compared

double distanceTo(const Vec3& p, const std::vector<Vec3>& way) {
  double least = way.empty() ? std::numeric_limits<double>::infinity() : glm::distance(p, way[0]);
  for (std::size_t i = 0; i + 1 < way.size(); ++i) {
    const Vec3 d = way[i + 1] - way[i];
    const double length2 = glm::dot(d, d), t = length2 > 0 ? std::clamp(glm::dot(p - way[i], d) / length2, 0.0, 1.0) : 0;
    least = std::min(least, glm::distance(way[i] + d * t, p));
  }
  return least;
}

double farthestFrom(const std::vector<Vec3>& a, const std::vector<Vec3>& b) {
  double most = a.empty() ? 0 : distanceTo(a[0], b);
  for (std::size_t i = 0; i + 1 < a.size(); ++i) {
    const int parts = std::max(1, static_cast<int>(std::ceil(glm::distance(a[i], a[i + 1]) / kAlong)));
    for (int k = 1; k <= parts; ++k) most = std::max(most, distanceTo(glm::mix(a[i], a[i + 1], static_cast<double>(k) / parts), b));
  }
  return most;
}

class Check {
 public:
  Check(const PathAnswer& answer, const nav::NavMesh& mesh) : answer_(answer), mesh_(mesh) {}

  void ends(const Ends& ends) {
    for (const std::string& name : ends.missing) unmet("there is no place and no object \"" + name + "\" any more", answer_.start.asked);
  }
  /// False where nothing else is worth asking.
  bool outcome(Expected::Outcome wanted) {
    const bool complete = answer_.status == PathStatus::complete;
    if (wanted == Expected::Outcome::complete && !complete) {
      unmet(text("%s, a complete path is expected", route::statusName(answer_.status)) + why(),
            !answer_.openings.empty() ? answer_.openings[0].from
            : answer_.points.empty()  ? answer_.start.asked
                                      : answer_.points.back());
      return false;
    }
    if (wanted == Expected::Outcome::notComplete && complete) unmet("complete, and no way through is expected", answer_.goal.used);
    return answer_.status != PathStatus::none;
  }
  void limits(const Expected& e) {
    limit(answer_.length, e.leastLength, false, "%.2f m long, at least %.2f m expected");
    limit(answer_.length, e.mostLength, true, "%.2f m long, at most %.2f m expected");
    limit(answer_.cost, e.leastCost, false, "costs %.2f, at least %.2f expected");
    limit(answer_.cost, e.mostCost, true, "costs %.2f, at most %.2f expected");
    if (std::isfinite(answer_.narrowest))
      limit(answer_.narrowest, e.leastWidth, false, "%.2f m wide at its narrowest, at least %.2f m expected", &answer_.narrowestAt);
    const double straight = glm::distance(answer_.start.used, answer_.goal.used);
    if (straight > kRounding)
      limit((answer_.length / straight - 1) * 100, e.mostLonger, true, "%.0f %% longer than straight, at most %.0f %% expected");
  }
  void touch(const Touch& t) {
    std::string what;
    bool touched = false;
    if (t.what == Touch::What::kind) {
      what = t.kind;
      touched = std::ranges::any_of(answer_.shares, [&](const auto& s) { return s.length > 0 && mesh_.kinds[s.area].name == t.kind; });
    } else if (t.what == Touch::What::link) {
      what = text("link %d", t.link);
      touched = std::ranges::find(answer_.links, t.link, &route::LinkUse::id) != answer_.links.end();
    } else {
      what = text("the box at %.1f, %.1f, %.1f", t.box.centre().x, t.box.centre().y, t.box.centre().z);
      for (std::size_t i = 0; i + 1 < answer_.points.size(); ++i) touched |= Slabs(answer_.points[i], answer_.points[i + 1]).meets(t.box);
    }
    const Vec3 at = t.what == Touch::What::box ? t.box.centre() : placeOf(t);
    if (touched != t.must)
      unmet((t.must ? "does not touch " : "touches ") + what + (t.must ? ", which it must" : ", which it must not"), at);
  }
  void sameWay(const std::vector<Vec3>& way) {
    if (way.empty()) return;
    const double apart = waysApart(way, answer_.points);
    if (apart > kSameWay) unmet(text("another way: up to %.2f m from the one that was kept", apart), farthestPoint(way), apart, kSameWay);
  }
  std::vector<Unmet> take() { return std::move(unmet_); }

 private:
  void unmet(std::string sentence, const Vec3& at, double measured = 0, double limit = 0) {
    unmet_.push_back({std::move(sentence), at, measured, limit});
  }
  void limit(double measured, const std::optional<double>& limit, bool most, const char* words, const Vec3* at = nullptr) {
    if (!limit) return;
    const double slack = kRounding * std::max(1.0, *limit);
    if (most ? measured <= *limit + slack : measured >= *limit - slack) return;
    unmet(text(words, measured, *limit), at ? *at : answer_.goal.used, measured, *limit);
  }
  /// What the answer's note says, to be gone on with.
  std::string why() const {
    std::string note = answer_.note;
    for (const char* label : {"Partial: ", "No path: "})
      if (const auto at = note.find(label); at != std::string::npos) note.erase(at, std::string_view(label).size());
    while (!note.empty() && note.back() == '.') note.pop_back();
    return note.empty() ? "" : ": " + note;
  }
  /// Where a way goes over ground of a kind, or takes a link; else its end.
  Vec3 placeOf(const Touch& t) const {
    if (t.what == Touch::What::link)
      for (const route::LinkUse& l : answer_.links)
        if (l.id == t.link) return answer_.points[l.enter];
    if (t.what == Touch::What::kind)
      for (const nav::FaceId f : answer_.faces)
        if (mesh_.kindOf(f).name == t.kind) return nav::nearestOnFace(mesh_, f, nearestPointTo(mesh_.cornerAt(f, 0)));
    return answer_.goal.used;
  }
  Vec3 nearestPointTo(const Vec3& p) const {
    return *std::ranges::min_element(answer_.points, {}, [&](const Vec3& q) { return glm::distance(p, q); });
  }
  Vec3 farthestPoint(const std::vector<Vec3>& way) const {
    return *std::ranges::max_element(answer_.points, {}, [&](const Vec3& q) { return distanceTo(q, way); });
  }

  const PathAnswer& answer_;
  const nav::NavMesh& mesh_;
  std::vector<Unmet> unmet_;
};

}  // namespace

double waysApart(const std::vector<Vec3>& a, const std::vector<Vec3>& b) { return std::max(farthestFrom(a, b), farthestFrom(b, a)); }

std::vector<Unmet> unmetOf(const project::KeptRoute& route, const Ends& ends, const PathAnswer& answer, const nav::NavMesh& mesh) {
  Check check(answer, mesh);
  check.ends(ends);
  if (check.outcome(route.expected.outcome)) {
    check.limits(route.expected);
    for (const Touch& t : route.expected.touches) check.touch(t);
    check.sameWay(route.expected.sameWay);
  }
  return check.take();
}

}  // namespace dune::pipeline
