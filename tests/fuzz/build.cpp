// The whole build on any soup: whatever the triangles, the mesh keeps every promise of its structure, a rebuild of the same world takes
// everything over, and the bytes do not depend on it.

#include "core/generate/build.h"
#include "core/nav/structure.h"
#include "core/system/threads.h"

namespace {

/// Nine bytes a triangle: corners around a place that the first bytes choose, on a coarse grid so that things touch and coincide.
dune::level::World worldFrom(const std::uint8_t* data, std::size_t size) {
  auto level = std::make_shared<dune::level::Level>();
  constexpr std::size_t kTriangle = 9, kPerObject = 4, kMost = 60;
  for (std::size_t i = 0; i + kTriangle <= size && i / kTriangle < kMost; i += kTriangle) {
    if (i / kTriangle % kPerObject == 0) level->objects.push_back({"o" + std::to_string(i), {}, {}});
    auto& object = level->objects.back();
    const auto base = static_cast<std::uint32_t>(object.vertices.size());
    for (std::size_t k = 0; k < 3; ++k)
      object.vertices.edit().push_back({data[i + 3 * k] / 6.0 - 21, (data[i + 3 * k + 1] % 64) / 16.0, data[i + 3 * k + 2] / 6.0 - 21});
    object.triangles.edit().push_back({base, base + 1, base + 2});
  }
  return dune::level::plainWorld(std::move(level));
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const dune::level::World world = worldFrom(data, size);
  if (world.level->objects.empty()) return 0;
  dune::ThreadedJob job;
  job.setThreads(1);
  const auto built = dune::generate::build(world, {}, job);
  if (!built || !dune::nav::checkStructure((*built)->mesh).empty()) __builtin_trap();
  const auto again = dune::generate::build(world, {}, job, *built);
  if (!again || (*again)->chunksMade != 0 || (*again)->mesh.corners != (*built)->mesh.corners) __builtin_trap();
  return 0;
}
