#pragma once
// What kinds of ground and links are to each kind of agent of a project.

#include "core/nav/rules.h"
#include "core/project/project.h"

namespace dune::project {

/// Whether an agent may take links of a kind.
bool mayTake(const AreasSection& areas, int agent, nav::LinkKind kind);

void setMayTake(AreasSection& areas, int agent, nav::LinkKind kind, bool may);
/// Takes away what is said for kinds of agent, and of kinds of ground, that are there no more.
void dropRules(AreasSection& areas, const AgentsSection& agents);

/// Calls a kind of ground otherwise, wherever the project speaks of it.
void renameKind(Project& project, const std::string& from, const std::string& to);
/// Takes a kind of ground away, with its rules and those of its volumes that have no tags; what was painted with it by hand is of the first
/// kind.
void removeKind(Project& project, const std::string& kind);

/// What air of a kind is to a kind that flies: by its own rule, or as the kind of ground says.
nav::KindRule airRule(const Project& project, int flyer, const std::string& kind);

/// What counts for an agent on its mesh; where it crouches, with the kind for low ground that its meshes have last.
nav::Rules rulesFor(const AreasSection& areas, const AgentKind& agent);
/// The same on the mesh of another agent: where that one crouches, one who does not may not go.
nav::Rules rulesOn(const nav::NavMesh& mesh, const AreasSection& areas, const AgentKind& agent);

}  // namespace dune::project
