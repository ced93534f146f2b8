#include "core/flight/room.h"

#include "core/flight/tuning.h"

namespace dune::flight {

namespace {

enum class Room { none, some, unsure };

class Parting {
 public:
  Parting(const Measure& measure, std::span<const std::uint32_t> near) : m_(measure), wanted_(measure.radius * (1 + tuning::kHair)) {
    for (const std::uint32_t number : near) near_.push_back(&(*measure.obstacles)[number].corner);
  }

  /// `times`: how often it may be halved. A place that fits, or else the one that is farthest from everything, is `at`.
  Room look(const Box3& box, int times) {
    far_ = 0;
    return part(box, 0, near_.size(), times);
  }
  const Vec3& at() const { return at_; }

 private:
  /// Of the triangles [from, to) of the list; those that may matter to the box are put behind it meanwhile.
  Room part(const Box3& box, std::size_t from, std::size_t to, int times) {
    const Vec3 middle = box.centre();
    const double half = glm::length(box.size()) / 2, forbids = std::max(wanted_ - half, 0.0), matters = wanted_ + half;
    double least = matters * matters;
    const Corners* nearest = nullptr;
    for (std::size_t i = from; i < to; ++i) {
      const Vec3 way = middle - nearestOn(*near_[i], middle);
      const double square = glm::dot(way, way);
      if (square < forbids * forbids) return near_.resize(to), Room::none;
      if (square < matters * matters) near_.push_back(near_[i]);
      if (square < least) least = square, nearest = near_[i];
    }
    if (least >= wanted_ * wanted_) return near_.resize(to), at_ = middle, Room::some;
    if (forbidsAll(*nearest, box)) return near_.resize(to), Room::none;
    if (times == 0 && least > far_) far_ = least, at_ = middle;
    const Room room = times == 0 ? Room::unsure : parts(box, to, near_.size(), times - 1);
    near_.resize(to);
    return room;
  }

  /// Distances are convex: of a box a corner is farthest from a triangle.
  bool forbidsAll(const Corners& triangle, const Box3& box) const {
    for (int which = 0; which < 8; ++which) {
      const Vec3 p((which & 1) ? box.max.x : box.min.x, (which & 2) ? box.max.y : box.min.y, (which & 4) ? box.max.z : box.min.z);
      const Vec3 way = p - nearestOn(triangle, p);
      if (glm::dot(way, way) >= wanted_ * wanted_) return false;
    }
    return true;
  }

  Room parts(const Box3& box, std::size_t from, std::size_t to, int times) {
    const Vec3 half = box.size() * 0.5;
    Room all = Room::none;
    for (int which = 0; which < 8; ++which) {
      Box3 piece;
      piece.min = box.min + half * Vec3(which & 1, which >> 1 & 1, which >> 2);
      piece.max = piece.min + half;
      const Room room = part(piece, from, to, times);
      if (room == Room::some) return room;
      if (room == Room::unsure) all = room;
    }
    return all;
  }

  const Measure& m_;
  double wanted_;
  std::vector<const Corners*> near_;
  double far_ = 0;
  Vec3 at_{};
};

}  // namespace

std::optional<Vec3> placeIn(const Box3& box, const Measure& measure, std::span<const std::uint32_t> near) {
  Parting parting(measure, near);
  for (const int times : tuning::kPartings) {
    const Room room = parting.look(box, times);
    if (room == Room::none) return std::nullopt;
    if (room == Room::some) return parting.at();
    if (Vec3 p = box.centre(); times == tuning::kPartings[0] && measure.push(p, box)) return p;
    if (Vec3 p = parting.at(); measure.push(p, box)) return p;
  }
  return std::nullopt;
}

}  // namespace dune::flight
