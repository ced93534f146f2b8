#include "core/ground/explain.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/base/text.h"

namespace dune::ground {

namespace {

std::optional<Surface> nearestSurface(const Standing& standing, const Vec3& at) {
  std::vector<Surface> column;
  standing.surfaces(plan(at), column);
  const auto nearest = std::min_element(column.begin(), column.end(), [&](const Surface& a, const Surface& b) {
    // Of copies at one height the one that can be stood on is meant.
    const double da = std::abs(a.y - at.y), db = std::abs(b.y - at.y);
    return std::abs(da - db) > 1e-3 ? da < db : (a.reason == Reason::none) > (b.reason == Reason::none);
  });
  return nearest == column.end() ? std::nullopt : std::optional(*nearest);
}

class Explainer {
 public:
  Explainer(const Standing& standing, const Clearance& clearance) : standing_(standing), clearance_(clearance), agent_(standing.agent()) {}

  Explanation run(const Vec3& at) {
    answer_.at = at;
    const auto nearest = nearestSurface(standing_, at);
    if (!nearest) return nothing();
    answer_.at.y = nearest->y;
    answer_.surface = answer_.object = name(nearest->triangle);
    if (nearest->reason != Reason::none)
      surfaceReason(*nearest);
    else
      bodyReason();
    return answer_;
  }

 private:
  std::string name(std::uint32_t triangle) const { return objectName(standing_.soup().triangles()[triangle].object); }
  std::string objectName(std::uint32_t object) const { return standing_.world().level->objects[object].name; }

  Explanation nothing() {
    answer_.verdict = Verdict::noSurface;
    answer_.sentence = "There is nothing to stand on here.";
    return answer_;
  }

  void say(Verdict verdict, double measured, double limit, std::string sentence) {
    answer_.verdict = verdict;
    answer_.measured = measured;
    answer_.limit = limit;
    answer_.sentence = std::move(sentence);
  }

  void surfaceReason(const Surface& s) {
    const std::string own = name(s.triangle);
    switch (s.reason) {
      case Reason::notGround:
        return say(Verdict::notGround, 0, 0, "Not walkable: " + own + " is not marked as ground.");
      case Reason::outsideBounds:
        return say(Verdict::outsideBounds, 0, 0, "Not walkable: outside the playable bounds.");
      case Reason::tooSteep:
        return say(Verdict::tooSteep, s.measured, agent_.maxSlope,
                   text("Not walkable: the slope of %s is %.1f° against %.1f°.", own.c_str(), s.measured, agent_.maxSlope));
      case Reason::insideSolid:
        answer_.object = name(s.by);
        return say(Verdict::insideSolid, 0, 0, "Not walkable: inside " + answer_.object + ".");
      case Reason::cut:
        answer_.object = name(s.by);
        return say(Verdict::cut, 0, 0, "Not walkable: " + answer_.object + " cuts the ground away here.");
      default:
        answer_.object = name(s.by);
        return say(Verdict::headroom, s.measured, agent_.height,
                   text("Not walkable: headroom %.2f m under %s against %.2f m.", s.measured, answer_.object.c_str(), agent_.height));
    }
  }

  void bodyReason() {
    const auto near = clearance_.nearest(plan(answer_.at), answer_.at.y, agent_.radius);
    if (!near || near->distance >= agent_.radius - 1e-4) {
      const auto wide = clearance_.nearest(plan(answer_.at), answer_.at.y, 10);
      const double room = wide ? wide->distance : 10;
      return say(Verdict::walkable, room, agent_.radius,
                 text("Walkable: on %s, %s%.2f m of room around against radius %.2f m.", answer_.surface.c_str(), wide ? "" : "over ", room,
                      agent_.radius));
    }
    const Limit& limit = clearance_.limits()[plainest(*near)];
    answer_.object = objectName(limit.object);
    const double d = near->distance, r = agent_.radius;
    switch (limit.kind) {
      case LimitKind::wall:
        return say(Verdict::nearWall, d, r, text("Not walkable: %.2f m from %s with radius %.2f m.", d, answer_.object.c_str(), r));
      case LimitKind::ceiling:
        return say(Verdict::nearCeiling, limit.measured, agent_.height,
                   text("Not walkable: %.2f m from headroom of %.2f m under %s against %.2f m.", d, limit.measured, answer_.object.c_str(),
                        agent_.height));
      case LimitKind::bounds:
        return say(Verdict::nearBounds, d, r, text("Not walkable: %.2f m from the playable bounds with radius %.2f m.", d, r));
      case LimitKind::end:
        return endReason(*near);
    }
  }

