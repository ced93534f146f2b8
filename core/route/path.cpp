#include "core/route/path.h"

#include <algorithm>
#include <limits>

#include "core/base/text.h"

namespace dune::route {

namespace {

using nav::FaceId;
using nav::kNoFace;
using nav::Place;

constexpr double kFold = 1e-3;       // m: a crossing this near to the straight line between its neighbours is left out
constexpr double kFoldBend = 1e-7;   // m: the same of a bend: who leaves it out walks through the corner by so much
constexpr double kWidthEvery = 0.5;  // m between the places at which the free width is measured
constexpr double kSideLook = 50;     // m: how far to the sides one looks

/// Turns the way of a search into an answer.
class Teller {
 public:
  Teller(const Field& field, PathAnswer& answer) : field_(field), mesh_(field.mesh()), answer_(answer) {}

  void tell(const std::vector<WayPoint>& way) {
    shares_.assign(mesh_.kinds.size(), {0, 0, 0});
    bool bend = false;  // here, or at the same place before: edges that are crossed at a corner come after the bend around it
    for (std::size_t i = 0; i < way.size(); ++i) {
      bend = way[i].bend || (bend && glm::distance(way[i].at, way[i - 1].at) < 1e-9);
      const bool linkEnd = way[i].link >= 0 || (i > 0 && way[i - 1].link >= 0);
      if (i > 0) account(way[i - 1], way[i]), addStretch(way[i - 1], way[i]), answer_.length += glm::distance(way[i - 1].at, way[i].at);
      addFace(way[i].face);
      const double fold = bend ? kFoldBend : kFold;
      if (i > 0 && i + 1 < way.size() && !linkEnd && onLine(answer_.points.back(), way[i].at, way[i + 1].at, fold)) continue;
      answer_.points.push_back(way[i].at);
      const auto here = static_cast<std::uint32_t>(answer_.points.size() - 1);
      if (way[i].link >= 0) answer_.links.push_back({mesh_.links[static_cast<std::size_t>(way[i].link)].id, here, here + 1});
    }
    for (std::uint16_t a = 0; a < shares_.size(); ++a)
      if (shares_[a].length > 0 || shares_[a].cost > 0)
        answer_.shares.push_back({a, shares_[a].length, shares_[a].cost}), answer_.cost += shares_[a].cost;
    answer_.cost += answer_.linkCost;
    sharpestTurn();
    findPoints();
  }

  void widths(const std::vector<WayPoint>& way) {
    answer_.narrowest = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i + 1 < way.size(); ++i) {
      if (way[i].link >= 0) continue;
      const Vec2 a = plan(way[i].at), b = plan(way[i + 1].at);
      const double length = glm::distance(a, b);
      if (length < 1e-6) continue;
      const int parts = std::max(1, static_cast<int>(std::ceil(length / kWidthEvery)));
      for (int k = 0; k < parts; ++k) {
        const double t = (k + 0.5) / parts;
        const Vec3 at = glm::mix(way[i].at, way[i + 1].at, t);
        const double width = freeWidth(field_, {way[i].face, at}, (b - a) / length);
        if (width < answer_.narrowest) answer_.narrowest = width, answer_.narrowestAt = at;
      }
    }
  }

 private:
  static bool onLine(const Vec3& a, const Vec3& p, const Vec3& b, double fold) {
    const Vec3 d = b - a;
    const double length2 = glm::dot(d, d);
    if (length2 == 0) return true;
    const double t = std::clamp(glm::dot(p - a, d) / length2, 0.0, 1.0);
    return glm::distance(a + d * t, p) < fold;
  }

  void addFace(FaceId f) {
    if (answer_.faces.empty() || answer_.faces.back() != f) answer_.faces.push_back(f);
  }

  void account(const WayPoint& a, const WayPoint& b) {
    const double length = glm::distance(a.at, b.at);
    const std::uint16_t area = mesh_.area[index(a.face)];
    if (a.link >= 0) {
      answer_.linkCost += field_.rules().costOf(mesh_.links[static_cast<std::size_t>(a.link)], a.at, b.at);
    } else {
      shares_[area].length += length;
      shares_[area].cost += length * field_.perMetre(a.face);
    }
    shares_[mesh_.area[index(b.face)]].cost += field_.entryCost(a.face, b.face);
  }

