#pragma once
// The document: what a person made, and nothing that was computed from it.
//
// It is a handful of immutable sections behind shared pointers. Copying a Project copies the pointers, so an undo step that
// keeps the whole Project before and after costs nothing for the sections that did not change, and which results are stale
// is told by comparing pointers.

#include <map>
#include <memory>
#include <string>
#include <vector>

#include "core/hand/take_over.h"
#include "core/hand/work.h"
#include "core/level/blocker.h"
#include "core/level/ground_rules.h"
#include "core/level/import.h"
#include "core/level/role_rules.h"
#include "core/level/world.h"
#include "core/links/attach.h"
#include "core/nav/agent.h"
#include "core/nav/rules.h"
#include "core/project/agent_rule.h"
#include "core/project/crowd.h"
#include "core/project/flight.h"
#include "core/project/routes.h"

namespace dune::project {

struct LevelFile {
  std::string path;  ///< relative to the project's folder where that is possible, '/' between names
  level::ImportOptions import;
  bool operator==(const LevelFile&) const = default;
};

/// A mesh from elsewhere, which stands in place of one that is built.
struct GivenMesh {
  int agent = 0;     ///< id of the kind of agent whose mesh it is; 0: of all
  std::string path;  ///< as of a level file
  level::ImportOptions import{};
  std::vector<hand::Mend> mends{};
  bool operator==(const GivenMesh&) const = default;
};

struct LevelSection {
  std::vector<LevelFile> files;              ///< none: no level yet
  std::map<std::string, level::Role> roles;  ///< objects marked one by one, by name
  std::vector<level::RoleRule> rules;        ///< for all others; the last one that fits counts, and ground where none does
  std::vector<level::Blocker> blockers;
  std::vector<Vec3> seeds;
  std::optional<Box3> bounds;
  double joinDistance = 0.05;  ///< ground parted by a smaller gap is one ground, metres
  level::LeastIsland leastIsland;
  std::vector<GivenMesh> given{};
  bool operator==(const LevelSection&) const = default;
};

/// What a new project begins with: an agent that takes short jumps and drops where links are drawn.
inline nav::Agent firstAgent() {
  nav::Agent agent;
  agent.maxDrop = agent.maxJump = 1;
  return agent;
}

/// A kind of agent of a project. What is computed for it goes by its id, which stays whatever the kind is called; two kinds with the same
/// limits and name are the same, whatever their ids.
struct AgentKind : nav::Agent {
  int id = 0;  ///< above zero once numbered, see numberAgents()

  AgentKind() = default;
  AgentKind(const nav::Agent& agent, int number = 0) : nav::Agent(agent), id(number) {}
  /// Takes over limits and name, and stays the kind that it is.
  AgentKind& operator=(const nav::Agent& agent) {
    nav::Agent::operator=(agent);
    return *this;
  }
};

struct AgentsSection {
  std::vector<AgentKind> agents{AgentKind(firstAgent(), 1)};
  bool operator==(const AgentsSection&) const = default;
};

/// Links of a kind that one kind of agent may not take.
struct LinkRule {
  int agent = 0;  ///< its id
  nav::LinkKind kind = nav::LinkKind::jump;
  bool operator==(const LinkRule&) const = default;
};

struct AreasSection {
  std::vector<level::AreaKind> kinds{level::AreaKind{}};
  std::vector<level::AreaVolume> volumes{};
  std::vector<level::GroundRule> byName{};  ///< kinds by names of the level; the last one that fits counts, volumes go before them
  std::vector<AgentRule> rules{};           ///< at most one for an agent and a kind; where there is none, the kind itself counts
  std::vector<LinkRule> noLinks{};
  bool operator==(const AreasSection&) const = default;
};

struct LinksSection {
  std::vector<links::HandLink> links;
  bool find = false;                          ///< whether a build finds drops and jumps that its agent can take
  std::vector<links::RefusedLink> refused{};  ///< of those, what is left out
  bool operator==(const LinksSection&) const = default;
};

/// A place that is asked about again after every build: why is there (no) ground here?
struct Card {
  int id = 0;
  Vec3 at{};
  bool operator==(const Card&) const = default;
};

struct CardsSection {
  std::vector<Card> cards;
  bool operator==(const CardsSection&) const = default;
};

/// How people call a place of the level; shown in the world.
struct NamedPlace {
  int id = 0;
  std::string name;
  Vec3 at{};
  bool operator==(const NamedPlace&) const = default;
};

struct PlacesSection {
  std::vector<NamedPlace> places;
  bool operator==(const PlacesSection&) const = default;
};

/// Findings that are known and are to be passed over, with a reason.
struct MutedFindings {
  int id = 0;
  std::string code;          ///< of which kind
  std::optional<Vec3> at{};  ///< and where; nothing: anywhere
  double within = 0;         ///< metres from there
  int agent = -1;            ///< and about which body; below zero: about any
  std::string reason;
  bool operator==(const MutedFindings&) const = default;
};

struct ReviewSection {
  std::vector<MutedFindings> muted;
  bool operator==(const ReviewSection&) const = default;
};

struct Project {
  std::shared_ptr<const LevelSection> level = std::make_shared<LevelSection>();
  std::shared_ptr<const AgentsSection> agents = std::make_shared<AgentsSection>();
  std::shared_ptr<const AreasSection> areas = std::make_shared<AreasSection>();
  std::shared_ptr<const LinksSection> links = std::make_shared<LinksSection>();
  std::shared_ptr<const RoutesSection> routes = std::make_shared<RoutesSection>();
  std::shared_ptr<const CardsSection> cards = std::make_shared<CardsSection>();
  std::shared_ptr<const CrowdSection> crowd = std::make_shared<CrowdSection>();
  std::shared_ptr<const PlacesSection> places = std::make_shared<PlacesSection>();
  std::shared_ptr<const ReviewSection> review = std::make_shared<ReviewSection>();
  std::shared_ptr<const hand::Work> hand = std::make_shared<hand::Work>();
  std::shared_ptr<const FlightSection> flight = std::make_shared<FlightSection>();

  /// Whether both say the same, whatever their pointers.
  bool same(const Project& other) const {
    const auto alike = [](const auto& a, const auto& b) { return a == b || *a == *b; };
    return alike(level, other.level) && alike(agents, other.agents) && alike(areas, other.areas) && alike(links, other.links) &&
           alike(routes, other.routes) && alike(cards, other.cards) && alike(crowd, other.crowd) && alike(places, other.places) &&
           alike(review, other.review) && alike(hand, other.hand) && alike(flight, other.flight);
  }
};

/// Changes one section of a project: edit(project.links, [](LinksSection& s) { … }).
template <class Section, class Edit>
void edit(std::shared_ptr<const Section>& section, Edit&& change) {
  auto copy = std::make_shared<Section>(*section);
  change(*copy);
  section = std::move(copy);
}

/// The kind of agent of that name; null where there is none.
const AgentKind* agentNamed(const AgentsSection& section, const std::string& name);

/// The mesh from elsewhere that a kind of agent has, by number in the section; nothing where its mesh is built.
std::optional<std::size_t> givenFor(const LevelSection& section, int agent);

/// Gives an id to every kind of agent that has none, or that of one before it.
void numberAgents(AgentsSection& section);

/// One more than the largest id in the list.
template <class List>
int nextId(const List& list) {
  int most = 0;
  for (const auto& item : list) most = std::max(most, item.id);
  return most + 1;
}

}  // namespace dune::project
