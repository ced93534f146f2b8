#include "core/links/stretches.h"

#include <algorithm>
#include <numeric>
#include <unordered_map>

#include "core/links/find.h"
#include "core/links/short_walk.h"

namespace dune::links {

namespace {

using nav::LinkKind;

constexpr double kOff = 0.01;  // m in plan and 0.04 in height by which a way in a link may be off the straight line between its ends
constexpr double kOffHeight = 0.04;
constexpr double kSameHeight = 0.5;  // m: ends of two links at one place
constexpr double kCell = 2.0;        // m
constexpr double kNarrow = 1.0;      // m
constexpr double kBeside = 1.0;      // m between links that do the same, if the walk between them is no longer than
constexpr double kBesideWalk = 2.0;  // m

/// One way of a link: from a place of its run to where it lands.
struct Way {
  BrinkPlace from;
  Landing to;
};

class Stretches {
 public:
  Stretches(const nav::NavMesh& mesh, const nav::Locator& locator, double spacing) : mesh_(mesh), locator_(locator), spacing_(spacing) {}

  void add(const BorderRun& run, const std::vector<std::vector<Landing>>& ways) {
    std::vector<std::vector<Way>> open, next;
    for (std::size_t i = 0; i < run.places.size(); ++i) {
      next.clear();
      for (const Landing& l : ways[i]) {
        const Way way{run.places[i], l};
        if (isThere(way, run.corner)) continue;
        const auto goesOn = std::ranges::find_if(open, [&](const std::vector<Way>& o) { return !o.empty() && fits(o, way); });
        if (goesOn == open.end() || run.corner) {
          next.push_back({way});
        } else {
          next.push_back(std::move(*goesOn));
          next.back().push_back(way);
          goesOn->clear();
        }
      }
      for (const auto& o : open) close(o);
      std::swap(open, next);
    }
    for (const auto& o : open) close(o);
  }

  /// Without narrow ones right beside wider ones between the same grounds: around what is round there would be one at each of its corners.
  std::vector<nav::Link> take() {
    std::vector<std::uint32_t> order(links_.size());
    std::iota(order.begin(), order.end(), 0u);
    std::ranges::stable_sort(order, std::ranges::greater(), [&](std::uint32_t i) { return links_[i].width(); });
    std::vector<char> kept(links_.size(), 0);
    for (const std::uint32_t i : order) kept[i] = links_[i].width() >= kNarrow || !hasWider(links_[i], kept);
    std::vector<nav::Link> all;
    for (std::size_t i = 0; i < links_.size(); ++i)
      if (kept[i]) all.push_back(links_[i]), all.back().id = kFirstFound + static_cast<int>(all.size()) - 1;
    return all;
  }

 private:
  /// Whether a way lies on the straight line on from those before it, and they all on the one to it.
  bool fits(const std::vector<Way>& before, const Way& way) const {
    const Way& first = before.front();
    if (first.to.kind != way.to.kind || first.to.back != way.to.back) return false;
    for (std::size_t i = 1; i < before.size(); ++i) {
      const double t = static_cast<double>(i) / static_cast<double>(before.size());
      if (off(first.from.at.position, way.from.at.position, t, before[i].from.at.position) ||
          off(first.to.at.position, way.to.at.position, t, before[i].to.at.position))
        return false;
    }
    // Beside each other at both ends: else they lead to different places.
    const Vec3 apart = (way.to.at.position - before.back().to.at.position) - (way.from.at.position - before.back().from.at.position);
    return glm::length(plan(apart)) <= kOff + spacing_ && std::abs(apart.y) <= kOffHeight + spacing_ &&
           isGround((before.back().from.at.position + way.from.at.position) * 0.5) &&
           isGround((before.back().to.at.position + way.to.at.position) * 0.5);
  }
  bool isGround(const Vec3& p) const { return locator_.nearest(p, kOffHeight).valid(); }
  static bool off(const Vec3& a, const Vec3& b, double t, const Vec3& p) {
    const Vec3 d = p - glm::mix(a, b, t);
    return glm::length(plan(d)) > kOff || std::abs(d.y) > kOffHeight;
  }

  /// Whether a link already goes there, or comes from there and goes both ways; of a corner, whether one begins and lands near by.
  bool isThere(const Way& way, bool corner) const {
    const double near = corner ? 2 * mesh_.agent.radius + spacing_ : spacing_;
    bool found = false;
    eachNear(way.from.at.position, [&](const nav::Link& l) {
      if (l.kind != way.to.kind) return;
      const auto lies = [&](const Vec3& from, const Vec3& fromHalf, const Vec3& to, const Vec3& toHalf) {
        return isNear(from, fromHalf, way.from.at.position, near) && isNear(to, toHalf, way.to.at.position, near + (corner ? 1.0 : 0.0));
      };
      found = found || lies(l.from, l.fromHalf, l.to, l.toHalf) || (!l.oneWay && lies(l.to, l.toHalf, l.from, l.fromHalf));
    });
    return found;
  }
  static bool isNear(const Vec3& middle, const Vec3& half, const Vec3& p, double near) {
    const Vec3 d = p - nav::nearestOnStretch(middle, half, p);
    return glm::length(plan(d)) <= near && std::abs(d.y) <= kSameHeight;
  }

