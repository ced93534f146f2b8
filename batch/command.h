#pragma once
// The commands of dune-step-batch as rows of a table.

#include <CLI/CLI.hpp>
#include <functional>
#include <string>

#include "core/base/job.h"

namespace dune::batch {

/// A command: `setUp` adds its flags to the parser and gives back what runs it. The run returns the exit code.
struct Command {
  const char* name;
  const char* help;
  std::function<std::function<int()>(CLI::App&)> setUp;
};

const std::vector<Command>& commands();

/// Says a problem on standard error and gives its exit code.
int fail(const Problem& problem);
/// Messages on standard error while a job runs, when standard error is a terminal.
Job::Report progress();
/// Stops on Ctrl+C.
std::stop_token interrupted();

std::function<int()> setUpBuild(CLI::App& app);
std::function<int()> setUpPath(CLI::App& app);
std::function<int()> setUpLocate(CLI::App& app);
std::function<int()> setUpExplain(CLI::App& app);
std::function<int()> setUpCrowd(CLI::App& app);
std::function<int()> setUpInspect(CLI::App& app);
std::function<int()> setUpFits(CLI::App& app);
std::function<int()> setUpSweep(CLI::App& app);
std::function<int()> setUpCompare(CLI::App& app);
std::function<int()> setUpReach(CLI::App& app);
std::function<int()> setUpSight(CLI::App& app);
std::function<int()> setUpRandom(CLI::App& app);
std::function<int()> setUpVerify(CLI::App& app);
std::function<int()> setUpEdit(CLI::App& app);
std::function<int()> setUpConvert(CLI::App& app);

}  // namespace dune::batch
