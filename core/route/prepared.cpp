#include "core/route/prepared.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/route/field.h"
#include "core/route/search_ground.h"

namespace dune::route {

namespace {

nav::NavMesh laidFlat(nav::NavMesh mesh) {
  for (Vec3& v : mesh.vertices) v.y = 0;
  mesh.links.clear();
  return mesh;
}

Problem cannot(const std::string& why) {
  return {ProblemCode::unusable, "The ground cannot be prepared: " + why, "", "asking without; the answers are the same."};
}

/// Whether all that may be walked on is of one class, also where pieces of ground do not touch.
bool isOneClass(const Field& field) {
  const std::vector<std::uint16_t>& classOf = field.ground().simple().classOf;
  const nav::NavMesh& mesh = field.mesh();
  std::optional<std::uint16_t> one;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    if (!field.passable(nav::FaceId{f})) continue;
    if (const std::uint16_t kind = classOf[mesh.area[f]]; std::exchange(one, kind).value_or(kind) != kind) return false;
  }
  return true;
}

}  // namespace

/// The simple ground as triangles in plan.
struct Prepared::Flat {
  nav::NavMesh mesh;
  Adjacency adjacency;
  std::vector<std::uint16_t> classOf;
  Facets facets;
  explicit Flat(const Field& field)
      : mesh(laidFlat(field.ground().mesh())),
        adjacency(mesh),
        classOf(field.ground().simple().classOf),
        facets(adjacency, field.rules(), classOf) {}
};

Prepared::Prepared(std::unique_ptr<const Flat> flat, std::unique_ptr<const LinkFeet> links, const Facets& facets, std::size_t memory,
                   Job& job)
    : flat_(std::move(flat)),
      links_(std::move(links)),
      sight_(facets, links_ ? std::span(links_->all()) : std::span<const LinkFoot>(), memory / sizeof(Sight), job),
      table_(sight_, sight_.memory() + BendTable::bytes(sight_.bends().size()) <= memory, job) {}

Prepared::~Prepared() = default;

Result<std::unique_ptr<const Prepared>> Prepared::prepare(const Field& field, Measure measure, Job& job, std::size_t memory) {
  if (!isOneClass(field)) return cannot("it has kinds of ground that cost differently.");
  std::unique_ptr<const Flat> flat;
  std::unique_ptr<const LinkFeet> links;
  if (measure == Measure::plan) {
    if (std::ranges::any_of(field.mesh().links, [&](const nav::Link& l) { return field.rules().allows(l); }))
      return cannot("links that may be taken are not prepared in plan.");
    flat = std::make_unique<const Flat>(field);
  } else {
    links = std::make_unique<const LinkFeet>(field, Heading::from);
  }
  const Facets& facets = flat ? flat->facets : field.facets();
  std::unique_ptr<Prepared> prepared(new Prepared(std::move(flat), std::move(links), facets, memory, job));
  if (prepared->flat_ && prepared->table_.complete())
    prepared->stretches_ = std::make_unique<const Stretches>(field, prepared->sight_, prepared->table_, job);
  if (job.cancelled()) return Job::cancelledProblem();
  if (prepared->table_.complete()) return std::unique_ptr<const Prepared>(std::move(prepared));
  return cannot(text("it has %zu places where ways bend, and what they see takes more than %.0f MB.", prepared->sight_.bends().size(),
                     static_cast<double>(memory) / (1 << 20)));
}

Prepared::End Prepared::endAt(const nav::Place& place) const {
  const Facets& facets = sight_.facets();
  const Facet facet = facets.under(place);
  return {facet, facets.lifted(facet, plan(place.position))};
}

BendTable::Between Prepared::overBends(const End& start, const End& goal, Scratch& scratch) const {
  const auto look = [&](const End& end, bool from, std::vector<SeenBend>& seen) {
    seen.clear();
    sight_.facets().around(end.facet, end.at, scratch.around);
    for (const Facet& t : scratch.around) sight_.see(t, end.at, from, seen);
  };
  look(start, false, scratch.fromStart), look(goal, true, scratch.toGoal);
  for (SeenBend& s : scratch.fromStart)
    if (const LinkFoot* link = sight_.bends()[s.bend].link) s.length += link->length;
  return table_.best(start.at, scratch.fromStart, goal.at, scratch.toGoal);
}

}  // namespace dune::route
