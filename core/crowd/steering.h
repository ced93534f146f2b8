#pragma once
// Ways to steer, and the numbers that tune them. What each way does is in steering_model.h.

#include <optional>
#include <span>
#include <string_view>

#include "core/base/result.h"

namespace dune::crowd {

enum class Steering : std::uint8_t { reciprocal, collisionTime, directionRing, feelers, none };
constexpr std::size_t kSteerings = 5;

/// How a body steers. Every number is tuned by name, see parameters(); a way to steer heeds those that are marked as its own.
struct SteeringSettings {
  Steering model = Steering::reciprocal;
  double range = 6;          ///< metres around a body in which others are looked for
  double heeded = 12;        ///< the most others that are heeded, the nearest first
  double lookAhead = 0.72;   ///< seconds ahead in which bodies must not touch
  double wallAhead = 0.6;    ///< seconds ahead in which walls must not be touched
  double spacing = 0.03;     ///< metres kept free between bodies when there is room
  double side = 7;           ///< degrees by which one who meets others turns to its right; below zero: to its left
  double clearAhead = 8;     ///< metres ahead that it looks for the way that is free the farthest; 0: always straight
  double every = 1;          ///< steps between two decisions; what was decided holds in between
  double vigour = 1.5;       ///< how hard a body is pushed away from a collision to come
  double directions = 24;    ///< spokes of the ring
  double memory = 0.6;       ///< of the ring's weights that stay from step to step, 0 to below 1
  double caution = 1;        ///< what danger weighs against attraction
  double turnLimit = 120;    ///< degrees to either side that are felt
  double angleStep = 15;     ///< degrees between two feelers
  double stepsAhead = 5;     ///< steps that a feeler is long
  double stepLength = 0.35;  ///< metres
  double turnsOnSpot = 1;    ///< whether one that finds no free feeler stands and turns; else it creeps on: 0 or 1
  bool operator==(const SteeringSettings&) const = default;
};

/// One number of SteeringSettings, as flags, project files and sheets name it.
struct Parameter {
  const char* name;  ///< in flags and files
  const char* unit;
  double SteeringSettings::*value;
  double least, most, step;
  bool whole;       ///< a count
  unsigned models;  ///< a bit for each Steering that heeds it
  const char* says;

  bool usedBy(Steering model) const { return (models >> static_cast<unsigned>(model)) & 1u; }
};
std::span<const Parameter> parameters();

const char* steeringName(Steering model);
std::optional<Steering> steeringNamed(std::string_view name);
/// What a way to steer is, in a sentence.
const char* steeringSays(Steering model);
/// Sets a number by name. Fails, naming what there is, when there is none of that name or it makes no sense.
Outcome setParameter(SteeringSettings& settings, std::string_view name, double value);
/// The first number that makes no sense.
std::optional<Problem> checkSteering(const SteeringSettings& settings);

}  // namespace dune::crowd
