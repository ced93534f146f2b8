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
    FindingKind{"trap", "Never left again", Part::mesh, "A way back: a link, or a lower step."},
    FindingKind{"unreached", "Nobody comes there", Part::mesh, "A link to it, or seeds so that it goes."},
    FindingKind{"inverted-face", "Faces that look down", Part::mesh, "Turning their corners round."},
    FindingKind{"overlapping-faces", "Faces over each other", Part::mesh, "Deleting or cutting one of them."},
    FindingKind{"bent-face", "Faces that are not convex", Part::mesh, "Parting them."},
    FindingKind{"shared-edge", "Edges of more than two faces", Part::mesh, "Deleting what is twice there."},
    FindingKind{"open-seam", "Seams that are open", Part::mesh, "Joining the corners on both sides."},
    FindingKind{"needle-face", "Needles", Part::mesh, "Joining them with their neighbours."},
    FindingKind{"off-level", "Off the level", Part::mesh, "Building it again."},
    FindingKind{"out-of-bounds", "Outside the bounds", Part::mesh, "Building it again."},
    FindingKind{"unused-corners", "Unused corners", Part::mesh, "Leaving them out."},
    FindingKind{"needless-faces", "Needless faces", Part::mesh, "Joining flat neighbours."},
    FindingKind{"no-air", "No free space", Part::flight, "A smaller body, or another volume."},
    FindingKind{"air-cut-off", "Free space cut off", Part::flight, "A wider opening, or a smaller body."},
    FindingKind{"patch-not-laid", "Hand work not laid", Part::mesh, "Giving it up, and drawing it anew."},
    FindingKind{"patch-moved", "Hand work on changed ground", Part::mesh, "Draping it again, or keeping it as it is."},
    FindingKind{"broken-link", "Broken links", Part::links, "Moving its ends on to walkable ground."},
    FindingKind{"blocked-link", "Links into something", Part::links, "Moving its ends, or what is in the way."},
    FindingKind{"unreached-link", "Links nobody comes to", Part::links, "Turning it round, or taking it both ways."},
    FindingKind{"link-for-nobody", "Links for nobody", Part::links, "Letting a kind of agent take them."},
    FindingKind{"link-beyond", "Links not for the agent", Part::links, "Letting the agent jump or drop further."},
    FindingKind{"route-broken", "Routes that do not hold", Part::routes, "Mending the ground, or what is expected of the route."},
    FindingKind{"too-few-places", "Too little room at a start", Part::movement, "A smaller group, or a start with more room."},
    FindingKind{"wider-than-mesh", "Wider than the mesh", Part::movement, "A kind of agent of that radius for the group."},
    FindingKind{"faster-than-agent", "Faster than the agent", Part::movement, "A lower speed, or a faster kind of agent."},
    FindingKind{"recording-units", "Units of the recording", Part::movement, "Reading it in other units, or with another axis up."},
    FindingKind{"gap", "Gaps in the recording", Part::movement, "Recording all the time."},
    FindingKind{"jumped", "Jumps from place to place", Part::movement, "Looking at what set it to another place."},
    FindingKind{"through-wall", "Went through walls", Part::movement, "Looking at what moved it; a link if there is a way through."},
    FindingKind{"wall-touched", "Walls touched", Part::movement, "Building the mesh for this radius."},
    FindingKind{"left-ground", "Left the ground", Part::movement, "Looking at what moved it at this time."},
    FindingKind{"left-volume", "Left the volume", Part::movement, "A larger volume."},
    FindingKind{"too-low", "Flies too low", Part::movement, "A lower least height."},
    FindingKind{"too-high", "Flies too high", Part::movement, "A higher greatest height."},
    FindingKind{"off-path", "Off their path", Part::movement, "A wider way, or fewer agents at once."},
    FindingKind{"on-forbidden", "On forbidden ground", Part::movement, "Another rule, or looking at who sent it there."},
    FindingKind{"link-against", "Links against their direction", Part::movement, "A link both ways."},
    FindingKind{"link-not-allowed", "Links they may not take", Part::movement, "Another rule, or looking at who sent it there."},
    FindingKind{"overlap", "Overlaps", Part::movement, "A wider passage, or starting them further apart."},
    FindingKind{"stuck", "Stuck", Part::movement, "A wider passage here, or fewer agents at once."},
    FindingKind{"hesitates", "Hesitate on their way", Part::movement, "Asking for the next path before the old one ends."},
    FindingKind{"crush", "Crowded together", Part::movement, "A wider passage, another way, or fewer at once."},
    FindingKind{"trembles", "Trembling", Part::movement, "Other weights of its steering, or a wider way."},
    FindingKind{"back-and-forth", "Back and forth", Part::movement, "Looking at its goal and its path."},
    FindingKind{"circles", "In circles", Part::movement, "A wider arrival, or a higher turning rate."},
    FindingKind{"too-fast", "Too fast", Part::movement, "A lower speed, or a faster kind of agent."},
    FindingKind{"climbed-too-fast", "Climb too fast", Part::movement, "A flatter way, or a kind that climbs faster."},
    FindingKind{"too-sudden", "Too sudden", Part::movement, "Smoother movement, or another acceleration."},
    FindingKind{"turned-at-once", "Turned at once", Part::movement, "Smoother movement, or another turning rate."},
    FindingKind{"long-way", "Long ways round", Part::movement, "Asking for the path between both ends."},
    FindingKind{"dear-way", "Dearer ways than needed", Part::movement, "Asking for the path between both ends."},
    FindingKind{"late", "Late", Part::movement, "Looking at where it was slow, and why."},
    FindingKind{"never-arrives", "Never arrived", Part::movement, "Asking for the path from here to the goal."},
};

}  // namespace

std::span<const FindingKind> findingKinds() { return kKinds; }

const FindingKind* kindOf(std::string_view code) {
  const auto found = std::ranges::find(kKinds, code, &FindingKind::code);
  return found == kKinds.end() ? nullptr : &*found;
}

}  // namespace dune::review
