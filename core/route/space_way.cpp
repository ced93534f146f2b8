#include "core/route/space_way.h"

#include <algorithm>
#include <span>

#include "core/route/plan_ahead.h"
#include "core/route/search.h"
#include "core/route/slope_search.h"
#include "core/route/way_length.h"

namespace dune::route {

namespace {

constexpr std::size_t kCrossingsWhole = 300;                      // edges that a way goes over which is searched for as a whole
constexpr double kMuchClimbing = 1.02;                            // times what it is at least: then one over more edges is as well
constexpr std::size_t kCrossingsPiece = 48, kViewsPiece = 3'000;  // the same of a piece, and what is looked at for it
// Pieces are gone on with while they save more than this. Over gentle terrain, where ways are 0.8 % longer in space than in plan, all of
// them save 0.003 %; over dunes ten times as much and more.
constexpr double kWorthGoingOn = 1e-4;
constexpr std::size_t kPiecesToJudge = 3;

/// The ends of a way, each on the ground that the way is on there.
nav::Place startOf(std::span<const WayPoint> way) { return {way.front().face, way.front().at}; }
nav::Place goalOf(std::span<const WayPoint> way) {
  return {way[way.size() - 2].link >= 0 ? way.back().face : way[way.size() - 2].face, way.back().at};
}

auto offsetIn(const std::vector<WayPoint>& way, std::size_t i) { return way.begin() + static_cast<std::ptrdiff_t>(i); }

}  // namespace

bool isAlmostLevel(const Field& field, const std::vector<WayPoint>& way) {
  constexpr double kLevel = 1e-4;  // of the length
  const WayLength length = lengthOf(field, way);
  return length.climb <= length.metres * kLevel;
}

void SpaceWay::shorten(Way& way) {
  const bool one = field_.isOfOneCost() && slopes_.links().plain();
  if (!one || !asOne(way)) byStretches(way);
}

/// Whether nothing better is left to be looked for.
bool SpaceWay::asOne(Way& way) {
  const nav::Place start = startOf(way), goal = goalOf(way);
  const double length = lengthOf(field_, way).metres, least = search_.lowerBound() / field_.perMetre(way.front().face);
  if (way.size() > kCrossingsWhole && length < least * kMuchClimbing) return false;
  const PlanAhead ahead(field_, search_, start, goal, length);
  if (!ahead.complete()) return false;
  tried_ = true;
  SlopeSearch::Found found = slopes_.find(start, goal, length, &ahead, true, views_);
  const bool better = !found.way.empty();
  if (better) way = std::move(found.way);
  // Over lanes of wide links alone: no way over as many of these is shorter.
  const auto links = std::ranges::count_if(way, [](const WayPoint& p) { return p.link >= 0; });
  least_ = found.least - slopes_.links().beside() * static_cast<double>(std::max<std::ptrdiff_t>(1, links));
  return better || found.all;
}

bool SpaceWay::isNewStretch(const WayPoint& before, const WayPoint& at) const {
  const auto& classOf = field_.ground().simple().classOf;
  const auto classAt = [&](const WayPoint& p) { return classOf[field_.mesh().area[index(p.face)]]; };
  return before.link >= 0 || at.link >= 0 || classAt(before) != classAt(at);
}

void SpaceWay::byStretches(Way& way) {
  Way whole;
  std::size_t from = 0;
  for (std::size_t i = 1; i < way.size(); ++i) {
    if (i + 1 < way.size() && !isNewStretch(way[i - 1], way[i])) continue;
    Way part(offsetIn(way, from), offsetIn(way, i + 1));
    if (part.front().link < 0) stretch(part, tried_ && from == 0 && i + 1 == way.size());
    whole.insert(whole.end(), part.begin(), part.end() - 1);
    from = i;
  }
  whole.push_back(way.back());
  way = std::move(whole);
}

/// `tried`: as a whole, in vain.
void SpaceWay::stretch(Way& way, bool tried) {
  if (way.size() < 3 || isAlmostLevel(field_, way)) return;
  if (way.size() <= kCrossingsWhole && !tried) {
    SlopeSearch::Found found = slopes_.find(startOf(way), goalOf(way), lengthOf(field_, way).metres, nullptr, false, views_);
    if (!found.way.empty()) way = std::move(found.way);
    if (found.all) return;
  }
  pieces_ = {};
  piecewise(way, 0);
  piecewise(way, kCrossingsPiece / 2);
}

bool SpaceWay::Pieces::worthGoingOn(std::size_t most) const {
  return views < most && (count < kPiecesToJudge || saved > kWorthGoingOn * length);
}

void SpaceWay::piecewise(Way& way, std::size_t offset) {
  std::size_t from = std::min(offset, way.size() - 1);
  Way whole(way.cbegin(), offsetIn(way, from));
  while (from + 1 < way.size()) {
    const std::size_t to = std::min(from + kCrossingsPiece, way.size() - 1);
    Way part(offsetIn(way, from), offsetIn(way, to + 1));
    if (pieces_.worthGoingOn(views_)) shortenPiece(part);
    whole.insert(whole.end(), part.begin(), part.end() - 1);
    from = to;
  }
  whole.push_back(way.back());
  way = std::move(whole);
}

void SpaceWay::shortenPiece(Way& part) {
  if (part.size() < 3 || isAlmostLevel(field_, part)) return;
  const double length = lengthOf(field_, part).metres;
  SlopeSearch::Found found = slopes_.find(startOf(part), goalOf(part), length, nullptr, false, kViewsPiece);
  ++pieces_.count, pieces_.views += slopes_.viewsMade(), pieces_.length += length;
  if (found.way.empty()) return;
  part = std::move(found.way);
  pieces_.saved += length - lengthOf(field_, part).metres;
}

}  // namespace dune::route
