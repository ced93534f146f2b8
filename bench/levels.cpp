#include "bench/levels.h"

#include <filesystem>

#include "core/base/file.h"
#include "core/level/import.h"
#include "core/system/threads.h"
#include "demo/depot.h"

namespace dune::bench {

namespace {

std::shared_ptr<const level::Level> depot() {
  static const auto kLevel = [] {
    const std::string path = (std::filesystem::temp_directory_path() / "dune-step-bench.glb").string();
    ThreadedJob job;
    if (!writeFile(path, demo::depotLevel().bytes())) std::abort();
    auto level = level::importLevel(path, {}, job);
    std::filesystem::remove(path);
    return *level;
  }();
  return kLevel;
}

}  // namespace

nav::Agent agent() { return demo::depotProject().agents->agents[0]; }

level::World depotCopies(int n) {
  auto level = std::make_shared<level::Level>();
  int side = 1;
  while (side * side < n) side *= 2;
  for (int i = 0; i < n; ++i)
    for (level::Object o : depot()->objects) {
      o.name += " " + std::to_string(i);
      for (Vec3& v : o.vertices.edit()) v += Vec3{64.0 * (i % side), 0, 48.0 * (i / side)};
      level->objects.push_back(std::move(o));
    }
  return level::plainWorld(std::move(level));
}

level::World withMoved(const level::World& world, const std::string& object, const Vec3& by) {
  auto level = std::make_shared<level::Level>(*world.level);
  for (level::Object& o : level->objects)
    if (o.name == object)
      for (Vec3& v : o.vertices.edit()) v += by;
  level::World moved = world;
  moved.level = std::move(level);
  return moved;
}

std::shared_ptr<const level::Level> terrain(int side, double spacing) {
  level::Object o;
  o.name = "hills";
  for (int r = 0; r <= side; ++r)
    for (int c = 0; c <= side; ++c) {
      const double x = c * spacing, z = r * spacing;
      o.vertices.edit().push_back({x, 3 * std::sin(x / 11) * std::cos(z / 13) + 0.4 * std::sin(x / 2.3 + z / 3.1), z});
    }
  const auto at = [&](int r, int c) { return static_cast<std::uint32_t>(r * (side + 1) + c); };
  for (int r = 0; r < side; ++r)
    for (int c = 0; c < side; ++c) {
      o.triangles.edit().push_back({at(r, c), at(r + 1, c), at(r + 1, c + 1)});
      o.triangles.edit().push_back({at(r, c), at(r + 1, c + 1), at(r, c + 1)});
    }
  auto level = std::make_shared<level::Level>();
  level->objects.push_back(std::move(o));
  return level;
}

}  // namespace dune::bench
