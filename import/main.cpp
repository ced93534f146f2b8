// dune-step-import FILE BYTES SOLID: reads a level file within a limit of memory and writes it, or what is wrong with it, to standard
// output (core/level/wire.h). Started by the other programs, never by hand.

#include <sys/prctl.h>
#include <sys/resource.h>
#include <unistd.h>

#include <algorithm>
#include <csignal>
#include <cstdlib>
#include <new>

#include "core/level/import.h"
#include "core/level/wire.h"
#include "core/system/process.h"
#include "import/height_map.h"
#include "import/scene.h"
#include "import/tiles/flat_level.h"
#include "import/tiles/readers.h"
#include "import/whole_file.h"

namespace {

// Sanitizers reserve terabytes of addresses.
#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
constexpr bool kAddressesAreFree = true;
#elif defined(__has_feature)
#if __has_feature(address_sanitizer) || __has_feature(thread_sanitizer)
constexpr bool kAddressesAreFree = true;
#else
constexpr bool kAddressesAreFree = false;
#endif
#else
constexpr bool kAddressesAreFree = false;
#endif

void limitMemory(rlim_t bytes) {
  const rlimit limit{bytes, bytes};
  if (bytes > 0 && !kAddressesAreFree) setrlimit(RLIMIT_AS, &limit);
  const rlimit none{0, 0};
  setrlimit(RLIMIT_CORE, &none);
}

constexpr double kWasRead = 0.8;  // of all there is to do, when only writing is left

bool writeAll(const std::string& bytes) {
  constexpr std::size_t kBlock = 1 << 20;
  for (std::size_t at = 0; at < bytes.size();) {
    const ssize_t wrote = write(STDOUT_FILENO, bytes.data() + at, std::min(kBlock, bytes.size() - at));
    if (wrote <= 0) return false;
    at += static_cast<std::size_t>(wrote);
    dune::tellProgress(kWasRead + (1 - kWasRead) * static_cast<double>(at) / static_cast<double>(bytes.size()));
  }
  return true;
}

dune::Result<dune::level::Level> read(const std::string& path, const std::string& solid) {
  const dune::Progress progress = [](double fraction) { dune::tellProgress(fraction * kWasRead); };
  if (dune::level::isTileMap(path)) {
    auto map = dune::import::readTileMap(path, {solid});
    return map ? dune::import::flatLevel(*map, path) : map.problem();
  }
  if (auto problem = dune::import::findMissing(path)) return *problem;
  return dune::level::isHeightMap(path) ? dune::import::readHeightMap(path, progress) : dune::import::readScene(path, progress);
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 4) return 2;
  prctl(PR_SET_PDEATHSIG, SIGKILL);  // nobody is left to read the answer
  limitMemory(std::strtoull(argv[2], nullptr, 10));
  try {
    _exit(writeAll(dune::level::toWire(read(argv[1], argv[3]))) ? 0 : 1);
  } catch (const std::bad_alloc&) {
    const dune::Problem problem{dune::ProblemCode::overLimit, "Reading the file takes more memory than is allowed.", argv[1],
                                "a higher limit, or a file in parts."};
    _exit(writeAll(dune::level::toWire(problem)) ? 0 : 1);
  }
}
