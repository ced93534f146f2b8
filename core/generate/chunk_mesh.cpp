#include "core/generate/chunk_mesh.h"

#include <algorithm>

#include "core/generate/half_edges.h"
#include "core/generate/sheet.h"
#include "core/generate/tuning.h"
#include "core/ground/bridged.h"
#include "core/ground/clearance.h"

namespace dune::generate {

namespace {

Box2 planBox(const LatticeBox& chunk) {
  Box2 box;
  box.add(toPlan(chunk.min)), box.add(toPlan(chunk.max));
  return box;
}

/// What of the limits around a chunk matters to it.
struct Gathered {
  std::vector<ground::Limit> limits, upright;
  std::vector<ground::StepLine> steps;
  std::vector<ground::FoldLine> folds;
  std::vector<ground::Bridge> bridges;
};

Box2 lineBox(const Vec2& a, const Vec2& b) {
  Box2 box;
  box.add(a), box.add(b);
  return box;
}

/// Whether a step ends at a place on the chunk's side and goes on in a chunk beyond, long enough for a strip there.
bool goesOn(const Around& around, const ChunkLimits* own, const LatticeBox& chunk, const ground::StepLine& step, const Vec2& end) {
  constexpr double kSame = 1e-6, kStraight = 1e-6;
  if (chunk.sidesAt(toLattice(end)) == 0) return false;
  const Vec2 along = glm::normalize(step.b - step.a);
  for (const ChunkLimits* chunkLimits : around) {
    if (chunkLimits == own) continue;
    for (const ground::StepLine& s : chunkLimits->found.steps) {
      const Vec2 by = s.b - s.a;
      if (glm::distance(s.a, end) > kSame && glm::distance(s.b, end) > kSame) continue;
      if (glm::length(by) >= tuning::kLeastStripped && glm::dot(by, along) > 0 && std::abs(cross(by, along)) < kStraight * glm::length(by))
        return true;
    }
  }
  return false;
}

Gathered gather(const level::World& world, const nav::Agent& agent, const Around& around, const ChunkLimits* own, const LatticeBox& chunk) {
  Gathered g;
  const Box2 box = planBox(chunk);
  const Box2 reach = box.grown(agent.radius + 2 * tuning::kArcError);
  // Of bridges those that give ground, and those over limits that matter.
  const Box2 bridged = box.grown(std::max(ground::haloFor(world, agent), agent.radius + 2 * (tuning::kArcError + world.joinDistance)));
  const Box2 strip = box.grown(2 * tuning::kStepStrip);
  for (const ChunkLimits* chunkLimits : around) {
    const ground::Limits& from = chunkLimits->found;
    for (const ground::Limit& l : from.limits)
      if (lineBox(l.a, l.b).overlaps(reach)) g.limits.push_back(l);
    for (const ground::Limit& l : chunkLimits->upright)
      if (lineBox(l.a, l.b).overlaps(reach)) g.upright.push_back(l);
    for (const ground::Bridge& b : from.bridges) {
      Box2 corners;
      for (const Vec3& c : b.corner) corners.add(plan(c));
      if (corners.overlaps(bridged)) g.bridges.push_back(b);
    }
    for (const ground::StepLine& s : from.steps) {
      // A step of the chunk beyond matters where it runs along the side between them, not where it only ends there.
      const auto part = clipToBox(s.a, s.b, strip);
      if (chunkLimits == own || (part && (part->to - part->from) * glm::distance(s.a, s.b) > 6 * tuning::kStepStrip)) g.steps.push_back(s);
    }
    if (chunkLimits == own) g.folds = from.folds;
  }
  for (ground::StepLine& s : g.steps) s.goesOnAtA = goesOn(around, own, chunk, s, s.a), s.goesOnAtB = goesOn(around, own, chunk, s, s.b);
  return g;
}

/// Puts the faces of all sheets of a chunk together; corners at one lattice point and of one storey become one point.
class Assembler {
 public:
  /// `meets` is how far apart in height corners of two sheets may be and still be one, metres: at a step the one sheet may end below and
  /// the other above.
  Assembler(const LatticeBox& chunk, double meets) : chunk_(chunk), meets_(meets) {}

  ChunkMesh run(const std::vector<SheetFace>& faces) {
    unitePoints(faces);
    for (const SheetFace& face : faces) {
      mesh_.start.push_back(mesh_.start.back() + static_cast<std::uint32_t>(face.corners.size()));
      mesh_.area.push_back(face.area);
    }
    connect();
    findSides();
    return std::move(mesh_);
  }

 private:
  void unitePoints(const std::vector<SheetFace>& faces) {
    struct Use {
      LatticePoint p;
      double y;
      std::uint32_t corner;
      auto operator<=>(const Use&) const = default;
    };
    std::vector<Use> uses;
    for (const SheetFace& face : faces)
      for (std::size_t i = 0; i < face.corners.size(); ++i)
        uses.push_back({face.corners[i], face.heights[i], static_cast<std::uint32_t>(uses.size())});
    std::sort(uses.begin(), uses.end());
    mesh_.corners.resize(uses.size());
    for (std::size_t i = 0; i < uses.size(); ++i) {
      const bool fresh = i == 0 || uses[i].p != uses[i - 1].p || uses[i].y - mesh_.heights.back() > meets_;
      if (fresh) mesh_.points.push_back(uses[i].p), mesh_.heights.push_back(uses[i].y);
      mesh_.corners[uses[i].corner] = static_cast<std::uint32_t>(mesh_.points.size() - 1);
    }
  }

