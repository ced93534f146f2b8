#pragma once
// What the commands do with free space: building it from levels and projects, and asking its files as they ask meshes.

#include "batch/flags.h"
#include "core/review/movement.h"

namespace dune::batch {

/// build --fly
struct FlyFlags {
  bool fly = false;
  std::string flyer;
  std::optional<double> radius, halfHeight;
  double leastHeight = 0, mostHeight = 0;
  std::vector<std::string> volumes, air;
  void add(CLI::App& app);
};
int buildFlight(const std::vector<std::string>& inputs, const BuildFlags& build, const FlyFlags& fly, const std::string& out, bool json,
                Job& job);

/// path, with a .dsfly
int pathInSpace(const std::string& file, const std::optional<std::pair<Vec3, Vec3>>& ends, const std::string& pairs, bool json);
/// explain, with a .dsfly
int explainInSpace(const std::string& file, const Vec3& at, bool json);

/// fits, with a .dsfly
int fitsInSpace(const std::string& file, const Vec3& from, const Vec3& to, bool json, Job& job);

struct FlightCrowdFlags {
  std::string input, agents, out;
  std::optional<double> seconds;
  double rate = 30;
  bool json = false;
  std::string among{};  ///< a recording
};
/// crowd, with a .dsfly and a table, or with a project's groups that fly
int crowdInSpace(const FlightCrowdFlags& flags, Job& job);

/// What is wrong with a .dsfly and with a recording in it.
Result<std::vector<review::Finding>> inspectSpace(const std::string& file, const trace::Trace* trace, const review::MovementLimits& limits,
                                                  Job& job);

}  // namespace dune::batch
