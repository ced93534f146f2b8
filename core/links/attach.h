#pragma once
// Links drawn by hand, tied to the faces of a mesh. A drawn link knows only where its ends are; after every build it is tied anew.

#include <algorithm>

#include "core/nav/locator.h"

namespace dune::links {

/// A link as a person drew it.
struct HandLink {
  int id = 0;
  nav::LinkKind kind = nav::LinkKind::jump;
  Vec3 from{}, to{};
  bool oneWay = false;
  double cost = 0;            ///< added when taken, in metres of plain ground
  Vec3 fromHalf{}, toHalf{};  ///< of one that may be taken anywhere along two stretches, see nav::Link
  double perMetre = 1;        ///< cost of a metre of it
  double seconds = 0;         ///< that it takes; 0: as long as it is
  std::vector<int> agents{};  ///< ids of the kinds of agent that may take it; none: all
  bool isFor(int agent) const { return agents.empty() || std::ranges::count(agents, agent) > 0; }
  bool operator==(const HandLink&) const = default;
};

/// One like a link of a mesh, of an id of its own.
HandLink drawnLike(const nav::Link& link, int id);

/// A link that a build finds and a person does not want: those of its kind whose middles lie along these stretches.
struct RefusedLink {
  nav::LinkKind kind = nav::LinkKind::jump;
  Vec3 from{}, to{}, fromHalf{}, toHalf{};
  static RefusedLink of(const nav::Link& l) { return {l.kind, l.from, l.to, l.fromHalf, l.toHalf}; }
  bool covers(const nav::Link& link) const;
  bool operator==(const RefusedLink&) const = default;
};

/// A link that cannot be used, and why in one sentence.
struct Broken {
  int id;
  std::string why;
  Vec3 at;
};

/// What a link asks of an agent, metres; climbs ask for nothing.
struct Demand {
  double jump = 0;  ///< the gap in its straight line, from edge to edge of the real ground: the mesh ends a radius before each
  double drop = 0;
  double rise = 0;  ///< of a jump, the higher one of both ways that it may be taken
};
Demand demandOf(const nav::NavMesh& mesh, nav::LinkKind kind, bool oneWay, const nav::Place& from, const nav::Place& to);

/// A whole link that is too far or too deep for the agent of the mesh.
struct Beyond {
  int id;
  std::string why;
  Vec3 at;
  Demand demand;
};

struct Attached {
  std::vector<nav::Link> links;
  std::vector<Broken> broken;
  std::vector<Beyond> beyond;
  std::vector<int> notFor;  ///< ids of those that are for other kinds of agent
};

/// The one of that id among links that are not taken, or nullptr.
template <class NotTaken>
const NotTaken* withId(const std::vector<NotTaken>& links, int id) {
  const auto found = std::ranges::find(links, id, &NotTaken::id);
  return found == links.end() ? nullptr : &*found;
}

/// Ties each link to the nearest ground within the agent's radius + 0.3 m of both ends; the tied ends lie on the mesh. Links that ask
/// for more than the agent's longest or highest jump or deepest drop are not tied; a jump both ways of which the one up is too high goes
/// down only.
/// `agent`: the id of the kind that the mesh is for; 0: of whom nothing is said.
Attached attach(const nav::NavMesh& mesh, const nav::Locator& locator, const std::vector<HandLink>& drawn, int agent = 0);

}  // namespace dune::links