  std::uint32_t next(std::uint32_t corner, std::uint32_t face) const {
    return mesh_.corners[corner + 1 == mesh_.start[face + 1] ? mesh_.start[face] : corner + 1];
  }

  template <class Visit>
  void eachEdge(Visit&& visit) const {
    for (std::uint32_t f = 0; f + 1 < mesh_.start.size(); ++f)
      for (std::uint32_t c = mesh_.start[f]; c < mesh_.start[f + 1]; ++c) visit(f, c, mesh_.corners[c], next(c, f));
  }

  void connect() {
    std::vector<HalfEdge> halves;
    eachEdge([&](std::uint32_t f, std::uint32_t c, std::uint32_t a, std::uint32_t b) { halves.push_back(HalfEdge::between(a, b, c, f)); });
    mesh_.across.assign(mesh_.corners.size(), -1);
    eachPair(halves, [&](const HalfEdge& x, const HalfEdge& y) {
      mesh_.across[x.corner] = static_cast<std::int32_t>(y.face);
      mesh_.across[y.corner] = static_cast<std::int32_t>(x.face);
    });
  }

  void findSides() {
    eachEdge([&](std::uint32_t, std::uint32_t c, std::uint32_t a, std::uint32_t b) {
      if (mesh_.across[c] >= 0) return;
      const int shared = chunk_.sidesAt(mesh_.points[a]) & chunk_.sidesAt(mesh_.points[b]);
      for (std::size_t side = 0; side < 4; ++side) {
        if ((shared >> side & 1) == 0) continue;
        const bool upright = side < 2;
        const std::int64_t at = upright ? mesh_.points[a].v : mesh_.points[a].u, to = upright ? mesh_.points[b].v : mesh_.points[b].u;
        mesh_.sides[side].push_back({std::min(at, to), std::max(at, to), c, at < to ? a : b, at < to ? b : a});
      }
    });
    for (auto& side : mesh_.sides)
      std::sort(side.begin(), side.end(),
                [](const SideEdge& x, const SideEdge& y) { return std::tie(x.low, x.corner) < std::tie(y.low, y.corner); });
  }

