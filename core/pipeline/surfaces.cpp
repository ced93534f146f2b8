#include "core/pipeline/surfaces.h"

namespace dune::pipeline {

std::optional<review::Surface> Surfaces::nearest(const Vec3& at, double radius) {
  constexpr double kReach = 2;             // m up and down
  constexpr int kAround = 8;               // places on a circle, and the middle
  constexpr double kRing[] = {0.5, 1};     // of the radius
  constexpr std::size_t kMostChunks = 64;  // that are kept
  const std::lock_guard lock(mutex_);
  const ground::ChunkId chunk = ground::chunkAt(plan(at), built_->survey->chunkSize());
  auto soup = soups_.find(chunk);
  if (soup == soups_.end()) {
    if (soups_.size() >= kMostChunks) soups_.clear();
    Box2 box;
    box.add(plan(at));
    soup = soups_.emplace(chunk, built_->soupNear(box)).first;
  }
  const ground::Triangle* best = nullptr;
  double height = 0;
  const auto look = [&](const Vec2& q) {
    for (const std::uint32_t i : soup->second.near({q, q}, {at.y - kReach, at.y + kReach})) {
      const ground::Triangle& t = soup->second.triangles()[i];
      if (!t.covers(q) || t.underside) continue;
      const double y = t.heightAt(q);
      if (std::abs(y - at.y) <= kReach && (!best || std::abs(y - at.y) < std::abs(height - at.y))) best = &t, height = y;
    }
  };
  look(plan(at));
  for (const double ring : kRing)
    for (int k = 0; k < kAround; ++k) {
      const double angle = 2 * kPi * k / kAround;
      look(plan(at) + Vec2{std::cos(angle), std::sin(angle)} * (radius * ring));
    }
  if (!best) return std::nullopt;
  return review::Surface{height, built_->world.level->objects[best->object].name};
}

}  // namespace dune::pipeline
