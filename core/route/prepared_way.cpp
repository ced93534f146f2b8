#include "core/route/prepared_way.h"

#include "core/route/field.h"
#include "core/route/trace_way.h"

namespace dune::route {

namespace {

constexpr std::size_t kUsualPoints = 64;  // of a way

class WayWriter {
 public:
  WayWriter(const Prepared& prepared, const Prepared::End& start, std::vector<BendSight::Over>& edges)
      : sight_(prepared.sight()), edges_(edges), at_(start) {
    add(start.at, start.facet.face, true);
  }

  /// Straight on from a place to the bend that sees it.
  void toBend(const SeenBend& to, const Vec3& place) {
    edges_.clear();
    sight_.over(to.sight, place, edges_);
    goOnIn(sight_.facetOf(to.sight));
    for (const BendSight::Over& e : edges_) cross(e.at, e.into);
    arriveAt(to.bend);
  }
  /// Straight on from the bend where the way is to what it sees: a place, or the next bend.
  void fromBend(std::uint32_t sight, const Vec3& place) {
    edges_.clear();
    sight_.over(sight, place, edges_);
    goOnIn(edges_.empty() ? sight_.facetOf(sight) : edges_.back().into);
    for (std::size_t i = edges_.size(); i-- > 0;) cross(edges_[i].at, edges_[i].from);
  }
  void arriveAt(std::uint32_t number) {
    const Bend& bend = sight_.bends()[number];
    at_.at = bend.to;
    add(at_.at, at_.facet.face, true);
    if (bend.link == nullptr) return;
    way_.back().link = static_cast<int>(bend.link->link);
    at_ = {bend.link->landing, bend.link->to};
    add(at_.at, at_.facet.face, true);
  }
  std::vector<WayPoint> end(const Prepared::End& goal) {
    add(goal.at, at_.facet.face, true);
    return std::move(way_);
  }

 private:
  void add(const Vec3& at, nav::FaceId face, bool bend) { way_.push_back({at, face, -1, bend}); }
  /// At a corner and on an edge the way may leave over another triangle than it came by.
  void goOnIn(const Facet& facet) {
    at_.facet = facet;
    if (way_.back().face != facet.face) add(at_.at, facet.face, true);
  }
  void cross(const Vec3& at, const Facet& into) {
    at_ = {into, at};
    add(at, into.face, false);
  }

  const BendSight& sight_;
  std::vector<BendSight::Over>& edges_;
  Prepared::End at_;
  std::vector<WayPoint> way_;
};

}  // namespace

std::vector<WayPoint> wayInSpace(const Prepared& prepared, const BendTable::Between& over, const Prepared::End& start,
                                 const Prepared::End& goal, Prepared::Scratch& scratch) {
  WayWriter writer(prepared, start, scratch.edges);
  writer.toBend(over.first, start.at);
  prepared.table().between(over.first.bend, over.last.bend, scratch.joins);
  for (const std::uint32_t number : scratch.joins) {
    const BendTable::Join& join = prepared.table().joins()[number];
    writer.fromBend(join.sight, prepared.sight().bends()[join.to].to);
    writer.arriveAt(join.to);
  }
  writer.fromBend(over.last.sight, goal.at);
  return writer.end(goal);
}

std::vector<WayPoint> wayInPlan(const Field& field, const Prepared& prepared, const BendTable::Between& over, const nav::Place& start,
                                const nav::Place& goal, Prepared::Scratch& scratch) {
  const Stretches& stretches = *prepared.stretches();
  prepared.table().between(over.first.bend, over.last.bend, scratch.joins);
  std::vector<WayPoint> way;
  way.reserve(kUsualPoints);
  traceStretch(field, start, stretches.placeOf(over.first.bend), way);
  way.pop_back();  // the next one begins there
  for (const std::uint32_t join : scratch.joins) {
    const auto points = stretches.of(join);
    way.insert(way.end(), points.begin(), points.end());
  }
  traceStretch(field, stretches.placeOf(over.last.bend), goal, way);
  return way;
}

}  // namespace dune::route
