#include "core/ground/explain.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/base/text.h"
#include "core/ground/ground_kind.h"

namespace dune::ground {

namespace {

constexpr double kFarthestRoom = 10;  // metres: how far the room around a place is measured
constexpr double kSame = 1e-4;        // metres: limits at distances nearer than this are at one distance
constexpr double kThin = 0.05;        // metres: what faces may be off the ground

std::optional<Surface> nearestSurface(const Standing& standing, const Vec3& at) {
  std::vector<Surface> column;
  standing.surfaces(plan(at), column);
  const auto nearest = std::ranges::min_element(column, {}, [&](const Surface& s) { return std::abs(s.y - at.y); });
  if (nearest == column.end()) return std::nullopt;
  // Where something thin lies on the ground, or a copy of it, the one that can be stood on is meant.
  const auto meant =
      std::ranges::find_if(column, [&](const Surface& s) { return s.reason == Reason::none && std::abs(s.y - nearest->y) <= kThin; });
  return nearest->reason == Reason::none || meant == column.end() ? *nearest : *meant;
}

constexpr double kHair = 0.002;  // metres: an agent that fits to the hair has a line to stand on, and no ground

// A number that is said to help must do when it is typed in.
double roundUp(double x, double step) { return std::ceil(x / step - 1e-6) * step; }
double roundDown(double x, double step) { return std::floor(x / step + 1e-6) * step; }

/// Gathers all that is wrong with one place.
class Explainer {
 public:
  Explainer(const Standing& standing, const Clearance& clearance) : standing_(standing), clearance_(clearance), agent_(standing.agent()) {}

  Explanation run(const Vec3& at) {
    answer_.at = at;
    addBounds(at);
    const auto surface = nearestSurface(standing_, at);
    if (!surface) {
      add({Verdict::noSurface, 0, 0, "", "there is nothing to stand on here", "", "ground here"});
    } else {
      answer_.at.y = surface->y;
      answer_.surface = nameOf(surface->triangle);
      for (const Surface& s : standing_.allReasons(plan(at), *surface)) addReason(s);
      addLimits();
      addForbidden();
    }
    decide();
    return std::move(answer_);
  }

 private:
  struct Near {
    std::uint32_t limit;
    double distance;
  };

  std::string nameOf(std::uint32_t triangle) const { return objectName(standing_.soup().triangles()[triangle].object); }
  std::string objectName(std::uint32_t object) const { return standing_.world().level->objects[object].name; }
  const Limit& limitOf(const Near& near) const { return clearance_.limits()[near.limit]; }
  void add(Hindrance hindrance) { answer_.all.push_back(std::move(hindrance)); }

  void decide() {
    if (!answer_.walkable()) {
      answer_.decides = answer_.all[0];
      answer_.sentence = "Not walkable: " + answer_.decides.clause() + ".";
      return;
    }
    const auto wide = clearance_.nearest(plan(answer_.at), answer_.at.y, kFarthestRoom);
    const double room = wide ? wide->distance : kFarthestRoom;
    answer_.decides = {Verdict::walkable,
                       room,
                       agent_.radius,
                       answer_.surface,
                       text("on %s, %s%.2f m of room", answer_.surface.c_str(), wide ? "" : "over ", room),
                       text(" around against radius %.2f m", agent_.radius),
                       ""};
    answer_.sentence = "Walkable: " + answer_.decides.clause() + ".";
  }

  /// Asked first, and at any distance: outside the bounds nothing else matters.
  void addBounds(const Vec3& at) {
    const auto& bounds = standing_.world().bounds;
    if (!bounds) return;
    const double outside = glm::distance(glm::clamp(at, bounds->min, bounds->max), at);
    if (outside > kSame)
      add({Verdict::outsideBounds, outside, 0, "", text("%.2f m outside the playable bounds", outside), "", "wider bounds"});
  }

  void addForbidden() {
    const auto [number, volume, triangle] = kindAt(standing_, answer_.at);
    const level::AreaKind& kind = standing_.world().kinds[number];
    if (!kind.forbidden) return;
    const bool byName = triangle != Standing::kNothing;
    const std::string where = volume ? text(", volume %d", volume->id) : byName ? ", as " + nameOf(triangle) + " is" : std::string();
    add({Verdict::forbidden, 0, 0, kind.name, "forbidden: " + kind.name + where, "",
         volume ? text("another kind of ground in volume %d, or allowing %s", volume->id, kind.name.c_str()) : "allowing " + kind.name});
  }

