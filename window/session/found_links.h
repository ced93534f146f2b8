#pragma once
// Drops and jumps that the build found: which one is chosen, and what a person says of it. Each is one undo step.

#include "core/links/find.h"
#include "window/session/workspace.h"

namespace dune::window {

/// Of the first link that was refused, among what can be chosen; the others count on.
constexpr int kFirstRefused = 1'000'001;

/// The one of the shown ground that is chosen; null when none is.
const nav::Link* chosenFound(Workspace& workspace);
/// The refused one that is chosen; null when none is.
const links::RefusedLink* chosenRefused(Workspace& workspace);

/// Whether the build looks for them.
void findLinks(Workspace& workspace, bool find);
/// Makes it a hand-made one, which is chosen then.
void keepAsDrawn(Workspace& workspace, const nav::Link& found);
/// The same with other ends; the found one is refused.
void keepMoved(Workspace& workspace, const nav::Link& found, const Vec3& from, const Vec3& to);
/// Leaves it out, now and at every build.
void refuse(Workspace& workspace, const nav::Link& found);
/// Lets the build find the chosen refused one again.
void takeBackRefused(Workspace& workspace);

}  // namespace dune::window
