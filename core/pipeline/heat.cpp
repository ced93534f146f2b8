#include "core/pipeline/heat.h"

#include <array>
#include <map>

namespace dune::pipeline {

namespace {

constexpr double kStorey = 1.5;                             // m
constexpr std::size_t kMostSamples = 3'000'000;             // that are looked at
constexpr double kStands = 0.05, kSlow = 0.5, kNear = 0.1;  // m/s; of the top speed; of the radius

bool counts(const Run& run, Heat heat, std::size_t i, const trace::Sample& s, std::size_t body) {
  if (s.state == trace::State::waiting || s.state == trace::State::offMesh) return false;
  const nav::Agent& agent = run.groundOf(body).mesh.agent;
  const double speed = glm::length(s.velocity);
  const bool onWay = s.state != trace::State::arrived && s.state != trace::State::link;
  switch (heat) {
    case Heat::none:
      return false;
    case Heat::there:
      return true;
    case Heat::slow:
      return onWay && speed < kSlow * agent.speed;
    case Heat::stood:
      return onWay && speed < kStands;
    case Heat::atWalls:
      return onWay && run.wallDistance[i] < agent.radius * (1 + kNear);
  }
  return false;
}

}  // namespace

std::vector<HeatCell> heatOf(const Run& run, Heat heat, Job& job) {
  const trace::Trace& t = run.trace;
  const std::size_t bodies = t.bodies().size(), frames = t.frameCount();
  if (bodies == 0 || frames < 2) return {};
  const std::size_t every = std::max<std::size_t>(1, frames * bodies / kMostSamples);
  std::map<std::array<long, 3>, HeatCell> cells;
  for (std::size_t f = 0; f + 1 < frames; f += every) {
    if (job.cancelled()) return {};
    const double seconds = t.timeOf(std::min(f + every, frames - 1)) - t.timeOf(f);
    for (std::size_t b = 0; b < bodies; ++b) {
      const trace::Sample s = t.at(f, b);
      if (!counts(run, heat, f * bodies + b, s, b)) continue;
      HeatCell& cell = cells[{std::lround(s.at.x / kHeatCell), std::lround(s.at.y / kStorey), std::lround(s.at.z / kHeatCell)}];
      cell.seconds += seconds;
      cell.at.y += s.at.y * seconds;
    }
  }
  std::vector<HeatCell> all;
  for (const auto& [key, cell] : cells)
    all.push_back(
        {{static_cast<double>(key[0]) * kHeatCell, cell.at.y / cell.seconds, static_cast<double>(key[2]) * kHeatCell}, cell.seconds});
  return all;
}

}  // namespace dune::pipeline
