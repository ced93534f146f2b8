#include "core/pipeline/strip.h"

#include <cmath>

#include "core/base/plan_geometry.h"

namespace dune::pipeline {

namespace {

constexpr double kLeastWidth = 0.1;  // m: a narrower link is but a place

struct Side {
  Vec3 middle, half;
};
Side sideOf(const nav::NavMesh& mesh, const hand::Edge& edge) {
  const auto [a, b] = hand::endsOf(mesh, edge);
  return {(a + b) * 0.5, (b - a) * 0.5};
}

bool isClimb(const Side& from, const Side& to, const nav::Agent& agent) {
  const double rise = std::abs(to.middle.y - from.middle.y), away = glm::distance(plan(from.middle), plan(to.middle));
  return rise > agent.stepHeight && std::atan2(rise, away) > radians(agent.maxSlope);
}

links::HandLink climbOf(Side from, Side to, int id, int agent) {
  if (from.middle.y > to.middle.y) std::swap(from, to);
  links::HandLink link;
  link.id = id, link.kind = nav::LinkKind::climb, link.agents = {agent};
  link.from = from.middle, link.to = to.middle;
  const double half = std::min(glm::length(from.half), glm::length(to.half));
  if (2 * half < kLeastWidth) return link;
  link.fromHalf = glm::normalize(from.half) * half, link.toHalf = glm::normalize(to.half) * half;
  // The sides of two faces that look at each other run against each other.
  if (glm::dot(link.fromHalf, link.toHalf) < 0) link.toHalf = -link.toHalf;
  return link;
}

}  // namespace

Result<project::Project> withStrip(project::Project project, const nav::NavMesh& mesh, const hand::Editor& editor, int agent,
                                   const hand::Edge& from, const hand::Edge& to) {
  const bool both = from.face != nav::kNoFace && to.face != nav::kNoFace && !(from == to);
  if (both && isClimb(sideOf(mesh, from), sideOf(mesh, to), mesh.agent)) {
    project::edit(project.links, [&](project::LinksSection& s) {
      s.links.push_back(climbOf(sideOf(mesh, from), sideOf(mesh, to), project::nextId(s.links), agent));
    });
    return project;
  }
  auto work = editor.strip(from, to);
  if (!work) return work.problem();
  project.hand = std::make_shared<const hand::Work>(std::move(work.value()));
  return project;
}

}  // namespace dune::pipeline
