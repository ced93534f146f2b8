#include "core/project/file.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const auto project = dune::project::fromJson(std::string(reinterpret_cast<const char*>(data), size));
  if (project && !dune::project::fromJson(dune::project::toJson(*project))) __builtin_trap();  // what loads must load again
  return 0;
}