  void addReason(const Surface& s) {
    const std::string own = nameOf(s.triangle), other = nameOf(s.by);
    const char *o = own.c_str(), *b = other.c_str();
    switch (s.reason) {
      case Reason::none:
        return;
      case Reason::notGround:
        return add({Verdict::notGround, 0, 0, own, text("%s is not marked as ground", o), "", text("marking %s as ground", o)});
      case Reason::outsideBounds:
        if (!answer_.all.empty() && answer_.all[0].verdict == Verdict::outsideBounds) return;
        return add({Verdict::outsideBounds, 0, 0, "", "outside the playable bounds", "", "wider bounds"});
      case Reason::tooSteep:
        return add({Verdict::tooSteep, s.measured, agent_.maxSlope, own, text("the slope of %s is %.1f°", o, s.measured),
                    text(" against %.1f°", agent_.maxSlope), orElse(steeper(s.measured), "a flatter " + own)});
      case Reason::insideSolid:
        return add({Verdict::insideSolid, 0, 0, other, text("inside %s", b), "", text("moving %s", b)});
      case Reason::cut:
        return add({Verdict::cut, 0, 0, other, text("%s cuts the ground away here", b), "", text("moving %s", b)});
      case Reason::headroom:
        return add({Verdict::headroom, s.measured, agent_.height, other, text("headroom %.2f m under %s", s.measured, b),
                    text(" against %.2f m", agent_.height), cures({lower(s.measured), "moving " + other})});
    }
  }

  /// The nearest limit of each object within the radius, one a kind.
  std::vector<Near> limitsWithinRadius() const {
    const Vec2 q = plan(answer_.at);
    Box2 box;
    box.add(q);
    std::vector<Near> near;
    for (const std::uint32_t i : clearance_.grid().collect(box.grown(agent_.radius))) {
      const Limit& l = clearance_.limits()[i];
      const double d = distanceToSegment(l.a, l.b, q);
      if (d >= agent_.radius - kSame || !l.countsAt(q, answer_.at.y, agent_.height) || !l.facing(q)) continue;
      const auto known = std::ranges::find_if(near, [&](const Near& n) { return alike(limitOf(n), l); });
      if (known == near.end())
        near.push_back({i, d});
      else if (d < known->distance - kSame || (d < known->distance + kSame && rank(l) < rank(limitOf(*known))))
        *known = {i, d};
    }
    return near;
  }

  static bool alike(const Limit& a, const Limit& b) { return a.kind == b.kind && (a.object == b.object || a.kind == LimitKind::bounds); }
  /// Of limits at one distance the one that says most comes first: a wall before a ceiling (the lowest one) before an end.
  static double rank(const Limit& l) { return static_cast<double>(l.kind) * 1000 + l.measured; }

  void addLimits() {
    std::vector<Near> near = limitsWithinRadius();
    // What is a wall at a distance is no ceiling there as well, though what stands up is also overhead.
    constexpr double kBeside = 0.02;
    std::erase_if(near, [&](const Near& n) {
      return limitOf(n).kind == LimitKind::ceiling && std::ranges::any_of(near, [&](const Near& o) {
               return limitOf(o).kind == LimitKind::wall && limitOf(o).object == limitOf(n).object && o.distance <= n.distance + kBeside;
             });
    });
    // Ground that goes on under a wall ends where the wall begins: that is one reason, not two.
    const Vec2 q = plan(answer_.at);
    auto place = [&](const Near& n) { return nearestOnSegment(limitOf(n).a, limitOf(n).b, q); };
    std::erase_if(near, [&](const Near& n) {
      return limitOf(n).kind == LimitKind::end && std::ranges::any_of(near, [&](const Near& o) {
               return limitOf(o).kind == LimitKind::wall && glm::distance(place(o), place(n)) < kBeside;
             });
    });
    std::stable_sort(near.begin(), near.end(), [](const Near& a, const Near& b) { return a.distance < b.distance; });
    const auto tied = std::find_if(near.begin(), near.end(), [&](const Near& n) { return n.distance > near[0].distance + kSame; });
    std::stable_sort(near.begin(), tied, [&](const Near& a, const Near& b) { return rank(limitOf(a)) < rank(limitOf(b)); });
    for (const Near& n : near) addLimit(limitOf(n), n.distance);
  }

  void addLimit(const Limit& l, double d) {
    const double r = agent_.radius;
    const std::string narrower = this->narrower(d), object = l.kind == LimitKind::bounds ? "" : objectName(l.object);
    const char* o = object.c_str();
    switch (l.kind) {
      case LimitKind::wall:
        return add({Verdict::nearWall, d, r, object, text("%.2f m from %s", d, o), withRadius(),
                    cures({higherStep(l, d), narrower, "moving " + object})});
      case LimitKind::ceiling:
        return add({Verdict::nearCeiling, l.measured, agent_.height, object,
                    text("%.2f m from headroom of %.2f m under %s", d, l.measured, o), text(" against %.2f m", agent_.height),
                    cures({lower(l.measured), "moving " + object})});
      case LimitKind::bounds:
        return add(
            {Verdict::nearBounds, d, r, "", text("%.2f m from the playable bounds", d), withRadius(), cures({narrower, "wider bounds"})});
      case LimitKind::end:
        return addEnd(l, d, narrower);
    }
  }

