#include "core/mesh/build.h"

#include <algorithm>
#include <chrono>
#include <map>

#include "core/base/parallel.h"
#include "core/mesh/sheet.h"
#include "core/mesh/tuning.h"

namespace dune::mesh {

namespace {

/// Puts the faces of all sheets together; corners at one lattice point and nearly one height become one vertex.
class Assembler {
 public:
  explicit Assembler(NavMesh& mesh) : mesh_(mesh) {}

  void add(const SheetFace& face) {
    for (std::size_t i = 0; i < face.corners.size(); ++i) mesh_.corners.push_back(vertex(face.corners[i], face.heights[i]));
    mesh_.start.push_back(static_cast<std::uint32_t>(mesh_.corners.size()));
    mesh_.area.push_back(face.area);
  }

  void connect() {
    mesh_.across.assign(mesh_.corners.size(), kNoFace);
    std::map<std::pair<std::uint32_t, std::uint32_t>, std::uint32_t> edges;  // (from, to) → corner
    std::vector<std::uint32_t> faceOf(mesh_.corners.size());
    for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f)
      for (std::uint32_t c = mesh_.start[f]; c < mesh_.start[f + 1]; ++c) {
        faceOf[c] = f;
        edges.emplace(std::pair{mesh_.corners[c], mesh_.corners[c + 1 == mesh_.start[f + 1] ? mesh_.start[f] : c + 1]}, c);
      }
    for (const auto& [edge, c] : edges)
      if (const auto other = edges.find({edge.second, edge.first}); other != edges.end()) mesh_.across[c] = FaceId{faceOf[other->second]};
  }

 private:
  std::uint32_t vertex(const LatticePoint& p, double y) {
    auto& here = at_[p];
    for (const std::uint32_t v : here)
      if (std::abs(mesh_.vertices[v].y - y) <= tuning::kSameVertex) return v;
    here.push_back(static_cast<std::uint32_t>(mesh_.vertices.size()));
    mesh_.vertices.push_back(lift(toPlan(p), y));
    return here.back();
  }

  NavMesh& mesh_;
  std::map<LatticePoint, std::vector<std::uint32_t>> at_;
};

/// Keeps only the islands that a seed stands on.
void keepSeeded(std::vector<SheetFace>& faces, const NavMesh& mesh, const std::vector<Vec3>& seeds, double reach) {
  std::vector<char> keep(islandCount(mesh), 0);
  for (const Vec3& seed : seeds) {
    FaceId best = kNoFace;
    double bestDistance = reach;
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
      if (const double d = glm::distance(nearestOnFace(mesh, FaceId{f}, seed), seed); d < bestDistance) best = FaceId{f}, bestDistance = d;
    if (best != kNoFace) keep[mesh.island[index(best)]] = 1;
  }
  std::size_t kept = 0;
  for (std::size_t f = 0; f < faces.size(); ++f)
    if (keep[mesh.island[f]]) std::swap(faces[kept++], faces[f]);
  faces.resize(kept);
}

NavMesh assemble(const level::World& world, const level::Agent& agent, const std::vector<SheetFace>& faces) {
  NavMesh mesh;
  mesh.agent = agent;
  mesh.areas = world.kinds;
  Assembler assembler(mesh);
  for (const SheetFace& face : faces) assembler.add(face);
  assembler.connect();
  labelIslands(mesh);
  return mesh;
}

Result<std::vector<SheetFace>> makeFaces(Built& built, Job& job) {
  job.step("limits of the ground", 0.5);
  auto limits = ground::findLimits(built.soup, built.world, built.agent, job);
  if (!limits) return limits.problem();
  built.clearance = ground::Clearance(std::move(limits.value().limits), built.agent.height);
  job.step("outline", 0.6);
  const std::vector<Grown> grown = growLimits(built.clearance.limits(), built.agent.radius, tuning::kArcError);
  auto pieces = outlinePieces(built.clearance.limits(), grown, built.agent.height, job);
  if (!pieces) return pieces.problem();
  job.step("cells", 0.8);
  const ground::Standing standing(built.soup, built.world, built.agent);
  auto cells = Cells::build(standing, built.clearance, grown, *pieces, job);
  if (!cells) return cells.problem();
  job.step("faces", 0.98);
  std::vector<std::vector<SheetFace>> sheets(static_cast<std::size_t>(cells->sheetCount()));
  const SheetInput input{standing, built.clearance, cells.value(), limits.value().steps, limits.value().folds};
  if (!parallelFor(job, sheets.size(), [&](std::size_t i) { sheets[i] = meshSheet(input, static_cast<std::int32_t>(i), job); }))
    return Job::cancelledProblem();
  std::vector<SheetFace> faces;
  for (auto& sheet : sheets) std::move(sheet.begin(), sheet.end(), std::back_inserter(faces));
  return faces;
}

}  // namespace

Result<std::shared_ptr<const Built>> build(const level::World& world, const level::Agent& agent, Job& job) {
  if (auto problem = level::checkAgent(agent)) return *problem;
  if (world.roles.size() != world.level->objects.size() || world.kinds.empty())
    return Problem{ProblemCode::unusable, "The world's roles or kinds of ground do not fit its level.", "", ""};
  const auto begin = std::chrono::steady_clock::now();
  job.step("level", 0.05);
  auto built = std::make_shared<Built>(Built{world, agent, ground::Soup(world), {}, {}, 0});
  auto faces = makeFaces(*built, job);
  if (!faces) return faces.problem();
  job.step("joining faces", 1);
  built->mesh = assemble(world, agent, *faces);
  if (!world.seeds.empty()) {
    keepSeeded(faces.value(), built->mesh, world.seeds, agent.height + agent.radius);
    built->mesh = assemble(world, agent, *faces);
  }
  if (job.cancelled()) return Job::cancelledProblem();
  job.advance(1);
  built->seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
  return std::shared_ptr<const Built>(std::move(built));
}

}  // namespace dune::mesh
