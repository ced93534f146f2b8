#pragma once
// What a run leaves behind: where every body was at every step, what it wanted and what it did.

#include <cstdint>
#include <string>
#include <vector>

#include "core/mesh/navmesh.h"

namespace dune::crowd {

enum class State : std::uint8_t { moving, arrived, stuck, link, waiting, offMesh };

struct Sample {
  double t = 0;  ///< seconds
  int id = 0;
  Vec3 at{};        ///< feet, metres
  Vec3 velocity{};  ///< metres a second
  Vec3 wanted{};    ///< the velocity it wanted before avoiding
  State state = State::moving;
  mesh::FaceId face = mesh::kNoFace;
};

/// Samples ordered by time, then id; every body has one at every step.
struct Trace {
  std::vector<Sample> samples;
  double step = 0;            ///< seconds between samples; 0 when they are not evenly spaced
  std::vector<int> ids;       ///< ascending
  std::vector<double> radii;  ///< one an id; 0 when not known
  std::vector<Vec3> goals;    ///< one an id; empty when not known
  bool derived = false;       ///< velocities were worked out from positions

  std::size_t frameCount() const { return ids.empty() ? 0 : samples.size() / ids.size(); }
  const Sample& at(std::size_t frame, std::size_t body) const { return samples[frame * ids.size() + body]; }
  double duration() const { return samples.empty() ? 0 : samples.back().t; }
};

const char* stateName(State state);

}  // namespace dune::crowd
