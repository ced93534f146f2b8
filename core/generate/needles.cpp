#include "core/generate/needles.h"

#include <algorithm>
#include <optional>

#include "core/generate/face_shape.h"

namespace dune::generate {

namespace {

/// Triangles (base[i], base[i + 1], apex), from right to left seen from the apex.
struct Fan {
  std::uint32_t apex;
  std::vector<std::uint32_t> base, triangles;
  std::uint32_t before = kNoLoop, after = kNoLoop;  // the faces beside it
};

class FanShortener {
 public:
  FanShortener(Faces& faces, double leastAngle) : faces_(faces), leastAngle_(leastAngle) {}

  void run() {
    std::vector<std::uint32_t> thin;
    for (std::uint32_t f = 0; f < faces_.loops.size(); ++f)
      if (apexOf(f) != kNoLoop) thin.push_back(f);
    if (thin.empty()) return;
    for (std::uint32_t f = 0; f < faces_.loops.size(); ++f) neighbours_.enter(faces_, f);
    for (const std::uint32_t f : thin)
      if (apexOf(f) != kNoLoop) shorten(fanAround(f));
  }

 private:
  /// The corner of a thin triangle that the fan would turn around: where its angle is too small.
  std::uint32_t apexOf(std::uint32_t face) const {
    const Loop& loop = faces_.loops[face];
    if (loop.size() != 3) return kNoLoop;
    for (std::size_t i = 0; i < 3; ++i)
      if (faces_.angleAt(loop, i) < leastAngle_) return loop[i];
    return kNoLoop;
  }

  /// All thin triangles beside each other that share the apex.
  Fan fanAround(std::uint32_t face) const {
    const std::uint32_t apex = apexOf(face);
    auto belongs = [&](std::uint32_t f) { return f != kNoLoop && apexOf(f) == apex && faces_.area[f] == faces_.area[face]; };
    auto turned = [&](std::uint32_t f) {
      Loop loop = faces_.loops[f];
      std::rotate(loop.begin(), std::ranges::find(loop, apex), loop.end());
      return loop;  // apex, right, left
    };
    std::uint32_t first = face;
    for (std::uint32_t f = neighbours_.across(apex, turned(first)[1]); belongs(f) && f != face;
         f = neighbours_.across(apex, turned(first)[1]))
      first = f;
    Fan fan{apex, {turned(first)[1]}, {}};
    fan.before = neighbours_.across(apex, fan.base[0]);
    for (std::uint32_t f = first; belongs(f) && std::ranges::count(fan.triangles, f) == 0; f = fan.after) {
      fan.triangles.push_back(f);
      fan.base.push_back(turned(f)[2]);
      fan.after = neighbours_.across(fan.base.back(), apex);
    }
    keepOutermost(fan);
    return fan;
  }

  /// Where no face lies beside the fan that could take the new corner, its own outermost triangle does.
  void keepOutermost(Fan& fan) const {
    const std::uint16_t area = faces_.area[fan.triangles[0]];
    if (fan.before == kNoLoop || faces_.area[fan.before] != area) {
      fan.before = fan.triangles.front();
      fan.triangles.erase(fan.triangles.begin());
      fan.base.erase(fan.base.begin());
    }
    if (!fan.triangles.empty() && (fan.after == kNoLoop || faces_.area[fan.after] != area)) {
      fan.after = fan.triangles.back();
      fan.triangles.pop_back();
      fan.base.pop_back();
    }
  }

  void shorten(const Fan& fan) {
    if (fan.triangles.empty() || fan.before == fan.after) return;
    const Vec3 right = faces_.place()(fan.base.front()), left = faces_.place()(fan.base.back()), apex = faces_.place()(fan.apex);
    const double width = glm::distance(plan(right), plan(left)), depth = glm::distance(plan(right + left) / 2.0, plan(apex));
    // From where the triangles are well shaped towards where the faces beside stay convex even when they have little room.
    for (const double aside : {0.5, 0.15, 0.85})
      for (const double far : {1.0, 2.0, 4.0, 0.5, 8.0, 16.0})
        if (far * width <= depth / 2 && tryCorner(fan, glm::mix(glm::mix(right, left, aside), apex, far * width / depth))) return;
  }

  bool tryCorner(const Fan& fan, const Vec3& at) {
    const auto s = static_cast<std::uint32_t>(faces_.points.size());
    faces_.points.push_back(toLattice(plan(at)));
    faces_.heights.push_back(roundHeight(at.y));
    if (auto loops = changed(fan, s)) return write(fan, std::move(*loops)), true;
    faces_.points.pop_back();
    faces_.heights.pop_back();
    return false;
  }

  /// The fan's triangles and the faces before and after it with corner s; nothing where they are not better than what is there.
  std::optional<std::vector<Loop>> changed(const Fan& fan, std::uint32_t s) const {
    std::vector<Loop> loops;
    for (std::size_t i = 0; i + 1 < fan.base.size(); ++i) loops.push_back({fan.base[i], fan.base[i + 1], s});
    loops.push_back(withCorner(faces_.loops[fan.before], fan.base.front(), s));
    loops.push_back(withCorner(faces_.loops[fan.after], fan.apex, s));
    const double atLeast =
        std::min({2 * leastAngle_, faces_.leastAngle(faces_.loops[fan.before]), faces_.leastAngle(faces_.loops[fan.after])});
    for (const Loop& loop : loops) {
      for (std::size_t i = 0; i < loop.size(); ++i)
        if (turnAt(loop, faces_.lattice(), i) < 0 || (loop.size() == 3 && turnAt(loop, faces_.lattice(), i) == 0)) return std::nullopt;
      if (!nearlyFlat(loop, faces_.place(), faces_.flat) || faces_.leastAngle(loop) < atLeast) return std::nullopt;
    }
    return loops;
  }

  static Loop withCorner(Loop loop, std::uint32_t behind, std::uint32_t s) {
    loop.insert(std::ranges::find(loop, behind) + 1, s);
    return loop;
  }

  void write(const Fan& fan, std::vector<Loop> loops) {
    std::vector<std::uint32_t> faces = fan.triangles;
    faces.push_back(fan.before), faces.push_back(fan.after);
    for (std::size_t i = 0; i < faces.size(); ++i) faces_.loops[faces[i]] = std::move(loops[i]);
    for (const std::uint32_t f : faces) neighbours_.enter(faces_, f);
  }

  Faces& faces_;
  double leastAngle_;
  Neighbours neighbours_;
};

}  // namespace

void shortenFans(Faces& faces, double leastAngle) { FanShortener(faces, leastAngle).run(); }

}  // namespace dune::generate
