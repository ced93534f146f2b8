#pragma once
// Whether a body gets on.

#include "core/crowd/body.h"

namespace dune::crowd {

/// On the ground, and somebody whom others can meet.
bool stands(const Body& body);
/// On its way to where it can get, and not there yet.
bool goes(const Body& body);

/// Takes note of how far a body has come after `dt` seconds more: it gets on where its way is half a metre shorter than it ever was. On
/// another way, and while it is not on the ground, it begins anew; at its place it is forgotten as slowly as it was counted, for who is
/// pushed from there again and again does not get on either. O(corners of the way).
void countProgress(Body& body, double dt);

}  // namespace dune::crowd
