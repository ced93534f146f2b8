// dune-step-batch: the same core without a window.

#include <unistd.h>

#include <csignal>
#include <cstdio>
#include <thread>

#include "batch/command.h"

namespace dune::batch {

namespace {
std::stop_source& stopSource() {
  static std::stop_source source;
  return source;
}
volatile std::sig_atomic_t interruptedFlag = 0;
}  // namespace

const std::vector<Command>& commands() {
  static const std::vector<Command> kCommands{
      {"build", "Build the navigation mesh of level files or of a project", setUpBuild},
      {"path", "Find paths on a mesh", setUpPath},
      {"locate", "Find the nearest place on a mesh", setUpLocate},
      {"reach", "Say what is within a distance of a place, with rings", setUpReach},
      {"sight", "Say whether a place sees another along the ground, and what is in the way", setUpSight},
      {"random", "Pick places by chance within a distance of a place", setUpRandom},
      {"explain", "Say why a place can or cannot be walked on", setUpExplain},
      {"fits", "Find the widest and the tallest agent that gets from one place to another", setUpFits},
      {"sweep", "Try one limit of an agent over a range", setUpSweep},
      {"compare", "Say what is different between the grounds of two projects", setUpCompare},
      {"crowd", "Let a crowd walk on a mesh and record it", setUpCrowd},
      {"inspect", "Find what is wrong with a mesh, a project or a recorded movement", setUpInspect},
      {"verify", "Ask the kept routes of a project again and hold them against what is expected", setUpVerify},
      {"edit", "Make changes by hand in a project, from a script", setUpEdit},
      {"convert", "Write a mesh in another format", setUpConvert},
  };
  return kCommands;
}

int fail(const Problem& problem) {
  std::fprintf(stderr, "dune-step-batch: %s\n", problem.text().c_str());
  return exitCode(problem.code);
}

Job::Report progress() {
  if (!isatty(STDERR_FILENO)) return {};
  return [](const std::string& step, double fraction) {
    std::fprintf(stderr, "\r%3.0f %%  %-24s", fraction * 100, step.c_str());
    if (fraction >= 1) std::fprintf(stderr, "\r%40s\r", "");
  };
}

std::stop_token interrupted() {
  // A signal handler may only set a flag; a thread of its own turns it into a stop request.
  static std::jthread watcher([](const std::stop_token& end) {
    while (!end.stop_requested() && !interruptedFlag) usleep(50'000);
    if (interruptedFlag) stopSource().request_stop();
  });
  std::signal(SIGINT, [](int) { interruptedFlag = 1; });
  return stopSource().get_token();
}

}  // namespace dune::batch

int main(int argc, char** argv) {
  CLI::App app("Dune Step without a window: navigation meshes, paths, crowds and reviews for build scripts.", "dune-step-batch");
  app.set_version_flag("--version", std::string("dune-step-batch ") + DUNE_VERSION);
  app.require_subcommand(1);
  std::vector<std::pair<CLI::App*, std::function<int()>>> runs;
  for (const dune::batch::Command& command : dune::batch::commands()) {
    CLI::App* sub = app.add_subcommand(command.name, command.help);
    runs.emplace_back(sub, command.setUp(*sub));
  }
  const std::string asked = argc > 1 ? argv[1] : "";
  const bool known = asked.starts_with('-') || std::ranges::any_of(runs, [&](const auto& r) { return r.first->get_name() == asked; });
  if (!known) {
    std::string names;
    for (const auto& [sub, run] : runs) names += (names.empty() ? "" : ", ") + sub->get_name();
    const std::string what = asked.empty() ? "Say what is to be done." : "There is no command \"" + asked + "\".";
    std::fprintf(stderr, "%s The commands are %s; --help tells more.\n", what.c_str(), names.c_str());
    return 2;
  }
  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& e) {
    return app.exit(e) == 0 ? 0 : 2;
  }
  for (const auto& [sub, run] : runs)
    if (sub->parsed()) return run();
  return 2;
}