  /// Of limits at the same distance the one that says most: a wall before a ceiling (the lowest one) before an end.
  std::uint32_t plainest(const Clearance::Nearest& near) const {
    constexpr double kSame = 1e-4;
    std::uint32_t best = near.limit;
    Box2 box;
    box.add(near.at);
    auto rank = [&](const Limit& l) { return static_cast<double>(l.kind) * 1000 + l.measured; };
    for (const std::uint32_t i : clearance_.grid().collect(box.grown(kSame))) {
      const Limit& l = clearance_.limits()[i];
      const Vec2 q = plan(answer_.at);
      if (!l.countsAt(q, answer_.at.y, agent_.height) || !l.facing(q) || distanceToSegment(l.a, l.b, q) > near.distance + kSame) continue;
      if (rank(l) < rank(clearance_.limits()[best])) best = i;
    }
    return best;
  }

  /// Looks just beyond the end for what is there: a rise, a drop, a slope, or nothing.
  void endReason(const Clearance::Nearest& near) {
    const Vec2 here = plan(answer_.at);
    const Limit& limit = clearance_.limits()[near.limit];
    const Vec2 away = near.distance > 1e-6 ? (near.at - here) / near.distance : -leftOf(glm::normalize(limit.b - limit.a));
    const double edge = limit.heightNear(near.at), d = near.distance, r = agent_.radius;
    std::vector<Surface> column;
    standing_.surfaces(near.at + away * 0.004, column);
    const Surface* next = nullptr;
    for (const Surface& s : column)
      if (s.reason != Reason::headroom && s.reason != Reason::insideSolid && s.y < edge + agent_.height &&
          (!next || std::abs(s.y - edge) < std::abs(next->y - edge)))
        next = &s;
    answer_.rise = next ? next->y - edge : std::numeric_limits<double>::quiet_NaN();
    if (!next)
      return say(Verdict::nearEnd, d, r,
                 text("Not walkable: %.2f m from the edge of %s with radius %.2f m.", d, answer_.object.c_str(), r));
    answer_.object = name(next->triangle);
    const char* other = answer_.object.c_str();
    if (next->reason == Reason::tooSteep)
      return say(Verdict::nearEnd, d, r,
                 text("Not walkable: %.2f m from a slope of %.1f° (%s) against %.1f°, with radius %.2f m.", d, next->measured, other,
                      agent_.maxSlope, r));
    if (next->reason == Reason::notGround)
      return say(Verdict::nearEnd, d, r,
                 text("Not walkable: %.2f m from %s, which is not marked as ground, with radius %.2f m.", d, other, r));
    const char* what = answer_.rise > 0 ? "rise" : "drop";
    say(Verdict::nearEnd, d, r,
        text("Not walkable: %.2f m from a %s of %.2f m (%s) against step height %.2f m, with radius %.2f m.", d, what,
             std::abs(answer_.rise), other, agent_.stepHeight, r));
  }

  const Standing& standing_;
  const Clearance& clearance_;
  const level::Agent& agent_;
  Explanation answer_;
};

/// Gathers all that is wrong with one place.
class Hindrances {
 public:
  Hindrances(const Standing& standing, const Clearance& clearance) : standing_(standing), clearance_(clearance), agent_(standing.agent()) {}

