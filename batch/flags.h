#pragma once
// Flags that several commands share.

#include <nlohmann/json_fwd.hpp>

#include "batch/command.h"
#include "core/generate/build.h"
#include "core/level/import.h"
#include "core/level/role_rules.h"
#include "core/project/project.h"

namespace dune::batch {

/// "X,Y,Z", numbers finite; a Problem of kind usage otherwise.
Result<Vec3> parsePoint(const std::string& text, const std::string& flag);

/// "X0,Z0,X1,Z1" as a box of the plan.
Result<Box2> parsePlanBox(const std::string& text, const std::string& flag);

/// "X0,Y0,Z0,X1,Y1,Z1", the low corner first.
Result<Box3> parseBox(const std::string& text, const std::string& flag);

/// A point given by a flag; `add` registers it, `value` reads it after parsing.
struct PointFlag {
  std::string text, flag;
  CLI::Option* add(CLI::App& app, const std::string& name, const std::string& help);
  Result<Vec3> value() const { return parsePoint(text, flag); }
};

/// --max-memory, for Job::setMemoryLimit.
void addMaxMemory(CLI::App& app, std::uint64_t& bytes);

/// The agent's limits and how levels are read.
struct BuildFlags {
  nav::Agent agent;
  double scale = 1;
  std::optional<double> pixelSize, rise;  // what a kind of file has when nothing is said is the importer's business
  std::string solid = "solid";
  std::string up = "y", bounds, agentName;
  std::vector<std::string> seeds, roles, kinds;
  double join = 0.05, spacing = 0.2, linkSpacing = 0.25;
  level::LeastIsland leastIsland;
  bool pieces = false;
  std::uint64_t maxMemory = Job::kDefaultMemory;  // bytes
  void add(CLI::App& app);
  level::ImportOptions importOf(const std::string& file) const;
  /// The world of the given level files, with bounds, seeds and joining distance.
  Result<level::World> world(const std::vector<std::string>& files, Job& job) const;
};

/// [x, y, z]
nlohmann::ordered_json pointJson(const Vec3& p);
/// One JSON document on standard output; names that are no UTF-8 do not stop it.
void printJson(const nlohmann::ordered_json& json, int indent = 1);

bool isProject(const std::string& path);
/// The number of the agent with a name; the first when no name is given.
Result<std::size_t> agentNamed(const project::Project& project, const std::string& name);

}  // namespace dune::batch
