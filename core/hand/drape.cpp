#include "core/hand/drape.h"

#include <cmath>
#include <map>
#include <numeric>

#include "core/base/plan_geometry.h"
#include "core/generate/merge.h"
#include "core/generate/triangulation.h"
#include "core/generate/tuning.h"
#include "core/hand/shape.h"
#include "core/hand/sheet.h"

namespace dune::hand {

namespace {

constexpr double kFit = 0.036;    // m that the level may be off a face
constexpr double kSpacing = 0.2;  // m between the places where that is looked at
constexpr std::size_t kMostPoints = 400;
constexpr std::size_t kMostSamples = 40'000;

struct Sample {
  LatticePoint at;
  double y;
};

class Draping {
 public:
  Draping(const std::vector<Vec3>& outline, const LevelAt& levelAt)
      : outline_(onLattice(outline)), face_(sheetFace(outline_, 0)), levelAt_(levelAt) {}

  Result<std::vector<std::vector<Vec3>>> run() {
    auto shapes = convexFaces(outline_);
    if (!shapes) return shapes.problem();
    takeSamples();
    if (samples_.empty())
      return Problem{ProblemCode::unusable, "There is no level under the face.", placeText(outline_.front()),
                     "moving its corners by hand."};
    std::vector<LatticePoint> corners;
    for (const Vec3& c : outline_) corners.push_back(toLattice(plan(c)));
    plan_ = generate::Triangulation::around(corners);
    for (std::size_t i = 0; i < corners.size(); ++i) {
      height_[corners[i]] = levelAt_(outline_[i]).value_or(outline_[i].y);
      plan_->constrain(corners[i], corners[(i + 1) % corners.size()], 1);
    }
    refine();
    return faces();
  }

 private:
  /// On a grid within, and on its sides at places of the lattice.
  void takeSamples() {
    Box2 box;
    Polygon shape;
    for (const Vec3& c : outline_) box.add(plan(c)), shape.push_back(plan(c));
    const Vec2 size = box.max - box.min;
    const double spacing = std::max(kSpacing, std::sqrt(size.x * size.y / static_cast<double>(kMostSamples)));
    for (double v = box.min.y + spacing / 2; v < box.max.y; v += spacing)
      for (double u = box.min.x + spacing / 2; u < box.max.x; u += spacing)
        if (contains(shape, {u, v})) sample({u, v});
    for (std::size_t i = 0; i < outline_.size(); ++i) {
      const LatticePoint a = toLattice(shape[i]), b = toLattice(shape[(i + 1) % shape.size()]);
      const std::int64_t steps = std::gcd(b.u - a.u, b.v - a.v);
      const double length = glm::distance(shape[i], shape[(i + 1) % shape.size()]);
      const std::int64_t every = std::max<std::int64_t>(1, std::llround(static_cast<double>(steps) * spacing / std::max(length, spacing)));
      for (std::int64_t k = every; k < steps; k += every) sample(toPlan({a.u + (b.u - a.u) / steps * k, a.v + (b.v - a.v) / steps * k}));
    }
  }

  void sample(const Vec2& q) {
    const LatticePoint p = toLattice(q);
    // From the face as it is: on a slope the level may be far from its mean.
    if (const auto level = levelAt_ ? levelAt_(lift(toPlan(p), face_.heightAt(p))) : std::nullopt) samples_.push_back({p, *level});
  }

  /// Of the triangle at p; nothing where that takes a corner beyond the outline, which has no height.
  std::optional<double> heightOver(std::int32_t t, const LatticePoint& p) const {
    const std::array<LatticePoint, 3> corners{plan_->corner(t, 0), plan_->corner(t, 1), plan_->corner(t, 2)};
    const Vec2 q = toPlan(p);
    double sum = 0, whole = 0;
    for (std::size_t i = 0; i < 3; ++i) {
      const double part = cross(toPlan(corners[(i + 1) % 3]) - q, toPlan(corners[(i + 2) % 3]) - q);
      if (part == 0) continue;  // p lies on the side across, as every place of the outline does
      const auto known = height_.find(corners[i]);
      if (known == height_.end()) return std::nullopt;
      sum += part * known->second, whole += part;
    }
    return sum / whole;
  }

  /// In every triangle the place where it is farthest off, until none is off by more than allowed.
  void refine() {
    const std::size_t most = height_.size() + kMostPoints;
    while (height_.size() < most) {
      std::map<std::int32_t, std::pair<double, const Sample*>> worst;  // of each triangle
      std::int32_t hint = 0;
      for (const Sample& s : samples_) {
        hint = plan_->locate(s.at, hint);
        const auto here = heightOver(hint, s.at);
        if (!here || std::abs(*here - s.y) <= kFit) continue;
        const double off = std::abs(*here - s.y);
        if (auto& known = worst[hint]; off > known.first) known = {off, &s};
      }
      if (worst.empty()) return;
      for (const auto& [triangle, found] : worst) {
        if (height_.size() == most) return;
        height_[found.second->at] = found.second->y;
        (void)plan_->insert(found.second->at);
      }
    }
  }

  std::vector<std::vector<Vec3>> faces() const {
    Polygon shape;
    for (const Vec3& c : outline_) shape.push_back(plan(c));
    std::vector<double> heights;
    for (const LatticePoint& p : plan_->points()) {
      const auto at = height_.find(p);
      heights.push_back(at == height_.end() ? 0 : at->second);
    }
    std::vector<std::array<std::uint32_t, 3>> own;
    for (std::int32_t t = 0; t < static_cast<std::int32_t>(plan_->triangles().size()); ++t)
      if (contains(shape, (toPlan(plan_->corner(t, 0)) + toPlan(plan_->corner(t, 1)) + toPlan(plan_->corner(t, 2))) / 3.0))
        own.push_back(plan_->triangles()[static_cast<std::size_t>(t)].v);
    const std::vector<std::uint16_t> area(own.size(), 0);
    const generate::Faces merged = generate::mergeTriangles({plan_->points(), heights, own, area, generate::tuning::kFlat});
    std::vector<std::vector<Vec3>> faces;
    for (const generate::Loop& loop : merged.loops) {
      faces.emplace_back();
      for (const std::uint32_t v : loop) faces.back().push_back(lift(toPlan(plan_->points()[v]), roundHeight(heights[v])));
    }
    return faces;
  }

  std::vector<Vec3> outline_;
  SheetFace face_;  // the same
  const LevelAt& levelAt_;
  std::vector<Sample> samples_;
  std::optional<generate::Triangulation> plan_;
  std::map<LatticePoint, double> height_;
};

}  // namespace

Result<std::vector<std::vector<Vec3>>> drapedFaces(const std::vector<Vec3>& outline, const LevelAt& levelAt) {
  if (outline.size() < 3) return Problem{ProblemCode::usage, "A face has three corners or more.", {}, {}};
  return Draping(outline, levelAt).run();
}

}  // namespace dune::hand
