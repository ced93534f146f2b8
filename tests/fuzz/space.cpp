// Files of free space: whatever is read goes on into everything that believes a space.

#include "core/flight/fleet.h"
#include "core/flight/path.h"
#include "core/meshfile/header.h"
#include "core/meshfile/space_file.h"
#include "core/review/flight_review.h"

namespace {

using namespace dune;

void use(const flight::Space& space) {
  (void)meshfile::spaceToBytes(space);
  (void)review::reviewSpace(space);
  if (space.boxes().empty()) return;
  const Box3 box = space.boxes().front();
  flight::Searcher searcher(space);
  std::vector<flight::Pilot> pilots;
  for (int i = 0; i < 2; ++i) {
    flight::Pilot pilot;
    pilot.id = i, pilot.start = box.min + (box.max - box.min) * (0.2 + 0.1 * i), pilot.goal = box.min + (box.max - box.min) * 0.8;
    const flight::Way way = searcher.find({pilot.start, pilot.goal});
    if (way.found() && way.points.empty()) __builtin_trap();
    pilots.push_back(pilot);
  }
  Job job;
  auto fleet = flight::Fleet::make({&space}, pilots, {}, job);
  if (!fleet) return;
  for (int i = 0; i < 10; ++i) (void)fleet->step(job);
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string_view bytes(reinterpret_cast<const char*>(data), size);
  if (const auto space = meshfile::spaceFromBytes(bytes)) use(**space);
  // As the body of a file whose checksum fits, which no chance finds.
  if (const auto space = meshfile::spaceFromBytes(meshfile::withHeader({"DUNEFLY1", 1, "", ""}, data, size))) use(**space);
  return 0;
}
