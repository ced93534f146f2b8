#include "core/generate/fewer.h"

#include <functional>
#include <optional>

#include "core/generate/face_shape.h"

namespace dune::generate {

namespace {

class Search {
 public:
  Search(Faces& faces, double leastAngle) : faces_(faces), leastAngle_(leastAngle) {}

  void run() {
    for (std::uint32_t f = 0; f < faces_.loops.size(); ++f) neighbours_.enter(faces_, f);
    for (std::uint32_t f = 0; f < faces_.loops.size();)
      if (!improve(f)) ++f;
  }

 private:
  struct Beside {
    std::uint32_t face, a, b;  // over the edge a → b of the face in the middle
  };

  /// The faces beside f that could lie in one plane with it.
  std::vector<Beside> besides(std::uint32_t f) const {
    std::vector<Beside> all;
    const Loop& loop = faces_.loops[f];
    for (std::size_t i = 0; i < loop.size(); ++i) {
      const std::uint32_t a = loop[i], b = loop[(i + 1) % loop.size()], g = neighbours_.across(a, b);
      if (g == kNoLoop || faces_.area[g] != faces_.area[f] || std::ranges::count(all, g, &Beside::face)) continue;
      const Loop both = join(loop, faces_.loops[g], a, b);
      if (!both.empty() && nearlyFlat(both, faces_.place(), faces_.flat)) all.push_back({g, a, b});
    }
    return all;
  }

  static Loop join(const Loop& x, const Loop& y, std::uint32_t a, std::uint32_t b) {
    std::size_t joint = 0;
    return spliced(x, y, a, b, std::identity{}, joint);
  }

  bool improve(std::uint32_t f) {
    const std::vector<Beside> all = besides(f);
    for (std::size_t i = 0; i < all.size(); ++i)
      for (std::size_t j = i + 1; j < all.size(); ++j)
        if (replace(f, all[i], all[j])) return true;
    return false;
  }

  bool replace(std::uint32_t f, const Beside& g, const Beside& h) {
    const Loop two = join(faces_.loops[f], faces_.loops[g.face], g.a, g.b);
    // The edge to h may have gone with the chain that f and g shared.
    if (!hasEdge(two, h.a, h.b)) return false;
    const Loop whole = join(two, faces_.loops[h.face], h.a, h.b);
    if (whole.empty()) return false;
    const double before =
        std::min({faces_.leastAngle(faces_.loops[f]), faces_.leastAngle(faces_.loops[g.face]), faces_.leastAngle(faces_.loops[h.face])});
    auto halves = divided(whole, std::min(before, leastAngle_));
    if (!halves) return false;
    faces_.loops[h.face].clear();
    faces_.loops[f] = std::move((*halves)[0]), faces_.loops[g.face] = std::move((*halves)[1]);
    neighbours_.enter(faces_, f), neighbours_.enter(faces_, g.face);
    return true;
  }

  static bool hasEdge(const Loop& loop, std::uint32_t a, std::uint32_t b) {
    for (std::size_t i = 0; i < loop.size(); ++i)
      if (loop[i] == a && loop[(i + 1) % loop.size()] == b) return true;
    return false;
  }

  /// The polygon cut by one edge into two good faces. It goes through all reflex corners, so there is little to try.
  std::optional<std::array<Loop, 2>> divided(const Loop& whole, double atLeast) const {
    std::vector<std::size_t> reflex;
    for (std::size_t i = 0; i < whole.size() && reflex.size() <= 2; ++i)
      if (turnAt(whole, faces_.lattice(), i) < 0) reflex.push_back(i);
    if (reflex.empty() || reflex.size() > 2) return std::nullopt;
    if (reflex.size() == 2) return divided(whole, reflex[0], reflex[1], atLeast);
    std::optional<std::array<Loop, 2>> best;
    double most = atLeast;
    for (std::size_t j = 0; j < whole.size(); ++j) {
      auto halves = divided(whole, std::min(reflex[0], j), std::max(reflex[0], j), most);
      if (!halves) continue;
      most = std::min(faces_.leastAngle((*halves)[0]), faces_.leastAngle((*halves)[1]));
      best = std::move(halves);
    }
    return best;
  }

  std::optional<std::array<Loop, 2>> divided(const Loop& whole, std::size_t i, std::size_t j, double atLeast) const {
    if (j - i < 2 || whole.size() - (j - i) < 2) return std::nullopt;
    const auto at = [&](std::size_t k) { return whole.begin() + static_cast<std::ptrdiff_t>(k); };
    Loop one(at(i), at(j + 1)), other(at(j), whole.end());
    other.insert(other.end(), whole.begin(), at(i + 1));
    if (!good(one, atLeast) || !good(other, atLeast)) return std::nullopt;
    return std::array<Loop, 2>{std::move(one), std::move(other)};
  }

  bool good(const Loop& loop, double atLeast) const {
    for (std::size_t i = 0; i < loop.size(); ++i)
      if (turnAt(loop, faces_.lattice(), i) < 0) return false;
    // Turning left everywhere is convex only when it turns once around.
    for (std::size_t i = 1; i + 1 < loop.size(); ++i)
      if (orientation(faces_.points[loop[0]], faces_.points[loop[i]], faces_.points[loop[i + 1]]) < 0) return false;
    return nearlyFlat(loop, faces_.place(), faces_.flat) && faces_.leastAngle(loop) >= atLeast;
  }

  Faces& faces_;
  double leastAngle_;
  Neighbours neighbours_;
};

}  // namespace

void mergeThroughReflex(Faces& faces, double leastAngle) { Search(faces, leastAngle).run(); }

}  // namespace dune::generate
