#include "core/route/trace_way.h"

#include <algorithm>

#include "core/nav/walk.h"
#include "core/route/search_ground.h"

namespace dune::route {

namespace {

using nav::FaceId;
using nav::index;
using nav::Place;

constexpr double kThere = 1e-3;       // metres in plan before its end at which a stretch may be taken to have arrived: rounding
constexpr double kBeside = 1e-3;      // metres from a bend at which a face still lies at it
constexpr double kOffStretch = 0.15;  // metres that ground may be off a wide link's stretch, which is straight
constexpr double kSameStorey = 0.25;  // metres of height between the faces at a bend

class Tracer {
 public:
  Tracer(const Field& field, const Place& start, std::vector<WayPoint>& way)
      : field_(field), mesh_(field.mesh()), simple_(field.ground().simple()), at_(start), way_(way) {}

  /// On to the next bend on ground of the given class.
  void go(const Vec2& to, std::uint16_t kind) {
    const nav::Rules& only = simple_.only[kind];
    way_.push_back({at_.position, at_.face, -1, true});
    if (only.passable(mesh_, at_.face) && reach(at_, to, only)) return;
    // Kinds of ground meet here, or rounding has put the bend into a face on the wrong side of a corner.
    const Place from = at_;
    for (const FaceId face : beside(from, only)) {
      way_.back().face = face;
      if (reach({face, from.position}, to, only)) return;
    }
    way_.back().face = from.face;
    at_ = field_.locator().nearest(lift(to, from.position.y), 1);
    if (!at_.valid()) at_ = from;
  }

  void take(std::uint32_t link, const WayStep& foot, const WayStep& landing) {
    const nav::Link& taken = mesh_.links[link];
    const nav::Place from{foot.forward ? taken.fromFace : taken.toFace, foot.forward ? taken.from : taken.to};
    at_ = {foot.forward ? taken.toFace : taken.fromFace, foot.forward ? taken.to : taken.from};
    const nav::Place takesOff = taken.width() > 0 ? onGround(foot.at, from) : from;
    way_.push_back({takesOff.position, takesOff.face, static_cast<int>(link), true});
    if (taken.width() > 0) at_ = onGround(landing.at, at_);
  }
  /// The place of the ground at one of a wide link's stretch.
  nav::Place onGround(const Vec3& at, const nav::Place& otherwise) const {
    const nav::Place found = field_.locator().nearest(at, kOffStretch);
    return found.valid() ? found : otherwise;
  }

  void end(const Place& goal) { way_.push_back({goal.position, goal.face, -1, true}); }

 private:
  /// The faces at a place that rules allow, the nearest first.
  const std::vector<FaceId>& beside(const Place& at, const nav::Rules& only) {
    Box2 box;
    box.add(plan(at.position));
    near_.clear();
    for (const std::uint32_t f : field_.locator().within(box.grown(kBeside))) {
      if (!only.passable(mesh_, FaceId{f})) continue;
      const Vec3 nearest = nav::nearestOnFace(mesh_, FaceId{f}, at.position);
      const double distance = glm::distance(plan(nearest), plan(at.position));
      if (distance <= kBeside && std::abs(nearest.y - at.position.y) <= kSameStorey) near_.emplace_back(distance, FaceId{f});
    }
    std::ranges::sort(near_);
    beside_.clear();
    for (const auto& [distance, face] : near_) beside_.push_back(face);
    return beside_;
  }

  bool reach(const Place& from, const Vec2& to, const nav::Rules& only) {
    thread_local std::vector<nav::Crossing> crossed;
    crossed.clear();
    const nav::Ray ray = nav::castRay(mesh_, from, to, &only, &crossed);
    if (!ray.reached && glm::distance(plan(ray.end.position), to) > kThere) return false;
    for (const nav::Crossing& c : crossed) way_.push_back({lift(c.at, c.height), c.into, -1, false});
    at_ = {ray.end.face, lift(to, nav::heightOn(mesh_, ray.end.face, to))};
    return true;
  }

  const Field& field_;
  const nav::NavMesh& mesh_;
  const SimpleGround& simple_;
  Place at_;
  std::vector<std::pair<double, FaceId>> near_;
  std::vector<FaceId> beside_;
  std::vector<WayPoint>& way_;
};

}  // namespace

std::vector<WayPoint> traceWay(const Field& field, const std::vector<WayStep>& bends, const Place& start, const Place& goal) {
  const SimpleGround& simple = field.ground().simple();
  std::vector<WayPoint> way;
  Tracer tracer(field, start, way);
  for (std::size_t i = 0; i + 1 < bends.size(); ++i) {
    if (bends[i].link >= 0) {
      const std::uint32_t link = simple.linkOf[static_cast<std::size_t>(bends[i].link)];
      tracer.take(link, bends[i], bends[i + 1]);
      continue;
    }
    tracer.go(plan(bends[i + 1].at), simple.mesh.area[index(bends[i].face)]);
  }
  tracer.end(goal);
  return way;
}

void traceStretch(const Field& field, const Place& start, const Place& goal, std::vector<WayPoint>& way) {
  Tracer tracer(field, start, way);
  tracer.go(plan(goal.position), field.ground().simple().classOf[field.mesh().area[index(start.face)]]);
  tracer.end(goal);
}

}  // namespace dune::route
