// What a game does: loads a mesh file, asks for a path, lets a crowd walk. Links the run-time half of the core and nothing else.
// Usage: test_runtime MESH.dsmesh

#include <algorithm>
#include <cstdio>
#include <fstream>
#include <string>

#include "core/crowd/crowd.h"
#include "core/meshfile/mesh_file.h"

using namespace dune;

namespace {

int failed(const std::string& what) {
  std::fprintf(stderr, "FAILED: %s\n", what.c_str());
  return 1;
}

/// A library of the workbench half that has come along, or nothing.
std::string foreignLibrary() {
  std::ifstream maps("/proc/self/maps");
  for (std::string line; std::getline(maps, line);)
    for (const char* name : {"libtbb", "libQt", "libassimp", "libpugixml", "libpng", "libspdlog", "libfmt"})
      if (line.find(name) != std::string::npos) return line;
  return {};
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 2) return failed("a mesh file is needed");
  if (const std::string foreign = foreignLibrary(); !foreign.empty()) return failed("linked to " + foreign);
  const auto content = meshfile::read(argv[1]);
  if (!content) return failed(content.problem().text());

  // Two rules over one layout: what is free for one is forbidden to the other.
  const auto layout = std::make_shared<const route::Layout>(content->mesh);
  nav::Rules strict = content->rules;
  for (std::size_t k = 1; k < strict.kinds.size(); ++k) strict.kinds[k].forbidden = true;
  const route::Field field(layout, content->rules), narrow(layout, strict);
  route::Search search(field), other(narrow);
  const Vec3 from{50, 0, 8}, to{11, 0, 35};
  const route::PathAnswer path = route::findPath(field, search, from, to), plain = route::findPath(narrow, other, from, to);
  if (path.status != route::PathStatus::complete || path.length < glm::distance(from, to)) return failed("no path: " + path.note);
  if (plain.status != route::PathStatus::complete || plain.shares.size() != 1) return failed("the other rules do not hold");

  std::vector<crowd::Walker> walkers;
  for (int i = 0; i < 4; ++i) {
    crowd::Walker w;
    w.id = i + 1, w.start = from + Vec3{0, 0, 1.5 * i}, w.goal = to + Vec3{0, 0, 1.0 * i};
    w.radius = content->mesh.agent.radius, w.speed = content->mesh.agent.speed;
    walkers.push_back(w);
  }
  auto crowd = crowd::Crowd::make(field, walkers, {});
  if (!crowd) return failed(crowd.problem().text());
  Job job;
  while (crowd->now() < 120 && crowd->step(job)) {
  }
  const auto arrived = std::ranges::count(crowd->bodies(), crowd::State::arrived, &crowd::BodyState::state);
  if (arrived != 4) return failed(std::to_string(arrived) + " of 4 arrived");
  std::printf("path %.2f m, %zd of 4 arrived\n", path.length, arrived);
  return 0;
}