  std::vector<Hindrance> run(const Vec3& at) {
    const auto surface = nearestSurface(standing_, at);
    if (!surface) return {{Verdict::noSurface, 0, 0, "", "There is nothing to stand on here.", "ground here"}};
    const Vec2 q = plan(at);
    for (const Surface& s : standing_.allReasons(q, *surface)) addReason(s);
    addLimits(q, surface->y);
    return std::move(found_);
  }

 private:
  std::string nameOf(std::uint32_t triangle) const { return objectName(standing_.soup().triangles()[triangle].object); }
  std::string objectName(std::uint32_t object) const { return standing_.world().level->objects[object].name; }

  void addReason(const Surface& s) {
    const std::string own = nameOf(s.triangle), other = nameOf(s.by);
    const char *o = own.c_str(), *b = other.c_str();
    switch (s.reason) {
      case Reason::none:
        return;
      case Reason::notGround:
        return found_.push_back({Verdict::notGround, 0, 0, own, text("%s is not marked as ground.", o), text("marking %s as ground", o)});
      case Reason::outsideBounds:
        return found_.push_back({Verdict::outsideBounds, 0, 0, "", "It is outside the playable bounds.", "wider bounds"});
      case Reason::tooSteep:
        return found_.push_back({Verdict::tooSteep, s.measured, agent_.maxSlope, own,
                                 text("The slope of %s is %.1f° against %.1f°.", o, s.measured, agent_.maxSlope),
                                 text("a slope limit of %.1f°", roundUp(s.measured, 0.1))});
      case Reason::insideSolid:
        return found_.push_back({Verdict::insideSolid, 0, 0, other, text("It is inside %s.", b), text("moving %s", b)});
      case Reason::cut:
        return found_.push_back({Verdict::cut, 0, 0, other, text("%s cuts the ground away.", b), text("moving %s", b)});
      case Reason::headroom:
        return found_.push_back({Verdict::headroom, s.measured, agent_.height, other,
                                 text("Headroom is %.2f m under %s against %.2f m.", s.measured, b, agent_.height),
                                 text("a height of %.2f m, or moving %s", roundDown(s.measured, 0.01), b)});
    }
  }

  /// The nearest limit of each object within the radius. Ends are explained by what lies beyond them.
  void addLimits(const Vec2& q, double y) {
    Box2 box;
    box.add(q);
    struct Near {
      std::uint32_t limit;
      double distance;
    };
    std::vector<Near> near;
    for (const std::uint32_t i : clearance_.grid().collect(box.grown(agent_.radius))) {
      const Limit& l = clearance_.limits()[i];
      const double d = distanceToSegment(l.a, l.b, q);
      if (d >= agent_.radius - 1e-4 || !l.countsAt(q, y, agent_.height) || !l.facing(q)) continue;
      const auto known = std::ranges::find_if(near, [&](const Near& n) { return same(clearance_.limits()[n.limit], l); });
      if (known == near.end())
        near.push_back({i, d});
      else if (d < known->distance)
        *known = {i, d};
    }
    std::stable_sort(near.begin(), near.end(), [](const Near& a, const Near& b) { return a.distance < b.distance; });
    // What is a wall at a distance is no ceiling there as well, though what stands up is also overhead.
    constexpr double kSame = 0.02;
    std::erase_if(near, [&](const Near& n) {
      const Limit& l = clearance_.limits()[n.limit];
      return l.kind == LimitKind::ceiling && std::ranges::any_of(near, [&](const Near& o) {
               const Limit& wall = clearance_.limits()[o.limit];
               return wall.kind == LimitKind::wall && wall.object == l.object && o.distance <= n.distance + kSame;
             });
    });
    for (const Near& n : near) addLimit(clearance_.limits()[n.limit], n.distance, q);
  }

  static bool same(const Limit& a, const Limit& b) { return a.kind == b.kind && (a.object == b.object || a.kind == LimitKind::bounds); }

