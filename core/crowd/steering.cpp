#include "core/crowd/steering.h"

#include <array>
#include <cmath>

#include "core/base/number_text.h"

namespace dune::crowd {

namespace {

using S = SteeringSettings;

constexpr unsigned only(Steering model) { return 1u << static_cast<unsigned>(model); }
constexpr unsigned kReciprocal = only(Steering::reciprocal), kTime = only(Steering::collisionTime), kRing = only(Steering::directionRing),
                   kFeelers = only(Steering::feelers);
constexpr unsigned kAvoiding = kReciprocal | kTime | kRing | kFeelers;

constexpr std::array kParameters{
    Parameter{"range", "m", &S::range, 0.5, 30, 0.5, false, kAvoiding, "How far around itself a body looks for others."},
    Parameter{"heeded", "", &S::heeded, 1, 64, 1, true, kAvoiding, "The most others that it heeds, the nearest first."},
    Parameter{"look-ahead", "s", &S::lookAhead, 0.1, 10, 0.1, false, kReciprocal | kTime | kRing,
              "Seconds ahead in which it must not touch another. More turns aside earlier; in a dense crowd less gets on better."},
    Parameter{"wall-ahead", "s", &S::wallAhead, 0.05, 5, 0.05, false, kAvoiding, "Seconds ahead in which it must not touch a wall."},
    Parameter{"spacing", "m", &S::spacing, 0, 2, 0.01, false, kAvoiding, "Metres kept free between bodies when there is room."},
    Parameter{"side", "°", &S::side, -45, 45, 1, false, kReciprocal,
              "By how much one who meets others turns to its right; below zero: to its left."},
    Parameter{"clear-ahead", "m", &S::clearAhead, 0, 30, 0.5, false, kReciprocal,
              "Metres ahead that it looks for the way that is free the farthest; 0: it goes straight and only gives way."},
    Parameter{"every", "steps", &S::every, 1, 30, 1, true, kAvoiding,
              "Steps between two decisions. More is cheaper and coarser; nobody touches anybody all the same."},
    Parameter{"vigour", "", &S::vigour, 0.1, 20, 0.1, false, kTime, "How hard it is pushed away from a collision to come."},
    Parameter{"directions", "", &S::directions, 6, 72, 2, true, kRing, "Spokes of the ring that are weighed."},
    Parameter{"memory", "", &S::memory, 0, 0.95, 0.05, false, kRing,
              "How much of the ring's weights stays from step to step: more is calmer."},
    Parameter{"caution", "", &S::caution, 0.1, 5, 0.1, false, kRing, "What danger weighs against attraction."},
    Parameter{"turn-limit", "°", &S::turnLimit, 10, 180, 5, false, kFeelers, "How far to either side it feels for a way."},
    Parameter{"angle-step", "°", &S::angleStep, 2, 90, 1, false, kFeelers, "Degrees between two feelers."},
    Parameter{"steps-ahead", "", &S::stepsAhead, 1, 30, 1, true, kFeelers, "How many steps long a feeler is."},
    Parameter{"step-length", "m", &S::stepLength, 0.05, 3, 0.05, false, kFeelers, "How long one step of a feeler is."},
    Parameter{"turns-on-spot", "", &S::turnsOnSpot, 0, 1, 1, true, kFeelers,
              "1: who finds no free feeler stands and turns until one is; 0: it creeps on."},
};

constexpr const char* kNames[kSteerings] = {"reciprocal", "collision-time", "direction-ring", "feelers", "none"};
constexpr const char* kSays[kSteerings] = {
    "Of all velocities that touch nobody for a while, if the other does its half, the one nearest to the wanted one.",
    "Pushed away from each collision to come, the harder the sooner it would be.",
    "Directions around the body, each weighed by where it leads and by what is in the way.",
    "Straight ahead while that is free for some steps; else the first free direction to either side.",
    "Straight on, through anybody: what the others cost and gain.",
};

std::string text(double x) {
  std::string said;
  appendNumber(said, x, 6);
  return said;
}

std::string names() {
  std::string all;
  for (const Parameter& p : kParameters) all += (all.empty() ? "" : ", ") + std::string(p.name);
  return all;
}

std::optional<Problem> check(const Parameter& p, double value) {
  const bool sane = value >= p.least && value <= p.most && (!p.whole || value == std::floor(value));
  if (sane) return std::nullopt;
  return Problem{ProblemCode::usage, std::string("The number of \"") + p.name + "\" makes no sense: " + text(value) + ".", "",
                 std::string(p.whole ? "a whole number" : "a number") + " from " + text(p.least) + " to " + text(p.most) + "."};
}

}  // namespace

std::span<const Parameter> parameters() { return kParameters; }
const char* steeringName(Steering model) { return kNames[static_cast<std::size_t>(model)]; }
const char* steeringSays(Steering model) { return kSays[static_cast<std::size_t>(model)]; }

std::optional<Steering> steeringNamed(std::string_view name) {
  for (std::size_t i = 0; i < kSteerings; ++i)
    if (name == kNames[i]) return static_cast<Steering>(i);
  return std::nullopt;
}

Outcome setParameter(SteeringSettings& settings, std::string_view name, double value) {
  for (const Parameter& p : kParameters) {
    if (name != p.name) continue;
    if (auto problem = check(p, value)) return *problem;
    settings.*p.value = value;
    return Nothing{};
  }
  return Problem{ProblemCode::usage, "Steering has no number named \"" + std::string(name) + "\".", "", "one of " + names() + "."};
}

std::optional<Problem> checkSteering(const SteeringSettings& settings) {
  for (const Parameter& p : kParameters)
    if (auto problem = check(p, settings.*p.value)) return problem;
  return std::nullopt;
}

}  // namespace dune::crowd