  bool hasWider(const nav::Link& narrow, const std::vector<char>& kept) const {
    bool found = false;
    eachNear(narrow.from, [&](const nav::Link& l) {
      if (found || !kept[static_cast<std::size_t>(&l - links_.data())] || (l.oneWay && !narrow.oneWay)) return;
      const auto does = [&](const Vec3& from, const Vec3& fromHalf, nav::FaceId fromFace, const Vec3& to, const Vec3& toHalf,
                            nav::FaceId toFace) {
        const double most = kBesideWalk + l.width() / 2;
        return isNear(from, fromHalf, narrow.from, kBeside) && isNear(to, toHalf, narrow.to, kBeside) &&
               walksWithin(mesh_, {narrow.fromFace, narrow.from}, {fromFace, from}, most) &&
               walksWithin(mesh_, {toFace, to}, {narrow.toFace, narrow.to}, most);
      };
      found = does(l.from, l.fromHalf, l.fromFace, l.to, l.toHalf, l.toFace) ||
              (!l.oneWay && does(l.to, l.toHalf, l.toFace, l.from, l.fromHalf, l.fromFace));
    });
    return found;
  }

  void close(const std::vector<Way>& ways) {
    if (ways.empty() || (ways.size() == 1 && isThere(ways[0], false))) return;
    const Way &first = ways.front(), &last = ways.back(), &middle = ways[ways.size() / 2];
    const Vec3 &a = middle.from.at.position, &b = middle.to.at.position;
    nav::Link link{
        kFirstFound + static_cast<int>(links_.size()), middle.to.kind, a, b, middle.from.at.face, middle.to.at.face, !middle.to.back};
    link.area = static_cast<int>(mesh_.area[index(link.fromFace)]), link.radius = mesh_.agent.radius, link.generated = true;
    if (ways.size() > 1) {
      // The middle of a stretch need not be a place that was tried; it is off the ground by a centimetre at most.
      const Vec3 from = (first.from.at.position + last.from.at.position) * 0.5, to = (first.to.at.position + last.to.at.position) * 0.5;
      link.fromHalf = last.from.at.position - from, link.toHalf = last.to.at.position - to;
      link.from = from, link.to = to;
      link.fromFace = faceNear(from, ways, true), link.toFace = faceNear(to, ways, false);
    }
    for (const Vec3& end : {link.from, link.to}) {
      const Vec3& half = end == link.from ? link.fromHalf : link.toHalf;
      const double reach = glm::length(plan(half));
      const int parts = 1 + static_cast<int>(2 * reach / kCell);
      for (int i = 0; i <= parts; ++i) {
        auto& cell = cells_[keyOf(end + half * (2.0 * i / parts - 1))];
        const auto number = static_cast<std::uint32_t>(links_.size());
        if (cell.empty() || cell.back() != number) cell.push_back(number);
      }
    }
    links_.push_back(link);
  }
  /// Of the faces that the ways begin or end on, the one nearest to a place.
  nav::FaceId faceNear(const Vec3& p, const std::vector<Way>& ways, bool begin) const {
    nav::FaceId best = nav::kNoFace;
    double least = std::numeric_limits<double>::infinity();
    for (const Way& w : ways) {
      const nav::FaceId face = begin ? w.from.at.face : w.to.at.face;
      const double d = glm::distance(nav::nearestOnFace(mesh_, face, p), p);
      if (d < least) least = d, best = face;
    }
    return best;
  }

  static std::uint64_t keyOf(const Vec3& p) {
    return keyOf(static_cast<std::int64_t>(std::floor(p.x / kCell)), static_cast<std::int64_t>(std::floor(p.z / kCell)));
  }
  static std::uint64_t keyOf(std::int64_t x, std::int64_t z) {
    return static_cast<std::uint64_t>(static_cast<std::uint32_t>(x)) << 32 | static_cast<std::uint32_t>(z);
  }
  template <class Visit>
  void eachNear(const Vec3& p, Visit&& visit) const {
    const auto x = static_cast<std::int64_t>(std::floor(p.x / kCell)), z = static_cast<std::int64_t>(std::floor(p.z / kCell));
    for (std::int64_t i = x - 1; i <= x + 1; ++i)
      for (std::int64_t k = z - 1; k <= z + 1; ++k)
        if (const auto cell = cells_.find(keyOf(i, k)); cell != cells_.end())
          for (const std::uint32_t n : cell->second) visit(links_[n]);
  }

  const nav::NavMesh& mesh_;
  const nav::Locator& locator_;
  double spacing_;
  std::vector<nav::Link> links_;
  std::unordered_map<std::uint64_t, std::vector<std::uint32_t>> cells_;  // where links begin and land
};

}  // namespace

std::vector<nav::Link> stretches(const nav::NavMesh& mesh, const nav::Locator& locator, const std::vector<BorderRun>& runs,
                                 const std::vector<std::vector<std::vector<Landing>>>& ways, double spacing) {
  Stretches made(mesh, locator, spacing);
  // Corners last: what the runs beside them do is better done there.
  for (const bool corners : {false, true})
    for (std::size_t r = 0; r < runs.size(); ++r)
      if (runs[r].corner == corners) made.add(runs[r], ways[r]);
  return made.take();
}

}  // namespace dune::links