  void addLimit(const Limit& l, double d, const Vec2& q) {
    const double r = agent_.radius;
    const std::string radius = text("a radius of %.2f m", roundDown(d, 0.01)), object = l.kind == LimitKind::bounds ? "" : objectName(l.object);
    const char* o = object.c_str();
    switch (l.kind) {
      case LimitKind::wall:
        return found_.push_back({Verdict::nearWall, d, r, object, text("It is %.2f m from %s with radius %.2f m.", d, o, r),
                                 radius + ", or moving " + object});
      case LimitKind::ceiling:
        return found_.push_back({Verdict::nearCeiling, l.measured, agent_.height, object,
                                 text("It is %.2f m from headroom of %.2f m under %s against %.2f m.", d, l.measured, o, agent_.height),
                                 text("a height of %.2f m, or moving %s", roundDown(l.measured, 0.01), o)});
      case LimitKind::bounds:
        return found_.push_back({Verdict::nearBounds, d, r, "", text("It is %.2f m from the playable bounds with radius %.2f m.", d, r),
                                 radius + ", or wider bounds"});
      case LimitKind::end:
        return addEnd(l, d, q);
    }
  }

  void addEnd(const Limit& l, double d, const Vec2& q) {
    const Vec2 at = nearestOnSegment(l.a, l.b, q), away = d > 1e-6 ? (at - q) / d : -leftOf(glm::normalize(l.b - l.a));
    const double edge = l.heightNear(at), r = agent_.radius;
    const std::string radius = text("a radius of %.2f m", roundDown(d, 0.01));
    const auto next = nearestSurface(standing_, lift(at + away * 0.004, edge));
    if (!next || next->y > edge + agent_.height || next->reason == Reason::insideSolid)
      return found_.push_back({Verdict::nearEnd, d, r, objectName(l.object),
                               text("It is %.2f m from the edge of %s with radius %.2f m.", d, objectName(l.object).c_str(), r), radius});
    const std::string other = nameOf(next->triangle);
    const char* o = other.c_str();
    if (next->reason == Reason::tooSteep)
      return found_.push_back({Verdict::nearEnd, d, r, other,
                               text("It is %.2f m from a slope of %.1f° (%s) against %.1f°.", d, next->measured, o, agent_.maxSlope),
                               text("a slope limit of %.1f°, or ", roundUp(next->measured, 0.1)) + radius});
    if (next->reason == Reason::notGround)
      return found_.push_back({Verdict::nearEnd, d, r, other, text("It is %.2f m from %s, which is not marked as ground.", d, o),
                               "marking " + other + " as ground, or " + radius});
    const double rise = std::abs(next->y - edge);
    found_.push_back({Verdict::nearEnd, d, r, other,
                      text("It is %.2f m from a %s of %.2f m (%s) against step height %.2f m.", d, next->y > edge ? "rise" : "drop", rise, o,
                           agent_.stepHeight),
                      text("a step height of %.2f m, or ", roundUp(rise, 0.01)) + radius});
  }

  // A number that is said must do when it is typed in.
  static double roundUp(double x, double step) { return std::ceil(x / step - 1e-6) * step; }
  static double roundDown(double x, double step) { return std::floor(x / step + 1e-6) * step; }

  const Standing& standing_;
  const Clearance& clearance_;
  const level::Agent& agent_;
  std::vector<Hindrance> found_;
};

}  // namespace

const char* verdictName(Verdict verdict) {
  constexpr const char* kNames[] = {"walkable", "no-surface", "not-ground",   "outside-bounds", "too-steep",  "inside-solid", "cut",
                                    "headroom", "near-wall",  "near-ceiling", "near-end",       "near-bounds"};
  return kNames[static_cast<std::size_t>(verdict)];
}

Explanation explain(const Standing& standing, const Clearance& clearance, const Vec3& at) { return Explainer(standing, clearance).run(at); }

std::vector<Hindrance> hindrances(const Standing& standing, const Clearance& clearance, const Vec3& at) {
  return Hindrances(standing, clearance).run(at);
}

}  // namespace dune::ground
