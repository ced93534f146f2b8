#include "core/links/find.h"

#include <algorithm>
#include <array>
#include <optional>

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
constexpr double kOnGround = 0.5;  // m: more than rounding

class Finder {
 public:
  Finder(const nav::NavMesh& mesh, const level::World& world, const ground::Survey& survey, const WaysByChunk& before, Job& job)
      : mesh_(mesh),
        world_(world),
        survey_(survey),
        before_(before),
        job_(job),
        locator_(mesh),
        landings_(mesh, locator_),
        spacing_(std::min(world.linkSpacing, mesh.agent.radius)) {}

  Result<FoundLinks> run(const std::function<Key(ground::ChunkId)>& keyOf) {
    const std::vector<BorderRun> runs = borderRuns(mesh_, spacing_);
    std::map<ground::ChunkId, std::vector<Asked>> byChunk;
    std::vector<std::vector<std::vector<Landing>>> ways(runs.size());
    for (std::uint32_t r = 0; r < runs.size(); ++r) {
      ways[r].resize(runs[r].places.size());
      for (std::uint32_t i = 0; i < runs[r].places.size(); ++i)
        byChunk[ground::chunkAt(plan(runs[r].places[i].at.position), survey_.chunkSize())].push_back({&runs[r].places[i], &ways[r][i]});
    }
    const std::vector<std::pair<ground::ChunkId, std::vector<Asked>>> chunks(byChunk.begin(), byChunk.end());
    std::vector<std::shared_ptr<const ChunkWays>> known(chunks.size());
    const bool done = parallelFor(
        job_, chunks.size(), [&](std::size_t k) { known[k] = askAll(chunks[k].first, keyOf(chunks[k].first), chunks[k].second); }, 1);
    if (!done || job_.cancelled()) return Job::cancelledProblem();
    FoundLinks found{stretches(mesh_, locator_, runs, ways, spacing_), {}};
    for (std::size_t k = 0; k < chunks.size(); ++k) found.ways[chunks[k].first] = known[k];
    return found;
  }

 private:
  struct Asked {
    const BrinkPlace* place;
    std::vector<Landing>* ways;
  };

  /// Places in the order in which they are kept.
  static std::array<double, 5> order(const Vec3& at, const Vec2& out) { return {at.x, at.z, at.y, out.x, out.y}; }
  static std::array<double, 5> orderOf(const ChunkWays::Known& k) { return order(k.at, k.out); }

  /// What was known of a place before, where nothing around it has changed; else null.
  const ChunkWays::Known* knownBefore(ground::ChunkId id, const Key& key, const BrinkPlace& place) const {
    const auto chunk = before_.find(id);
    if (chunk == before_.end() || chunk->second->key != key) return nullptr;
    const auto& all = chunk->second->known;
    const auto wanted = order(place.at.position, place.out);
    const auto found = std::ranges::lower_bound(all, wanted, {}, orderOf);
    return found != all.end() && orderOf(*found) == wanted ? &*found : nullptr;
  }

  /// Null where it was cancelled.
  std::shared_ptr<const ChunkWays> askAll(ground::ChunkId id, const Key& key, std::vector<Asked> asked) const {
    std::ranges::sort(asked, {}, [](const Asked& a) { return order(a.place->at.position, a.place->out); });
    auto now = std::make_shared<ChunkWays>();
    now->key = key;
    std::optional<ground::Soup> soup;
    std::optional<FlightRoom> room;
    std::vector<Landing> landings;
    for (const Asked& a : asked) {
      ChunkWays::Known& known = now->known.emplace_back(ChunkWays::Known{a.place->at.position, a.place->out, {}});
      if (const ChunkWays::Known* then = knownBefore(id, key, *a.place)) {
        known.ways = then->ways;
      } else if (landings_.from(*a.place, landings); !landings.empty()) {
        if (job_.cancelled()) return nullptr;
        if (!soup) soup.emplace(soupFor(id)), room.emplace(*soup, mesh_.agent);
        known.ways = freeOnes(*room, *a.place, landings);
      }
      for (const ChunkWays::Way& way : known.ways) a.ways->push_back({way.kind, {faceAt(way.to), way.to}, way.back});
    }
    return now;
  }
  nav::FaceId faceAt(const Vec3& p) const { return locator_.nearest(p, kOnGround).face; }

  /// All triangles that a flight from a chunk can meet.
  ground::Soup soupFor(ground::ChunkId id) const {
    const Box2 box = ground::chunkBox(id, survey_.chunkSize()).grown(reachOf(mesh_.agent));
    return ground::Soup(world_, survey_, survey_.touchingAny(survey_.chunksIn(box)));
  }

  /// The nearest drop, the nearest jump, and where that leads down, the nearest one that does not; without what one walks to nearly as
  /// fast.
  std::vector<ChunkWays::Way> freeOnes(FlightRoom& room, const BrinkPlace& place, const std::vector<Landing>& landings) const {
    std::vector<nav::Place> nearer;
    std::vector<ChunkWays::Way> free;
    bool drop = false, jump = false, level = false;
    for (const Landing& l : landings) {
      const bool down = l.at.position.y < place.at.position.y - mesh_.agent.stepHeight;
      if (l.kind == LinkKind::drop ? drop : down ? jump : level) continue;
      const double length = glm::distance(plan(l.at.position), plan(place.at.position));
      const auto walks = [&](const nav::Place& from) { return walksWithin(mesh_, from, l.at, kLonger * length + kLongerBy); };
      const Vec3 &foot = place.at.position, &landing = l.at.position;
      // The quick ones first.
      if (room.sameInTheWay(l.kind, foot, landing) || walks(place.at) || std::ranges::any_of(nearer, walks)) continue;
      if (room.inTheWay(l.kind, foot, landing)) continue;
      nearer.push_back(l.at), free.push_back({l.kind, l.at.position, l.back});
      drop |= l.kind == LinkKind::drop;
      jump |= l.kind == LinkKind::jump, level |= l.kind == LinkKind::jump && !down;
    }
    return free;
  }

  const nav::NavMesh& mesh_;
  const level::World& world_;
  const ground::Survey& survey_;
  const WaysByChunk& before_;
  Job& job_;
  nav::Locator locator_;
  Landings landings_;
  double spacing_;  // at which no pole stands unseen between two bodies
};

}  // namespace

double reachOf(const nav::Agent& agent) { return std::max(agent.maxJump, 1.0) + 4 * agent.radius; }

Result<FoundLinks> find(const nav::NavMesh& mesh, const level::World& world, const ground::Survey& survey,
                        const std::function<Key(ground::ChunkId)>& keyOf, const WaysByChunk& before, Job& job) {
  const nav::Agent& agent = mesh.agent;
  if (agent.maxDrop <= agent.stepHeight && agent.maxJump == 0) return FoundLinks{};
  return Finder(mesh, world, survey, before, job).run(keyOf);
}

}  // namespace dune::links
