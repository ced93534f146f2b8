#include "core/route/way_length.h"

#include <algorithm>

#include "core/base/plan_geometry.h"
#include "core/route/facets.h"

namespace dune::route {

namespace {

/// The edges between triangles of one face that a straight way in it goes over.
class InnerEdges {
 public:
  explicit InnerEdges(const Facets& facets) : facets_(facets) {}

  /// Where, in their order; good until asked again.
  const std::vector<std::pair<double, Vec3>>& between(nav::FaceId face, const Vec3& from, const Vec3& to) {
    over_.clear();
    const auto corners = static_cast<std::uint32_t>(facets_.mesh().cornerCount(face));
    for (Facet t{face, 0}; t.fan + 2 < corners; ++t.fan)
      for (unsigned e = 0; e < 3; ++e) {
        // Each is the edge of two triangles, in both directions; what goes on to the next corner is a side of the face.
        const std::uint32_t first = facets_.cornerNumber(t, e), last = facets_.cornerNumber(t, e + 1);
        if (first + 1 < last && last - first + 1 < corners) cross(facets_.at(t, e), facets_.at(t, e + 1), from, to);
      }
    std::ranges::sort(over_, {}, &std::pair<double, Vec3>::first);
    return over_;
  }

 private:
  void cross(const Vec3& first, const Vec3& last, const Vec3& from, const Vec3& to) {
    constexpr double kAtEnd = 1e-9;
    const Vec2 way = plan(to) - plan(from), edge = plan(last) - plan(first), aside = plan(first) - plan(from);
    const double turn = dune::cross(way, edge);
    if (turn == 0) return;
    const double along = dune::cross(aside, edge) / turn, at = dune::cross(aside, way) / turn;
    if (along <= kAtEnd || along >= 1 - kAtEnd || at < 0 || at > 1) return;
    const Vec2 place = plan(from) + way * along;
    over_.emplace_back(along, lift(place, glm::mix(first.y, last.y, at)));
  }

  const Facets& facets_;
  std::vector<std::pair<double, Vec3>> over_;
};

/// Metres from a point of a way to the next, over ground.
double lengthOver(InnerEdges& edges, const WayPoint& a, const WayPoint& b) {
  double length = 0;
  Vec3 last = a.at;
  for (const auto& over : edges.between(a.face, a.at, b.at)) length += glm::distance(last, over.second), last = over.second;
  return length + glm::distance(last, b.at);
}

}  // namespace

WayLength lengthOf(const Field& field, const std::vector<WayPoint>& way) {
  InnerEdges edges(field.facets());
  WayLength length;
  for (std::size_t i = 1; i < way.size(); ++i) {
    const WayPoint &a = way[i - 1], &b = way[i];
    if (a.link >= 0) {
      length.metres +=
          field.rules().costOf(field.mesh().links[static_cast<std::size_t>(a.link)], a.at, b.at) / field.perMetre(way.front().face);
      continue;
    }
    const double over = lengthOver(edges, a, b);
    length.metres += over, length.climb += over - glm::distance(plan(a.at), plan(b.at));
  }
  return length;
}

void layOnGround(const Field& field, std::vector<WayPoint>& way) {
  constexpr double kBends = 1e-6;  // metres off the straight line, below which nobody needs to know
  InnerEdges edges(field.facets());
  std::vector<WayPoint> whole;
  whole.reserve(way.size());
  for (std::size_t i = 0; i < way.size(); ++i) {
    whole.push_back(way[i]);
    if (i + 1 == way.size() || way[i].link >= 0) continue;
    const Vec3 &from = way[i].at, &to = way[i + 1].at;
    for (const auto& [along, at] : edges.between(way[i].face, from, to))
      if (std::abs(at.y - glm::mix(from.y, to.y, along)) > kBends) whole.push_back({at, way[i].face});
  }
  way = std::move(whole);
}

}  // namespace dune::route
