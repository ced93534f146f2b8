#include "core/exchange/mesh_files.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string bytes(reinterpret_cast<const char*>(data), size);
  for (const auto& mesh : {dune::exchange::meshFromBinary(bytes), dune::exchange::meshFromJson(bytes)})
    if (mesh && dune::mesh::checkStructure(*mesh).empty()) (void)dune::exchange::meshToBinary(*mesh);
  return 0;
}
