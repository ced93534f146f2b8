#include "core/hand/drape.h"

#include <cmath>
#include <map>
#include <numeric>

#include "core/base/plan_geometry.h"
#include "core/generate/merge.h"
#include "core/generate/triangulation.h"
#include "core/generate/tuning.h"
#include "core/hand/shape.h"

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
  Draping(const std::vector<Vec3>& outline, const LevelAt& levelAt) : outline_(onLattice(outline)), levelAt_(levelAt) {}

  Result<std::vector<std::vector<Vec3>>> run() {
    auto shapes = convexFaces(outline_);
    if (!shapes) return shapes.problem();
    const Vec3& first = outline_.front();
    takeSamples();
    if (samples_.empty())
      return Problem{ProblemCode::unusable,
                     "There is no level under the face.",
                     {},
                     "moving its corners by hand, near x " + std::to_string(first.x) + "."};
    LatticePoint low = samples_[0].at, high = low;
    for (const Sample& s : samples_)
      low = {std::min(low.u, s.at.u), std::min(low.v, s.at.v)}, high = {std::max(high.u, s.at.u), std::max(high.v, s.at.v)};
    for (const Vec3& c : outline_) {
      const LatticePoint p = toLattice(plan(c));
      low = {std::min(low.u, p.u), std::min(low.v, p.v)}, high = {std::max(high.u, p.u), std::max(high.v, p.v)};
    }
    plan_.emplace(LatticePoint{low.u - 1024, low.v - 1024}, LatticePoint{high.u + 1024, high.v + 1024});
    for (const Vec3& c : outline_) height_[toLattice(plan(c))] = levelAt_(c).value_or(c.y);
    for (std::size_t i = 0; i < outline_.size(); ++i)
      plan_->constrain(toLattice(plan(outline_[i])), toLattice(plan(outline_[(i + 1) % outline_.size()])), 1);
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
    double y = 0;
    for (const Vec3& c : outline_) y += c.y / static_cast<double>(outline_.size());
    if (const auto level = levelAt_ ? levelAt_(lift(toPlan(p), y)) : std::nullopt) samples_.push_back({p, *level});
  }

  double heightOver(std::int32_t t, const LatticePoint& p) const {
    const Vec2 a = toPlan(plan_->corner(t, 0)), b = toPlan(plan_->corner(t, 1)), c = toPlan(plan_->corner(t, 2)), q = toPlan(p);
    const double area = cross(b - a, c - a), wb = cross(q - a, c - a) / area, wc = cross(b - a, q - a) / area;
    const auto y = [&](int i) {
      const auto at = height_.find(plan_->corner(t, i));
      return at == height_.end() ? std::nan("") : at->second;
    };
    return y(0) + wb * (y(1) - y(0)) + wc * (y(2) - y(0));
  }

  void refine() {
    for (std::size_t added = 0; added < kMostPoints; ++added) {
      double worst = kFit;
      const Sample* at = nullptr;
      std::int32_t hint = 0;
      for (const Sample& s : samples_) {
        hint = plan_->locate(s.at, hint);
        const double off = std::abs(heightOver(hint, s.at) - s.y);
        if (off > worst) worst = off, at = &s;
      }
      if (!at) return;
      height_[at->at] = at->y;
      (void)plan_->insert(at->at);
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
      if (loop.empty()) continue;
      faces.emplace_back();
      for (const std::uint32_t v : loop) faces.back().push_back(lift(toPlan(plan_->points()[v]), roundHeight(heights[v])));
    }
    return faces;
  }

  std::vector<Vec3> outline_;
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