  void addStretch(const WayPoint& a, const WayPoint& b) {
    auto& all = answer_.stretches;
    const double length = glm::distance(a.at, b.at);
    if (a.link >= 0) {
      const nav::Link& link = mesh_.links[static_cast<std::size_t>(a.link)];
      all.push_back({link.id, static_cast<std::uint16_t>(link.area), a.at, b.at, 0, 0, length, field_.rules().costOf(link, a.at, b.at), 0});
    } else {
      const std::uint16_t kind = mesh_.area[index(a.face)];
      if (all.empty() || all.back().link >= 0 || all.back().kind != kind) {
        if (length == 0 && entry_ == 0) return entered(a, b);
        all.push_back({-1, kind, a.at, a.at, 0, 0, 0, 0, entry_});
        entry_ = 0;
      }
      Stretch& last = all.back();
      last.to = b.at, last.length += length, last.cost += length * field_.perMetre(a.face);
      if (const double slope = slopeOf(a.at, b.at); slope > answer_.steepest)
        answer_.steepest = slope, answer_.steepestAt = (a.at + b.at) / 2.0;
    }
    entered(a, b);
  }
  /// What it costs to go on from one face to the next is of the stretch that begins there, or of the last one where none does.
  void entered(const WayPoint& a, const WayPoint& b) { entry_ += field_.entryCost(a.face, b.face); }

  static double slopeOf(const Vec3& a, const Vec3& b) {
    constexpr double kShort = 0.02;  // m: a step's edge is no slope
    const double run = glm::distance(plan(a), plan(b));
    return run < kShort ? 0 : degrees(std::atan2(std::abs(b.y - a.y), run));
  }

  /// Which of the points each stretch lies between.
  void findPoints() {
    if (entry_ > 0 && !answer_.stretches.empty()) answer_.stretches.back().entry += entry_;
    double along = 0, begin = 0;
    std::size_t i = 0;
    for (Stretch& s : answer_.stretches) {
      const double end = begin + s.length;
      constexpr double kSlack = 1e-3;  // m: points are left out where the way is as good as straight
      const auto ahead = [&](double to) {
        while (i + 1 < answer_.points.size() && along + glm::distance(answer_.points[i], answer_.points[i + 1]) <= to + kSlack)
          along += glm::distance(answer_.points[i], answer_.points[i + 1]), ++i;
      };
      ahead(begin);
      s.first = i;
      ahead(end);
      s.last = std::min(along + kSlack < end ? i + 1 : i, answer_.points.size() - 1);
      begin = end;
    }
  }

  void sharpestTurn() {
    for (std::size_t i = 1; i + 1 < answer_.points.size(); ++i) {
      const Vec2 in = plan(answer_.points[i]) - plan(answer_.points[i - 1]), out = plan(answer_.points[i + 1]) - plan(answer_.points[i]);
      if (glm::length(in) < 1e-6 || glm::length(out) < 1e-6) continue;
      const double turn = degrees(std::abs(std::atan2(cross(in, out), glm::dot(in, out))));
      if (turn > answer_.sharpestTurn) answer_.sharpestTurn = turn, answer_.sharpestAt = answer_.points[i];
    }
  }

