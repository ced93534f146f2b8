#include "core/pipeline/link_review.h"

#include <algorithm>
#include <map>

#include "core/base/text.h"
#include "core/links/flight_room.h"
#include "core/project/rules.h"

namespace dune::pipeline {

namespace {

/// Drawn jumps and drops on which the agent's body meets something. What is near is gathered once for all that begin in one chunk.
void reviewFlights(const generate::Built& built, const nav::NavMesh& mesh, std::vector<review::Finding>& findings) {
  std::map<ground::ChunkId, std::vector<const nav::Link*>> byChunk;
  for (const nav::Link& link : mesh.links)
    if (!link.generated && (link.kind == nav::LinkKind::jump || link.kind == nav::LinkKind::drop))
      byChunk[ground::chunkAt(plan(link.from), built.survey->chunkSize())].push_back(&link);
  for (const auto& [chunk, links] : byChunk) {
    Box2 box;
    for (const nav::Link* link : links) box.add(plan(link->from)), box.add(plan(link->to));
    const ground::Soup soup = built.soupNear(box.grown(2 * mesh.agent.radius));
    links::FlightRoom room(soup, mesh.agent);
    for (const nav::Link* link : links)
      if (const auto object = room.inTheWay(link->kind, link->from, link->to))
        findings.push_back({"blocked-link", review::Severity::warning,
                            text("Link %d, a %s, leads %s into %s.", link->id, nav::kindName(link->kind), mesh.agent.name.c_str(),
                                 built.world.level->objects[*object].name.c_str()),
                            "On the way from its foot to its landing the body meets what stands or hangs there.",
                            "moving its ends, or what is in the way.", (link->from + link->to) * 0.5});
  }
}

/// Its users are gone, or none of them may take links of its kind.
void reviewUsers(const project::Project& project, std::vector<review::Finding>& findings) {
  for (const links::HandLink& link : project.links->links) {
    const auto takes = [&](const project::AgentKind& a) { return link.isFor(a.id) && project::mayTake(*project.areas, a.id, link.kind); };
    if (std::ranges::any_of(project.agents->agents, takes)) continue;
    findings.push_back({"link-for-nobody", review::Severity::warning,
                        text("No kind of agent may take link %d, a %s.", link.id, nav::kindName(link.kind)),
                        "Whom it is for may not take links of its kind, by the rules under Areas.",
                        "other users of the link, or another rule.", link.from});
  }
}

}  // namespace

void reviewLinks(const project::Project& project, const generate::Built& built, const nav::NavMesh& mesh,
                 std::vector<review::Finding>& findings) {
  reviewFlights(built, mesh, findings);
  reviewUsers(project, findings);
}

}  // namespace dune::pipeline