  const LatticeBox& chunk_;
  double meets_;
  ChunkMesh mesh_;
};

}  // namespace

LatticeBox latticeBox(ground::ChunkId id, double size) {
  const Box2 box = ground::chunkBox(id, size);
  return {toLattice(box.min), toLattice(box.max)};
}

std::vector<std::uint32_t> objectsAt(const ground::Survey& survey, std::size_t chunk) {
  std::vector<std::uint32_t> objects;
  for (const std::uint32_t number : survey.touching(chunk))
    if (const std::uint32_t o = survey.sourceOf(number).object; objects.empty() || objects.back() != o) objects.push_back(o);
  return objects;
}

Key limitsKey(const level::World& world, const nav::Agent& agent, double upright, const ground::Survey& survey, std::size_t chunk) {
  Digest digest;
  for (const double x : {agent.radius, agent.height, upright, agent.maxSlope, agent.stepHeight, world.joinDistance, survey.chunkSize()})
    digest.add(x);
  digest.add(world.bounds.has_value());
  if (world.bounds) digest.add(world.bounds->min), digest.add(world.bounds->max);
  std::uint32_t object = 0xffffffffu;
  for (const std::uint32_t number : survey.touching(chunk)) {
    const auto [o, t] = survey.sourceOf(number);
    const level::Object& from = world.level->objects[o];
    if (o != object) digest.add(from.name), digest.add(world.roles[o]);
    object = o;
    for (const std::uint32_t v : from.triangles[t]) digest.add(from.vertices[v]);
    digest.add(survey.solidsOf(o).piece[t]), digest.add(survey.solidsOf(o).underside[t]);
  }
  return digest.key();
}

ChunkLimits renumbered(const ChunkLimits& limits, const std::vector<std::uint32_t>& objects) {
  ChunkLimits result = limits;
  result.objects = objects;
  auto renumber = [&](std::uint32_t& object) {
    const auto at = std::lower_bound(limits.objects.begin(), limits.objects.end(), object);
    if (at != limits.objects.end() && *at == object) object = objects[static_cast<std::size_t>(at - limits.objects.begin())];
  };
  for (ground::Limit& l : result.found.limits)
    if (l.kind != ground::LimitKind::bounds) renumber(l.object);
  for (ground::Bridge& b : result.found.bridges) renumber(b.object);
  return result;
}

Key groundKey(const level::World& world, const ground::Survey& survey, std::size_t chunk) {
  Digest digest;
  std::size_t at = 0;
  if (!world.ground.empty())
    for (const std::uint32_t number : survey.touching(chunk)) {
      const auto [object, triangle] = survey.sourceOf(number);
      ++at;
      if (const std::uint16_t kind = level::groundKind(world, object, triangle); kind != level::kNoKind) digest.add(at), digest.add(kind);
    }
  return digest.key();
}

Key meshKey(const level::World& world, const nav::Agent& agent, bool crouches, const Key& soup, const Key& kinds, const Around& around,
            const LatticeBox& chunk) {
  Digest digest;
  digest.add(soup), digest.add(kinds);
  digest.add(crouches ? world.kinds.size() : std::size_t{0});
  if (crouches)  // low ground of a forbidden kind stays of that kind
    for (const level::AreaKind& kind : world.kinds) digest.add(kind.forbidden);
  for (const ChunkLimits* own : around) {
    // Steps and folds of the own chunk follow from the soup; those of the chunks beyond are few.
    const Gathered g = gather(world, agent, {own}, nullptr, chunk);
    for (const auto* limits : {&g.limits, &g.upright})
      for (const ground::Limit& l : *limits) digest.add(l.kind), digest.add(l.a), digest.add(l.b), digest.add(l.ya), digest.add(l.yb);
    digest.add(g.upright.size());
    for (const ground::Bridge& b : g.bridges) {
      digest.add(b.overGap);
      for (const Vec3& c : b.corner) digest.add(c);
    }
    for (const ground::StepLine& s : g.steps)
      digest.add(s.a), digest.add(s.b), digest.add(s.low), digest.add(s.high), digest.add(s.goesOnAtA), digest.add(s.goesOnAtB);
  }
  for (const level::AreaVolume& volume : world.volumes) {
    Box2 box;
    for (const Vec2& p : volume.outline) box.add(p);
    if (!box.overlaps(planBox(chunk))) continue;
    const auto kind = std::ranges::find(world.kinds, volume.kind, &level::AreaKind::name);
    digest.add(kind - world.kinds.begin()), digest.add(volume.bottom), digest.add(volume.top), digest.add(volume.outline.size());
    for (const Vec2& p : volume.outline) digest.add(p);
    if (volume.tags.empty()) continue;
    for (const std::string& tag : volume.tags) digest.add(tag);
    for (const std::string& tag : world.tags) digest.add(tag);  // what the labels' bits mean
  }
  return digest.key();
}

Result<ChunkMesh> meshChunk(const level::World& world, const nav::Agent& agent, double upright, ground::Soup& soup, const Around& around,
                            const ChunkLimits& own, const LatticeBox& chunk, Job& job) {
  Gathered g = gather(world, agent, around, &own, chunk);
  soup.addBridges(g.bridges);
  g.upright = ground::withoutBridged(std::move(g.upright), g.bridges, upright);
  const ground::Clearance clearance(ground::withoutBridged(std::move(g.limits), g.bridges, agent.height), agent.height);
  // Both outlines share the tangents of round corners, so that they are one line where both are about the same wall.
  std::vector<ground::Limit> limits = clearance.limits();
  limits.insert(limits.end(), g.upright.begin(), g.upright.end());
  std::vector<Grown> grown = growLimits(limits, agent.radius, tuning::kArcError);
  const auto split = grown.begin() + static_cast<std::ptrdiff_t>(clearance.limits().size());
  const std::vector<Grown> grownUpright(std::make_move_iterator(split), std::make_move_iterator(grown.end()));
  grown.erase(split, grown.end());
  auto pieces = outlinePieces(clearance.limits(), grown, agent.height, planBox(chunk), job);
  if (!pieces) return pieces.problem();
  const ground::Standing standing(soup, world, agent);
  nav::Agent tall = agent;
  tall.height = upright;
  const ground::Standing standingUpright(soup, world, tall);
  if (upright > agent.height) {
    const auto more = outlinePieces(g.upright, grownUpright, upright, planBox(chunk), job);
    if (!more) return more.problem();
    pieces->insert(pieces->end(), more->begin(), more->end());
  }
  const Upright where{standingUpright, g.upright, grownUpright};
  const auto cells = Cells::build(standing, clearance, grown, *pieces, chunk, upright > agent.height ? &where : nullptr, job);
  if (!cells) return cells.problem();
  std::vector<SheetFace> faces;
  constexpr double kStepCell = 1;  // m
  const LineGrid<Crease> creases = findCreases(standing, *cells, chunk);
  const LineGrid<ground::StepLine> steps(std::move(g.steps), kStepCell);
  const SheetInput input{standing, clearance, *cells, steps, g.folds, creases, chunk};
  for (std::int32_t sheet = 0; sheet < cells->sheetCount(); ++sheet) {
    std::vector<SheetFace> more = meshSheet(input, sheet, job);
    std::move(more.begin(), more.end(), std::back_inserter(faces));
    if (job.cancelled()) return Job::cancelledProblem();
  }
  return Assembler(chunk, std::min(meetsWithin(agent), agent.height / 2)).run(faces);
}

}  // namespace dune::generate
