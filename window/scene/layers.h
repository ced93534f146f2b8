#pragma once
// From results to draw lists: one function a kind of thing that is drawn. No GL.

#include <set>
#include <span>

#include "core/pipeline/answers.h"
#include "core/pipeline/change.h"
#include "window/scene/world_view.h"

namespace dune::window {

/// The level; roles by colour when `byRole`, chosen objects in the accent colour.
DrawList levelLayer(const level::Level& level, const std::vector<level::Role>& roles, const std::set<std::string>& chosen, bool byRole);
/// Some triangles of the level in the same colours.
DrawList detailLayer(const level::Level& level, std::span<const PickTree::Item> items, const std::vector<level::Role>& roles, const std::set<std::string>& chosen,
                     bool byRole);
/// A 1.8 m figure beside the level, which fills the box, and the agent to scale next to it.
DrawList figureLayer(const level::Level& level, const Box3& box, const level::Agent& agent, std::vector<WorldLabel>& labels);
/// A line a metre at height 0, every fifth one stronger: something to draw on where no file says where things are.
DrawList sketchGrid(const Box3& box);
/// Faces coloured by their kind of ground, thin inner edges, thick border.
DrawList groundLayer(const mesh::NavMesh& mesh, bool fresh);
/// Another kind of agent's ground over this one's: a veil and its border in that agent's colour.
DrawList comparedLayer(const mesh::NavMesh& mesh);
/// Ground gained, hatched with crosses, and lost, hatched with bars, with a label at each larger place.
DrawList changeLayer(const pipeline::Change& change, int chosen, std::vector<WorldLabel>& labels);
/// Pinned cards: a pin at each place, with the answer in short.
DrawList cardsLayer(const project::CardsSection& cards, const std::vector<pipeline::CardAnswer>& answers, int chosen, std::vector<WorldLabel>& labels);
/// Outlines of area volumes.
DrawList areasLayer(const project::AreasSection& areas, int chosen, std::vector<WorldLabel>& labels);
/// Flights with direction; broken ones in the colour of trouble.
DrawList linksLayer(const pipeline::Ground* ground, const project::LinksSection& links, int chosen, std::vector<WorldLabel>& labels);
DrawList routeLayer(const route::PathAnswer& answer, std::vector<WorldLabel>& labels);
/// Groups as drawn, and the bodies of a run at a frame.
DrawList crowdLayer(const project::CrowdSection& crowd, const pipeline::Run* run, double frame, double agentHeight, int chosenAgent,
                    bool groups, bool wanted);
/// The agent's footprint under the mouse: filled where it fits, struck out where not.
DrawList cursorLayer(const ground::Explanation& explanation, const level::Agent& agent);

QColor kindColour(const level::AreaKind& kind);

}  // namespace dune::window
