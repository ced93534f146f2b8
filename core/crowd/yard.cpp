#include "core/crowd/yard.h"

#include <algorithm>
#include <cmath>

#include "core/base/plan_geometry.h"
#include "core/crowd/lanes.h"
#include "core/nav/walk.h"

namespace dune::crowd {

namespace {

constexpr double kCellPlay = 1.01;   // times the least distance
constexpr double kOffWall = 0.01;    // m that the outermost files keep from the ends of a cross-section
constexpr std::size_t kMost = 1000;  // places
constexpr double kStepHeight = 0.6;  // m from one place to the next
constexpr std::pair<int, int> kSteps[] = {{1, 0}, {-1, 0}, {0, 1}, {0, -1}};

/// How long cells of a width have to be.
double lengthFor(double width, double diameter) { return kCellPlay * width * diameter / std::sqrt(width * width - diameter * diameter); }

/// As many files as hold the most bodies a metre.
int filesIn(double room, double diameter) {
  int best = 1;
  double most = 0;
  for (int files = 2; room / (files - 1) > diameter * kCellPlay; ++files)
    if (const double aMetre = files / lengthFor(room / (files - 1), diameter); aMetre > most) most = aMetre, best = files;
  return best;
}

/// The cross-section at right angles to the nearer wall; as a body happens to walk it may be askew, and files would run into walls.
std::optional<Lane> squareTo(const nav::NavMesh& mesh, const nav::Place& at, const Lane& lane, const nav::Rules* rules) {
  const double side = lane.left < lane.right ? lane.left : -lane.right;
  const Vec2 end = lane.at + leftOf(lane.along) * side;
  std::vector<nav::BorderEdge> border;
  nav::borderAround(mesh, at, glm::distance(plan(at.position), end) + kOffWall, rules, border);
  Vec2 along = lane.along;
  double nearest = INFINITY;
  for (const nav::BorderEdge& e : border)
    if (const double d = distanceToSegment(e.a, e.b, end); d < nearest && glm::distance(e.a, e.b) > kOffWall)
      nearest = d, along = glm::normalize(e.b - e.a);
  return crossSection(mesh, at, glm::dot(along, lane.along) < 0 ? -along : along, rules);
}

}  // namespace

Yard Yard::around(const nav::NavMesh& mesh, const Body& b, double radius, double reach, const nav::Rules* rules) {
  Yard yard;
  const double wanted = glm::length(b.wanted);
  yard.origin_ = plan(b.place.position);
  yard.along_ = wanted > 1e-6 ? b.wanted / wanted : Vec2{std::cos(b.heading), std::sin(b.heading)};
  yard.length_ = yard.width_ = std::sqrt(2.0) * 2 * radius * kCellPlay;
  if (b.lane)
    if (const auto lane = squareTo(mesh, b.place, *b.lane, rules)) yard.layAlong(*lane, 2 * radius);
  yard.spread(mesh, b.place, reach, kMost, rules);
  return yard;
}

Yard Yard::over(const nav::NavMesh& mesh, const nav::Place& from, double apart, double reach, std::size_t most, const nav::Rules* rules) {
  Yard yard;
  yard.origin_ = plan(from.position), yard.length_ = yard.width_ = apart;
  yard.spread(mesh, from, reach, most, rules);
  return yard;
}

void Yard::layAlong(const Lane& lane, double diameter) {
  const double room = std::max(0.0, lane.left + lane.right - 2 * kOffWall);
  const int files = filesIn(room, diameter);
  along_ = lane.along;
  origin_ = lane.at + leftOf(along_) * (lane.left - kOffWall - (files == 1 ? room / 2 : 0));
  if (files > 1) width_ = room / (files - 1), length_ = lengthFor(width_, diameter);
}

std::uint32_t Yard::add(const Cell& cell, const nav::Place& place) {
  const auto number = static_cast<std::uint32_t>(places_.size());
  byCell_[cell] = number;
  places_.push_back(place), cells_.push_back(cell);
  beside_.push_back({kNone, kNone, kNone, kNone});
  return number;
}

Yard::Cell Yard::cellOf(const Vec2& point) const {
  const Vec2 off = point - origin_;
  return {static_cast<int>(std::lround(glm::dot(off, along_) / length_)), static_cast<int>(std::lround(cross(along_, off) / width_))};
}

/// To all cells to which a straight line leads from one before.
void Yard::spread(const nav::NavMesh& mesh, const nav::Place& from, double reach, std::size_t most, const nav::Rules* rules) {
  const Cell first = cellOf(plan(from.position));
  const nav::Ray start = nav::castRay(mesh, from, pointOf(first), rules);
  if (!start.reached) return;
  add(first, start.end);
  for (std::uint32_t i = 0; i < places_.size(); ++i)
    for (std::size_t k = 0; k < 4; ++k) {
      const Cell next{cells_[i].first + kSteps[k].first, cells_[i].second + kSteps[k].second};
      const auto known = byCell_.find(next);
      if (known == byCell_.end() && places_.size() >= most) continue;
      if (glm::distance(pointOf(next), pointOf(first)) > reach) continue;
      const nav::Ray ray = nav::castRay(mesh, places_[i], pointOf(next), rules);
      if (!ray.reached) continue;
      const std::uint32_t to = known == byCell_.end() ? add(next, ray.end) : known->second;
      // Where storeys lie over each other a cell is that which was found first.
      if (std::abs(places_[to].position.y - ray.end.position.y) < kStepHeight) beside_[i][k] = to;
    }
}

std::uint32_t Yard::placeOf(const Vec3& at) const {
  const Cell cell = cellOf(plan(at));
  std::uint32_t nearest = kNone;
  double least = std::max(length_, width_);
  // Between the last place and a wall there may be nearly one more cell.
  for (int x = -1; x <= 1; ++x)
    for (int y = -1; y <= 1; ++y) {
      const auto found = byCell_.find({cell.first + x, cell.second + y});
      if (found == byCell_.end()) continue;
      const Vec3& place = places_[found->second].position;
      const double far = glm::distance(plan(place), plan(at));
      if (far < least && std::abs(place.y - at.y) < 2 * kStepHeight) least = far, nearest = found->second;
    }
  return nearest;
}

Vec2 Yard::off(const Vec2& point, std::uint32_t place) const {
  const Vec2 away = point - at(place);
  return {glm::dot(away, along_), cross(along_, away)};
}

bool Yard::hasRoom() const {
  return std::ranges::any_of(beside_, [](const auto& b) { return b[2] != kNone || b[3] != kNone; });
}

}  // namespace dune::crowd
