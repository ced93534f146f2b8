#include "core/review/kinds.h"

#include <algorithm>
#include <array>

namespace dune::review {

namespace {

constexpr std::array kKinds{
    FindingKind{"no-ground", "Nothing is ground", Part::level, "Marking the floors as ground."},
    FindingKind{"units", "Units of files", Part::level, "Reading the file in other units, or with another axis up."},
    FindingKind{"ignored-on-ground", "Ignored objects", Part::level, "Marking the object as an obstacle."},
    FindingKind{"mark-without-object", "Marks without object", Part::level, "Removing the mark when the object will not come back."},
    FindingKind{"rule-without-object", "Rules without object", Part::level, "Another pattern, or removing the rule."},
    FindingKind{"empty-mesh", "Empty mesh", Part::mesh, "Asking at some places why there is no ground."},
    FindingKind{"island", "Islands cut off", Part::mesh, "A link to the rest, or seeds so that it goes."},
    FindingKind{"small-islands", "Small islands", Part::mesh, "A least size for islands, or seeds so that they go."},
    FindingKind{"broken-link", "Broken links", Part::links, "Moving its ends on to walkable ground."},
    FindingKind{"blocked-link", "Links into something", Part::links, "Moving its ends, or what is in the way."},
    FindingKind{"link-beyond", "Links not for the agent", Part::links, "Letting the agent jump or drop further."},
    FindingKind{"route-broken", "Routes that do not hold", Part::routes, "Mending the ground, or what is expected of the route."},
    FindingKind{"too-few-places", "Too little room at a start", Part::movement, "A smaller group, or a start with more room."},
    FindingKind{"wider-than-mesh", "Wider than the mesh", Part::movement, "A kind of agent of that radius for the group."},
    FindingKind{"faster-than-agent", "Faster than the agent", Part::movement, "A lower speed, or a faster kind of agent."},
    FindingKind{"wall-touched", "Walls touched", Part::movement, "Building the mesh for this radius."},
    FindingKind{"left-ground", "Left the ground", Part::movement, "Looking at what moved it at this time."},
    FindingKind{"overlap", "Overlaps", Part::movement, "A wider passage, or starting them further apart."},
    FindingKind{"stuck", "Stuck", Part::movement, "A wider passage here, or fewer agents at once."},
    FindingKind{"never-arrives", "Never arrived", Part::movement, "Asking for the path from here to the goal."},
};

}  // namespace

std::span<const FindingKind> findingKinds() { return kKinds; }

const FindingKind* kindOf(std::string_view code) {
  const auto found = std::ranges::find(kKinds, code, &FindingKind::code);
  return found == kKinds.end() ? nullptr : &*found;
}

}  // namespace dune::review
