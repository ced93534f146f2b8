#include <algorithm>

#include "core/route/path.h"

namespace dune::route {

namespace {

void add(PathAnswer& all, PathAnswer part) {
  const auto offset = static_cast<std::uint32_t>(all.points.empty() ? 0 : all.points.size() - 1);
  if (all.points.empty())
    all.points = part.points;
  else
    all.points.insert(all.points.end(), part.points.begin() + (part.points.empty() ? 0 : 1), part.points.end());
  all.faces.insert(all.faces.end(), part.faces.begin() + (!all.faces.empty() && !part.faces.empty() && all.faces.back() == part.faces[0]),
                   part.faces.end());
  for (const LinkUse& l : part.links) all.links.push_back({l.id, l.enter + offset, l.leave + offset});
  for (Stretch s : part.stretches) s.first += offset, s.last += offset, all.stretches.push_back(s);
  for (const AreaShare& s : part.shares) {
    const auto same = std::ranges::find(all.shares, s.area, &AreaShare::area);
    if (same == all.shares.end())
      all.shares.push_back(s);
    else
      same->length += s.length, same->cost += s.cost;
  }
  all.length += part.length, all.cost += part.cost, all.linkCost += part.linkCost;
  all.optimalityBound = std::max(all.optimalityBound, part.optimalityBound);
  if (part.narrowest > 0 && (all.narrowest == 0 || part.narrowest < all.narrowest))
    all.narrowest = part.narrowest, all.narrowestAt = part.narrowestAt;
  if (part.sharpestTurn > all.sharpestTurn) all.sharpestTurn = part.sharpestTurn, all.sharpestAt = part.sharpestAt;
  if (part.steepest > all.steepest) all.steepest = part.steepest, all.steepestAt = part.steepestAt;
}

}  // namespace

PathAnswer findPathThrough(const Field& field, Search& search, const std::vector<Vec3>& places, const PathOptions& options) {
  PathAnswer all;
  for (std::size_t i = 0; i + 1 < places.size(); ++i) {
    PathAnswer part = findPath(field, search, places[i], places[i + 1], options);
    if (i == 0) all.start = part.start;
    all.goal = part.goal, all.status = part.status;
    if (!part.note.empty()) all.note += (all.note.empty() ? "" : " ") + part.note;
    if (part.status == PathStatus::none) break;
    add(all, std::move(part));
    if (all.status != PathStatus::complete) break;
  }
  if (all.status == PathStatus::none && !all.points.empty()) all.status = PathStatus::partial;
  if (!places.empty()) all.straight = glm::distance(places.front(), places.back());
  return all;
}

}  // namespace dune::route
