#include "core/route/distances.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "core/route/facets.h"
#include "core/route/search.h"
#include "core/route/slope_search.h"

namespace dune::route {

namespace {

using nav::FaceId;
using nav::index;
using nav::Place;

constexpr double kSameRoot = 1e-9;
constexpr double kNever = std::numeric_limits<double>::infinity();

/// Towards a point in plan; zero at it.
Vec2 directionTo(const Vec2& from, const Vec2& to) {
  const double length = glm::distance(from, to);
  return length > kSameRoot ? (to - from) / length : Vec2{0};
}

}  // namespace

Distances::Distances(const Field& field, const Place& place, Heading heading, double most, Job& job)
    : field_(field), place_(place.position), most_(most) {
  constexpr std::size_t kMostViews = 1'000'000;  // about a second, and 150 MB
  if (place.valid() && field.passable(place.face) && field.isOfOneCost() && !field.facets().level()) {
    auto slopes = std::make_unique<SlopeSearch>(field, heading);
    if (slopes->links().plain() && slopes->spread(place, most / field.perMetre(place.face), kMostViews, job)) slopes_ = std::move(slopes);
  }
  if (!slopes_) spreadInPlan(place, heading, job);
}

Distances::~Distances() = default;

void Distances::spreadInPlan(const Place& place, Heading heading, Job& job) {
  constexpr std::size_t kMemory = std::size_t{256} << 20;
  Search search(field_, kMemory);
  std::vector<SeenFrom> seen;
  complete_ = search.spread(place, most_, heading == Heading::to, seen, job);
  start_.assign(field_.ground().mesh().faceCount() + 1, 0);
  for (const SeenFrom& v : seen) ++start_[index(v.face) + 1];
  for (std::size_t f = 1; f < start_.size(); ++f) start_[f] += start_[f - 1];
  views_.resize(seen.size());
  std::vector<std::uint32_t> next(start_.begin(), start_.end() - 1);
  for (const SeenFrom& v : seen) views_[next[index(v.face)]++] = v;
}

double Distances::at(const Place& place) const { return at(place, nullptr); }

double Distances::at(const Place& place, Vec2* direction) const {
  const double least = beyond(place, direction);
  return least <= most_ ? least : kNever;
}

double Distances::beyond(const Place& place, Vec2* direction) const {
  if (direction) *direction = Vec2{0};
  if (!place.valid()) return kNever;
  if (slopes_) {
    const SlopeSearch::Reached reached = slopes_->reached(place);
    if (direction) *direction = directionTo(plan(place.position), plan(reached.over));
    return reached.length * field_.perMetre(place.face);
  }
  const SearchGround& ground = field_.ground();
  const Place there = ground.simple().at(field_.mesh(), place);
  if (!there.valid()) return kNever;
  const Vec2 p = plan(place.position);
  const double cost = ground.perMetre(there.face);
  double least = kNever;
  for (std::uint32_t i = start_[index(there.face)]; i < start_[index(there.face) + 1]; ++i) {
    const SeenFrom& v = views_[i];
    const Vec2 bend = bendTowards(v.root, v.right, v.left, p);
    const double d = v.g + (glm::distance(v.root, bend) + glm::distance(bend, p)) * cost;
    if (d >= least) continue;
    least = d;
    if (direction) *direction = directionTo(p, glm::distance(bend, p) > kSameRoot ? bend : v.root);
  }
  return least;
}

namespace {

struct Corner {
  Vec3 at;
  double distance;
};

/// Cuts ground into triangles that are small enough, and each of these along the rings that cross it.
class Rings {
 public:
  Rings(const Field& field, const Distances& distances, double every, double fine, Job& job)
      : field_(field), distances_(distances), fine_(fine), job_(job) {
    for (double d = every; d < distances.most() * (1 - 1e-9); d += every) rings_.push_back({d, 0, {}});
    rings_.push_back({distances.most(), 0, {}});
    within_.assign(rings_.size() + 1, 0);
  }

  std::vector<Ring> run() {
    const nav::NavMesh& mesh = field_.mesh();
    for (std::uint32_t f = 0; f < mesh.faceCount() && !job_.cancelled(); ++f) {
      if (!field_.passable(FaceId{f})) continue;
      face_ = FaceId{f};
      for (std::size_t i = 1; i + 1 < mesh.cornerCount(face_); ++i)
        divide(corner(mesh.cornerAt(face_, 0)), corner(mesh.cornerAt(face_, i)), corner(mesh.cornerAt(face_, i + 1)));
    }
    double within = 0;
    for (std::size_t i = 0; i < rings_.size(); ++i) rings_[i].area += within += within_[i];
    return std::move(rings_);
  }

 private:
  Corner corner(const Vec3& at) const { return {at, distances_.beyond({face_, at})}; }

