// Why a body can or cannot be at a place in the air, and how large one may be.

#include <algorithm>
#include <cmath>

#include "core/base/text.h"
#include "core/flight/path.h"
#include "core/pipeline/flight.h"

namespace dune::pipeline {

namespace {

std::string metres(double value) { return text("%.2f m", value); }
std::string quoted(const std::string& name) { return "\"" + name + "\""; }

/// A cell of a place that fits, or of where one gets to from it.
flight::NodeId cellNear(const flight::Space& space, const Vec3& p) {
  if (const flight::NodeId n = space.covering(p); n != flight::kNoNode) return n;
  const double unit = space.measure().unit();
  for (const double far : {1.0, 2.0, 4.0})
    for (int x = -1; x <= 1; ++x)
      for (int y = -1; y <= 1; ++y)
        for (int z = -1; z <= 1; ++z) {
          const flight::NodeId n = space.covering(p + Vec3(x, y, z) * unit * far);
          if (n != flight::kNoNode && space.clear(p, space.at(n))) return n;
        }
  return flight::kNoNode;
}

constexpr double kAround = 50;  // metres in which the nearest thing is looked for

}  // namespace

FlightAnswer explainFlight(const flight::Space& space, const Vec3& at) {
  FlightAnswer answer;
  const flight::Flyer& f = space.flyer();
  const Vec3 p = space.stretched(at);
  if (!space.volume().contains(p)) {
    const Vec3 within = space.real(space.volume().nearest(p));
    answer.reason = "outside", answer.distance = glm::distance(at, within), answer.missing = answer.distance;
    answer.sentence = "It is " + metres(answer.distance) + " outside of where it may fly.";
    return answer;
  }
  const flight::Obstacles::Near near = space.obstacles().nearest(p, kAround, flight::Obstacles::Which::ofLevel);
  answer.object = space.nameOf(near.barrier);
  answer.distance = near.barrier < 0 ? std::numeric_limits<double>::infinity() : glm::distance(at, space.real(near.on));
  // In the direction of what is nearest the body reaches so far.
  const double reaches = near.distance > 0 ? answer.distance * f.radius / near.distance : std::min(f.radius, f.halfHeight);
  if (near.barrier >= 0 && near.distance < space.measure().swept()) {
    answer.missing = reaches - answer.distance;
    answer.reason = "touches";
    answer.sentence = quoted(answer.object) + " is " + metres(answer.distance) + " from its middle, where the body reaches " +
                      metres(reaches) + ": it would be " + metres(answer.missing) + " deep in it.";
    return answer;
  }
  const flight::NodeId cell = cellNear(space, p);
  if (space.obstacles().inSolid(p)) {
    answer.reason = "inside", answer.missing = answer.distance + reaches;
    answer.sentence = "It is inside a closed solid, " + metres(answer.distance) + " from " + quoted(answer.object) + ".";
    return answer;
  }
  if (const std::string why = space.whyNotSoHigh(p); !why.empty()) {
    const flight::HeightAt height = space.heightAt(p);
    answer.reason = "height";
    answer.missing = height.is == flight::HeightAt::Is::low    ? f.leastHeight - height.height
                     : height.is == flight::HeightAt::Is::high ? height.height - f.mostHeight
                                                               : reaches - answer.distance;
    answer.sentence = "It may not be here: " + why + ".";
    if (f.hovers() && space.overLow(p)) answer.sentence += " It may take off and land here, straight up and down.";
    return answer;
  }
  answer.fits = true, answer.reason = "fits";
  if (cell != flight::kNoNode && space.part(cell) != flight::kNoNode)
    answer.part = space.part(cell), answer.partSize = space.partSize(answer.part);
  answer.sentence = near.barrier < 0 ? "It fits: nothing is within " + text("%.0f m.", kAround)
                                     : "It fits: the nearest thing, " + quoted(answer.object) + ", is " + metres(answer.distance) +
                                           " from its middle, where the body reaches " + metres(reaches) + ".";
  if (answer.part != flight::kNoNode && answer.part > 0)
    answer.sentence += " From here one gets nowhere but to " + metres(answer.partSize) + "³ around it.";
  return answer;
}

flight::SpaceInput inputOf(const flight::Space& space) {
  flight::SpaceInput input{space.flyer(), space.boxes(), {}, space.names(), space.airs().zones()};
  std::ranges::copy_if(space.obstacles().all(), std::back_inserter(input.barriers), &flight::Barrier::ofLevel);
  for (flight::Barrier& barrier : input.barriers)
    for (Vec3& corner : barrier.corner) corner = space.real(corner);
  return input;
}

Result<WidestFlyer> widestFlyer(const flight::SpaceInput& input, const Vec3& from, const Vec3& to, Job& job) {
  constexpr double kLeast = 0.05, kMost = 20, kExact = 1.01;
  constexpr int kTries = 24;
  std::optional<flight::Way> best;
  std::shared_ptr<const flight::Space> bestSpace;
  const auto tries = [&](double scale) -> Result<bool> {
    flight::SpaceInput scaled = input;
    scaled.flyer.radius *= scale, scaled.flyer.halfHeight *= scale;
    if (scaled.flyer.radius < 0.02 || scaled.flyer.halfHeight < 0.02 || scaled.flyer.radius > 100 || scaled.flyer.halfHeight > 100)
      return false;
    Job quiet(job, Job::Quiet{});
    auto space = flight::Space::make(std::move(scaled), quiet);
    if (!space) return space.problem();
    flight::Way way = flight::Searcher(**space).find({from, to});
    if (!way.found()) return false;
    best = std::move(way), bestSpace = *space;
    return true;
  };
  job.step("Trying sizes", 1);
  double low = 0, high = kMost;
  double scale = 1;
  for (int n = 0; n < kTries; ++n) {
    const auto passes = tries(scale);
    if (!passes) return passes.problem();
    (*passes ? low : high) = scale;
    if (low > 0 && high / low < kExact) break;
    if (low == 0 && high < kLeast) break;
    scale = low == 0 ? high / 2 : high == kMost ? std::min(low * 2, kMost * 0.999) : std::sqrt(low * high);
    if (low > kMost * 0.99) break;
    job.advance((n + 1) / static_cast<double>(kTries));
  }
  WidestFlyer widest;
  if (!best) return widest;
  widest.radius = bestSpace->flyer().radius, widest.halfHeight = bestSpace->flyer().halfHeight;
  // Where it has least room on both sides: the place of its way from which it is pushed into the middle least far.
  double least = std::numeric_limits<double>::infinity();
  const flight::Measure m = bestSpace->measure();
  for (std::size_t i = 1; i < best->points.size(); ++i) {
    const Vec3 a = best->points[i - 1], b = best->points[i];
    const int steps = std::max(1, static_cast<int>(glm::distance(a, b) / (0.25 * widest.radius)));
    for (int k = 0; k <= steps; ++k) {
      Vec3 p = bestSpace->stretched(a + (b - a) * (static_cast<double>(k) / steps));
      Box3 around;
      around.add(p - Vec3(m.radius)), around.add(p + Vec3(m.radius));
      double room = m.radius;
      for (const double share : {1.02, 1.05, 1.1, 1.2, 1.4, 1.8}) {
        if (!m.push(p, around, m.radius * share)) break;
        room = m.radius * share;
      }
      if (room >= least) continue;
      const flight::Obstacles::Near near = bestSpace->obstacles().nearest(p, 4 * m.radius, flight::Obstacles::Which::ofLevel);
      least = room, widest.at = bestSpace->real(p), widest.object = bestSpace->nameOf(near.barrier);
    }
  }
  return widest;
}

}  // namespace dune::pipeline