  const Field& field_;
  const nav::NavMesh& mesh_;
  PathAnswer& answer_;
  std::vector<AreaShare> shares_;
  double entry_ = 0;  // paid on the way to what comes next
};

/// The ground nearest to p. On the border of forbidden ground both sides are as near: then the side that may be walked on is meant.
Place nearestGround(const Field& field, const Vec3& p, double reach) {
  const Place found = field.locator().nearest(p, reach);
  if (!found.valid() || field.passable(found.face)) return found;
  constexpr double kOnBorder = 1e-3;  // metres
  Box2 box;
  box.add(plan(found.position));
  Place best = found;
  double least = glm::distance(found.position, p) + kOnBorder;
  for (const std::uint32_t f : field.locator().within(box.grown(kOnBorder))) {
    if (!field.passable(FaceId{f})) continue;
    const Vec3 at = nav::nearestOnFace(field.mesh(), FaceId{f}, p);
    if (const double d = glm::distance(at, p); d < least) best = {FaceId{f}, at}, least = d;
  }
  return best;
}

std::string movedNote(const char* which, const PathEnd& end) {
  if (end.moved() < 0.02) return {};
  return text("The %s was moved %.2f m to the nearest ground. ", which, end.moved());
}

void tellOf(const std::vector<WayPoint>& way, const Field& field, Search& search, const PathOptions& options, PathAnswer& answer) {
  Teller teller(field, answer);
  teller.tell(way);
  if (options.widths) teller.widths(way);
  if (!options.bound) return;
  const double least = search.boundBelow(answer.cost);
  answer.optimalityBound = least > 1e-9 ? std::max(1.0, answer.cost / least) : 1.0;
  if (answer.optimalityBound < 1 + 1e-9) answer.optimalityBound = 1;
}

/// What it means that a search reached the bound of its memory.
std::string boundNote(const Search& search, bool nothing) {
  const double megabytes = static_cast<double>(search.memory()) / (1 << 20);
  if (nothing) return text("The search took all of its %.0f MB before it found a way. ", megabytes);
  return text("The search took all of its %.0f MB before the best way was known; no way costs less than %.2f. ", megabytes,
              search.lowerBound());
}

std::string whyUnreachable(const Field& field, const Place& start, const Place& goal, double reach) {
  if (!goal.valid()) return text("Partial: there is no ground within %.1f m of the goal.", reach);
  if (!field.passable(goal.face)) return "Partial: the goal is on forbidden ground (" + field.mesh().kindOf(goal.face).name + ").";
  if (field.mesh().island[index(goal.face)] != field.mesh().island[index(start.face)])
    return "Partial: the goal is on another island, and no link leads there.";
  return "Partial: forbidden ground lies all across the way to the goal.";
}

std::string openingNote(const std::vector<Opening>& openings, const nav::NavMesh& mesh) {
  std::string note;
  for (const Opening& o : openings)
    note += (note.empty() ? " In between: " : ", then ") + wordsOf(o, mesh) + text(" at %.1f, %.1f, %.1f", o.from.x, o.from.y, o.from.z);
  return note + ".";
}

PathAnswer answerFrom(const Field& field, Search& search, const Vec3& from, const Place& start, const Vec3& to,
                      const PathOptions& options) {
  PathAnswer answer;
  answer.start = {from, from}, answer.goal = {to, to};
  answer.straight = glm::distance(from, to);
  Place goal = nearestGround(field, to, options.reach);
  if (!start.valid()) {
    answer.note = text("No path: there is no ground within %.1f m of the start.", options.reach);
    return answer;
  }
  answer.start.used = start.position;
  if (!field.passable(start.face)) {
    answer.note = "No path: the start is on forbidden ground (" + field.mesh().kindOf(start.face).name + ").";
    return answer;
  }
  answer.note = movedNote("start", answer.start);
  // Known before the search: one that finds nothing looks everywhere first.
  const bool reachable = goal.valid() && field.reaches(start.face, goal.face);
  answer.status = reachable ? PathStatus::complete : PathStatus::partial;
  if (!reachable) {
    answer.note += whyUnreachable(field, start, goal, options.reach);
    goal = field.nearestReachable(start.face, to);
  }
  const std::vector<WayPoint> way = search.findInSpace(start, goal, options.slopeViews);
  answer.goal.used = goal.position;
  if (reachable) answer.note += movedNote("goal", answer.goal);
  if (way.empty())
    answer.status = PathStatus::none;
  else
    tellOf(way, field, search, options, answer);
  if (search.reachedBound()) answer.note += boundNote(search, way.empty());
  while (!answer.note.empty() && answer.note.back() == ' ') answer.note.pop_back();
  return answer;
}

}  // namespace

double freeWidth(const Field& field, const Place& at, const Vec2& direction) {
  const nav::NavMesh& mesh = field.mesh();
  bool reached;
  const Vec2 q = plan(at.position), left = leftOf(direction) * kSideLook;
  const double a = glm::distance(q, plan(nav::sightEnd(mesh, at, q + left, &reached, &field.rules()))),
               b = glm::distance(q, plan(nav::sightEnd(mesh, at, q - left, &reached, &field.rules())));
  return a + b + 2 * mesh.agent.radius;
}

void findOpenings(const Field& field, PathAnswer& answer, Job& job, double reach) {
  if (answer.status != PathStatus::partial) return;
  const Place start = nearestGround(field, answer.start.used, reach), goal = nearestGround(field, answer.goal.asked, reach);
  answer.openings = openingsBetween(field, start, goal, job);
  if (!answer.openings.empty()) answer.note += openingNote(answer.openings, field.mesh());
}

PathAnswer findPath(const Field& field, Search& search, const Vec3& from, const Vec3& to, const PathOptions& options) {
  return answerFrom(field, search, from, nearestGround(field, from, options.reach), to, options);
}

PathAnswer findPath(const Field& field, Search& search, const nav::Place& start, const Vec3& to, const PathOptions& options) {
  return answerFrom(field, search, start.position, start, to, options);
}

const char* statusName(PathStatus status) {
  constexpr const char* kNames[] = {"complete", "partial", "none"};
  return kNames[static_cast<std::size_t>(status)];
}

}  // namespace dune::route
