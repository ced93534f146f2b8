#include "core/links/find.h"

#include <algorithm>
#include <map>

#include "core/base/parallel.h"
#include "core/links/border_runs.h"
#include "core/links/flight_room.h"
#include "core/links/landings.h"
#include "core/links/short_walk.h"
#include "core/links/stretches.h"
#include "core/nav/locator.h"

namespace dune::links {

namespace {

using nav::LinkKind;

constexpr double kLonger = 1.5;    // a way is left out where one walks there in so much of its length
constexpr double kLongerBy = 1.0;  // and a metre

class Finder {
 public:
  Finder(const nav::NavMesh& mesh, const level::World& world, const ground::Survey& survey, Job& job)
      : mesh_(mesh), world_(world), survey_(survey), job_(job), locator_(mesh), landings_(mesh, locator_),
        spacing_(std::min(world.linkSpacing, mesh.agent.radius)) {}

  Result<std::vector<nav::Link>> run() {
    const std::vector<BorderRun> runs = borderRuns(mesh_, spacing_);
    std::map<ground::ChunkId, std::vector<Asked>> byChunk;
    std::vector<std::vector<std::vector<Landing>>> ways(runs.size());
    for (std::uint32_t r = 0; r < runs.size(); ++r) {
      ways[r].resize(runs[r].places.size());
      for (std::uint32_t i = 0; i < runs[r].places.size(); ++i)
        byChunk[ground::chunkAt(plan(runs[r].places[i].at.position), survey_.chunkSize())].push_back({r, i});
    }
    const std::vector<std::pair<ground::ChunkId, std::vector<Asked>>> chunks(byChunk.begin(), byChunk.end());
    const bool done = parallelFor(
        job_, chunks.size(), [&](std::size_t k) { askAll(chunks[k].first, chunks[k].second, runs, ways); }, 1);
    if (!done) return Job::cancelledProblem();
    return stretches(mesh_, locator_, runs, ways, spacing_);
  }

 private:
  struct Asked {
    std::uint32_t run, place;
  };

  void askAll(ground::ChunkId id, const std::vector<Asked>& asked, const std::vector<BorderRun>& runs,
              std::vector<std::vector<std::vector<Landing>>>& ways) const {
    std::optional<ground::Soup> soup;
    std::optional<FlightRoom> room;
    std::vector<Landing> landings;
    for (const Asked& a : asked) {
      const BrinkPlace& place = runs[a.run].places[a.place];
      landings_.from(place, landings);
      if (landings.empty()) continue;
      if (job_.cancelled()) return;
      if (!soup) soup.emplace(soupFor(id)), room.emplace(*soup, mesh_.agent);
      ways[a.run][a.place] = freeOnes(*room, place, landings);
    }
  }

  /// All triangles that a flight from a chunk can meet.
  ground::Soup soupFor(ground::ChunkId id) const {
    const nav::Agent& agent = mesh_.agent;
    const Box2 box = ground::chunkBox(id, survey_.chunkSize()).grown(std::max(agent.maxJump, 1.0) + 4 * agent.radius);
    const ground::ChunkId low = ground::chunkAt(box.min, survey_.chunkSize()), high = ground::chunkAt(box.max, survey_.chunkSize());
    std::vector<std::uint32_t> numbers;
    for (std::int32_t row = low.row; row <= high.row; ++row)
      for (std::int32_t column = low.column; column <= high.column; ++column)
        if (const std::ptrdiff_t at = survey_.find({row, column}); at >= 0) {
          const auto touching = survey_.touching(static_cast<std::size_t>(at));
          numbers.insert(numbers.end(), touching.begin(), touching.end());
        }
    std::ranges::sort(numbers);
    const auto twice = std::ranges::unique(numbers);
    numbers.erase(twice.begin(), twice.end());
    return ground::Soup(world_, survey_, numbers);
  }

  /// The nearest drop, the nearest jump, and where that leads down, the nearest one that does not; without what one walks to nearly as fast.
  std::vector<Landing> freeOnes(const FlightRoom& room, const BrinkPlace& place, const std::vector<Landing>& landings) const {
    std::vector<Landing> free;
    bool drop = false, jump = false, level = false;
    for (const Landing& l : landings) {
      const bool down = l.at.position.y < place.at.position.y - mesh_.agent.stepHeight;
      if (l.kind == LinkKind::drop ? drop : down ? jump : level) continue;
      const double length = glm::distance(plan(l.at.position), plan(place.at.position));
      const auto walks = [&](const nav::Place& from) { return walksWithin(mesh_, from, l.at, kLonger * length + kLongerBy); };
      if (walks(place.at) || std::ranges::any_of(free, [&](const Landing& nearer) { return walks(nearer.at); })) continue;
      if (room.inTheWay(l.kind, place.at.position, l.at.position)) continue;
      free.push_back(l);
      if (l.kind == LinkKind::drop) drop = true;
      if (l.kind == LinkKind::jump) jump = true, level = level || !down;
    }
    return free;
  }

  const nav::NavMesh& mesh_;
  const level::World& world_;
  const ground::Survey& survey_;
  Job& job_;
  nav::Locator locator_;
  Landings landings_;
  double spacing_;  // at which no pole stands unseen between two bodies
};

}  // namespace

Result<std::vector<nav::Link>> find(const nav::NavMesh& mesh, const level::World& world, const ground::Survey& survey, Job& job) {
  return Finder(mesh, world, survey, job).run();
}

}  // namespace dune::links