  /// Halves the longest edge until all are short.
  void divide(const Corner& a, const Corner& b, const Corner& c) {
    const double ab = glm::distance(a.at, b.at), bc = glm::distance(b.at, c.at), ca = glm::distance(c.at, a.at);
    const double longest = std::max({ab, bc, ca});
    if (std::min({a.distance, b.distance, c.distance}) == kNever && farOff(a, longest)) return;
    if (longest <= fine_) return cut(a, b, c);
    if (ab == longest) {
      const Corner m = corner((a.at + b.at) / 2.0);
      divide(a, m, c), divide(m, b, c);
    } else if (bc == longest) {
      divide(b, c, a);
    } else {
      divide(c, a, b);
    }
  }
  /// Whether nothing of a triangle can be near, as the crow flies.
  bool farOff(const Corner& a, double wide) const {
    return field_.ground().leastCostOver(glm::distance(plan(a.at), plan(distances_.place())) - wide) > distances_.most();
  }

  void cut(const Corner& a, const Corner& b, const Corner& c) {
    const auto [least, most] = std::minmax({a.distance, b.distance, c.distance});
    auto ring = std::ranges::lower_bound(rings_, least, {}, &Ring::distance);
    for (; ring != rings_.end() && ring->distance < most; ++ring) cutAt(*ring, {a, b, c});
    within_[static_cast<std::size_t>(ring - rings_.begin())] += areaOf(a.at, b.at, c.at);
  }
  /// Where a corner is too far for any distance the line runs halfway.
  static Vec3 between(const Corner& in, const Corner& out, double distance) {
    const double t = std::isfinite(out.distance) ? std::clamp((distance - in.distance) / (out.distance - in.distance), 0.0, 1.0) : 0.5;
    return glm::mix(in.at, out.at, t);
  }
  static double areaOf(const Vec3& a, const Vec3& b, const Vec3& c) { return std::abs(cross(plan(b) - plan(a), plan(c) - plan(a))) / 2; }
  static void cutAt(Ring& ring, const std::array<Corner, 3>& t) {
    const auto in = [&](const Corner& c) { return c.distance <= ring.distance; };
    for (std::size_t i = 0; i < 3; ++i) {
      const Corner &a = t[i], &b = t[(i + 1) % 3], &c = t[(i + 2) % 3];
      if (in(a) == in(b) || in(a) == in(c)) continue;  // a is the one on its own side
      const Vec3 p = in(a) ? between(a, b, ring.distance) : between(b, a, ring.distance);
      const Vec3 q = in(a) ? between(a, c, ring.distance) : between(c, a, ring.distance);
      ring.pieces.emplace_back(p, q);
      const double tip = areaOf(a.at, p, q);
      ring.area += in(a) ? tip : areaOf(t[0].at, t[1].at, t[2].at) - tip;
    }
  }

  const Field& field_;
  const Distances& distances_;
  double fine_;
  Job& job_;
  FaceId face_{};
  std::vector<Ring> rings_;
  std::vector<double> within_;  // one a ring: ground that it is the first to have whole within it
};

}  // namespace

std::vector<Ring> ringsOf(const Field& field, const Distances& distances, double every, double fine, Job& job) {
  return Rings(field, distances, every, fine, job).run();
}

std::vector<Place> randomPlaces(const Field& field, const Distances& distances, int count, std::uint64_t seed) {
  const nav::NavMesh& mesh = field.mesh();
  std::vector<double> upTo;  // area of all faces so far
  double all = 0;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) upTo.push_back(all += field.passable(FaceId{f}) ? faceArea(mesh, FaceId{f}) : 0);
  std::vector<Place> places;
  std::uint64_t state = seed * 0x9E3779B97F4A7C15ull + 0xD1B54A32D192ED03ull;
  const auto chance = [&] {  // splitmix64 (Steele, Lea & Flood, OOPSLA 2014)
    std::uint64_t z = (state += 0x9E3779B97F4A7C15ull);
    z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ull, z = (z ^ (z >> 27)) * 0x94D049BB133111EBull;
    return static_cast<double>((z ^ (z >> 31)) >> 11) / 9007199254740992.0;
  };
  constexpr int kMostTries = 100'000;  // where next to nothing is within reach
  for (int tries = 0; all > 0 && static_cast<int>(places.size()) < count && tries < kMostTries + 100 * count; ++tries) {
    const auto f = static_cast<std::uint32_t>(std::ranges::upper_bound(upTo, chance() * all) - upTo.begin());
    if (f >= upTo.size()) continue;
    // A triangle of the fan by its area, then a place in it.
    const FaceId face{f};
    double left = chance() * faceArea(mesh, face);
    std::size_t i = 1;
    const auto area = [&](std::size_t k) {
      const Vec2 a = plan(mesh.cornerAt(face, 0));
      return cross(plan(mesh.cornerAt(face, k)) - a, plan(mesh.cornerAt(face, k + 1)) - a) / 2;
    };
    while (i + 2 < mesh.cornerCount(face) && left > area(i)) left -= area(i++);
    const double r = std::sqrt(chance()), s = chance();
    const Vec3 at = mesh.cornerAt(face, 0) * (1 - r) + mesh.cornerAt(face, i) * (r * (1 - s)) + mesh.cornerAt(face, i + 1) * (r * s);
    const Place place{face, lift(plan(at), nav::heightOn(mesh, face, plan(at)))};
    if (std::isfinite(distances.at(place))) places.push_back(place);
  }
  return places;
}

}  // namespace dune::route
