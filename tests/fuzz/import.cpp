// The importer as it is used: the reading process may do what it likes, we get a level or a problem that names the file.

#include <unistd.h>

#include <filesystem>

#include "core/base/file.h"
#include "core/level/import.h"
#include "core/level/wire.h"
#include "core/system/threads.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  if (size < 1) return 0;
  const std::string bytes(reinterpret_cast<const char*>(data + 1), size - 1);
  (void)dune::level::fromWire(bytes);
  const char* endings[] = {".obj", ".gltf", ".glb"};
  const std::string path =
      (std::filesystem::temp_directory_path() / ("dune-fuzz-" + std::to_string(getpid()) + endings[data[0] % 3])).string();
  if (!dune::writeFile(path, bytes)) __builtin_trap();
  dune::ThreadedJob job;
  const auto level = dune::level::importLevel(path, {}, job);
  if (!level && level.problem().where.find("dune-fuzz-") == std::string::npos) __builtin_trap();
  if (level)
    for (const auto& object : (*level)->objects)
      for (const auto& v : object.vertices)
        if (!dune::isFinite(v)) __builtin_trap();
  std::filesystem::remove(path);
  return 0;
}