  /// Looks just beyond an end for what is there: a rise, a drop, a slope, or nothing.
  void addEnd(const Limit& l, double d, const std::string& narrower) {
    const Vec2 q = plan(answer_.at), at = nearestOnSegment(l.a, l.b, q);
    const Vec2 away = d > 1e-6 ? (at - q) / d : -leftOf(glm::normalize(l.b - l.a));
    const double edge = l.heightNear(at), r = agent_.radius;
    const auto next = surfaceBeyond(at + away * 0.004, edge);
    const std::string other = next ? nameOf(next->triangle) : objectName(l.object);
    const char* o = other.c_str();
    if (!next)
      return add(
          {Verdict::nearEnd, d, r, other, text("%.2f m from the edge of %s", d, o), withRadius(), orElse(narrower, "ground beyond it")});
    Hindrance h{Verdict::nearEnd, d, r, other, "", "", "", next->y - edge};
    if (next->reason == Reason::tooSteep) {
      h.brief = text("%.2f m from a slope of %.1f° (%s)", d, next->measured, o);
      h.held = text(" against %.1f°,", agent_.maxSlope) + withRadius();
      h.change = orElse(cures({steeper(next->measured), narrower}), "a flatter " + other);
    } else if (next->reason == Reason::notGround) {
      h.brief = text("%.2f m from %s, which is not marked as ground", d, o);
      h.held = "," + withRadius();
      h.change = cures({"marking " + other + " as ground", narrower});
    } else {
      h.brief = text("%.2f m from a %s of %.2f m (%s)", d, h.rise > 0 ? "rise" : "drop", std::abs(h.rise), o);
      h.held = text(" against step height %.2f m,", agent_.stepHeight) + withRadius();
      h.change = orElse(cures({stepOf(std::abs(h.rise)), narrower}), "moving " + other);
    }
    add(std::move(h));
  }

  std::string withRadius() const { return text(" with radius %.2f m", agent_.radius); }

  // What would help, in words; empty where no number that an agent may have does.
  std::string narrower(double d) const {
    constexpr double kThinnest = 0.05;  // metres: no body is narrower
    const double radius = roundDown(d - kHair, 0.01);
    return radius >= kThinnest ? text("a radius of %.2f m", radius) : std::string();
  }
  std::string lower(double headroom) const {
    const double height = roundDown(headroom, 0.01);
    return height > agent_.stepHeight && height >= 0.05 ? text("a height of %.2f m", height) : std::string();
  }
  static std::string steeper(double slope) {
    constexpr double kSteepest = 89;  // degrees: what an agent's limit may be
    const double limit = roundUp(slope, 0.1);
    return limit <= kSteepest ? text("a slope limit of %.1f°", limit) : std::string();
  }
  std::string stepOf(double rise) const {
    const double step = roundUp(rise, 0.01);
    return step < agent_.height ? text("a step height of %.2f m", step) : std::string();
  }
  static std::string orElse(std::string cure, const std::string& other) { return cure.empty() ? other : cure; }
  static std::string cures(std::initializer_list<std::string> all) {
    std::string said;
    for (const std::string& cure : all)
      if (!cure.empty()) said += (said.empty() ? "" : ", or ") + cure;
    return said;
  }

  /// Where ground that one can stand on begins at the top of a wall: the step height that goes up there.
  std::string higherStep(const Limit& l, double d) const {
    const Vec2 q = plan(answer_.at), at = nearestOnSegment(l.a, l.b, q);
    const Vec2 away = d > 1e-6 ? (at - q) / d : -leftOf(glm::normalize(l.b - l.a));
    std::vector<Surface> column;
    standing_.surfaces(at + away * 0.01, column);
    for (const Surface& s : column)
      if (const double rise = s.y - answer_.at.y; s.reason == Reason::none && rise > agent_.stepHeight && rise < agent_.height)
        return stepOf(rise);
    return {};
  }

  std::optional<Surface> surfaceBeyond(const Vec2& q, double edge) const {
    std::vector<Surface> column;
    standing_.surfaces(q, column);
    std::optional<Surface> next;
    for (const Surface& s : column)
      if (s.reason != Reason::headroom && s.reason != Reason::insideSolid && s.y < edge + agent_.height &&
          (!next || std::abs(s.y - edge) < std::abs(next->y - edge)))
        next = s;
    return next;
  }

  const Standing& standing_;
  const Clearance& clearance_;
  const nav::Agent& agent_;
  Explanation answer_;
};

}  // namespace

const char* verdictName(Verdict verdict) {
  constexpr const char* kNames[] = {"walkable",     "no-surface",  "not-ground", "outside-bounds", "too-steep",
                                    "inside-solid", "cut",         "headroom",   "near-wall",      "near-ceiling",
                                    "near-end",     "near-bounds", "forbidden",  "unbuilt",        "unreached"};
  return kNames[static_cast<std::size_t>(verdict)];
}

Explanation explain(const Standing& standing, const Clearance& clearance, const Vec3& at) { return Explainer(standing, clearance).run(at); }

}  // namespace dune::ground
