// Tile maps in both forms, read in this process: a level or a problem, and nothing that crashes.

#include <unistd.h>

#include <filesystem>

#include "core/base/file.h"
#include "import/tiles/flat_level.h"
#include "import/tiles/readers.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  if (size < 1) return 0;
  const std::string bytes(reinterpret_cast<const char*>(data + 1), size - 1);
  const std::string path =
      (std::filesystem::temp_directory_path() / ("dune-fuzz-" + std::to_string(getpid()) + (data[0] % 2 ? ".tmx" : ".tmj"))).string();
  if (!dune::writeFile(path, bytes)) __builtin_trap();
  const auto map = dune::import::readTileMap(path, {});
  if (map) {
    const auto level = dune::import::flatLevel(*map, path);
    if (level)
      for (const auto& object : level->objects)
        for (const auto& t : object.triangles)
          for (const std::uint32_t v : t)
            if (v >= object.vertices.size()) __builtin_trap();
  } else if (map.problem().what.empty()) {
    __builtin_trap();
  }
  std::filesystem::remove(path);
  return 0;
}
