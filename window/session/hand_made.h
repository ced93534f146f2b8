#pragma once
// What people make by hand, by kind and key: finding it in the document, changing it, taking it away. Each is one undo step.

#include "window/scene/picking.h"
#include "window/session/workspace.h"

namespace dune::window {

// What is chosen of its kind; null when nothing is, or it is gone.
const level::Blocker* chosenBlocker(Workspace& workspace);
const level::AreaKind* chosenKind(Workspace& workspace);
const hand::Patch* chosenPatch(Workspace& workspace);
const level::AreaVolume* chosenVolume(Workspace& workspace);
const links::HandLink* chosenLink(Workspace& workspace);
const project::Card* chosenCard(Workspace& workspace);
const project::KeptRoute* chosenRoute(Workspace& workspace);
const project::CrowdGroup* chosenGroup(Workspace& workspace);
const project::CrowdObstacle* chosenObstacle(Workspace& workspace);
const project::NamedPlace* chosenPlace(Workspace& workspace);
const project::FlyerKind* chosenFlyer(Workspace& workspace);
const project::FlightVolume* chosenFlightVolume(Workspace& workspace);
const project::AskedFlight* chosenFlight(Workspace& workspace);
const project::FlyerGroup* chosenFlyerGroup(Workspace& workspace);

/// The blocker that is pointed at; null when it is an object of the level, or gone since the world was drawn.
const level::Blocker* blockerAt(Workspace& workspace, const Picked& picked);

// Puts another one in the place of that with the same id.
void replace(Workspace& workspace, const level::Blocker& blocker, const QString& label, const QString& mergeKey = {});
void replace(Workspace& workspace, const hand::Patch& patch, const QString& label, const QString& mergeKey = {});
void replace(Workspace& workspace, const level::AreaVolume& volume, const QString& label, const QString& mergeKey = {});
void replace(Workspace& workspace, const links::HandLink& link, const QString& label, const QString& mergeKey = {});
void replace(Workspace& workspace, const project::CrowdGroup& group, const QString& label, const QString& mergeKey = {});
void replace(Workspace& workspace, const project::CrowdObstacle& obstacle, const QString& label, const QString& mergeKey = {});
void replace(Workspace& workspace, const project::NamedPlace& place, const QString& label, const QString& mergeKey = {});
void replace(Workspace& workspace, const project::KeptRoute& route, const QString& label, const QString& mergeKey = {});
void replace(Workspace& workspace, const project::FlyerKind& flyer, const QString& label, const QString& mergeKey = {});
void replace(Workspace& workspace, const project::FlightVolume& volume, const QString& label, const QString& mergeKey = {});
void replace(Workspace& workspace, const project::AskedFlight& flight, const QString& label, const QString& mergeKey = {});
void replace(Workspace& workspace, const project::FlyerGroup& group, const QString& label, const QString& mergeKey = {});

// Adds one, with an id of its own, and chooses it.
void add(Workspace& workspace, level::Blocker blocker);
void add(Workspace& workspace, level::AreaVolume volume);
void add(Workspace& workspace, links::HandLink link);
// Groups and obstacles go into the scene that is worked on.
void add(Workspace& workspace, project::CrowdGroup group);
void add(Workspace& workspace, project::CrowdObstacle obstacle);
void add(Workspace& workspace, project::Card card);
void add(Workspace& workspace, project::NamedPlace place);
void add(Workspace& workspace, project::KeptRoute route);
void add(Workspace& workspace, project::FlyerKind flyer);
void add(Workspace& workspace, project::FlightVolume volume);
void add(Workspace& workspace, project::AskedFlight flight);
void add(Workspace& workspace, project::FlyerGroup group);
void addSeed(Workspace& workspace, const Vec3& at);

/// Takes away what is chosen of a kind that people make; false when nothing is, or it is of another kind.
bool removeChosen(Workspace& workspace, ThingKind kind);

}  // namespace dune::window
