#pragma once
// Lines at which ground is parted, or crossed one way only: where they end, the faces they cut, the edges along them.

#include "core/hand/sheet.h"
#include "core/hand/work.h"
#include "core/nav/border.h"
#include "core/nav/locator.h"

namespace dune::hand {

/// Whether a place lies along a part, within `levels` metres of its height there.
bool liesOn(const Part& part, const Vec3& at, double levels);

/// Adds a part, and from each end that was at the border of the ground where it was drawn on to where the border is nearest now, at most a
/// metre farther.
void addToBorder(std::vector<Part>& parts, const Part& part, const nav::NavMesh& mesh, const nav::Locator& locator,
                 const nav::Border& border);

/// Both halves of a face through which a part leads at its height, its ends being corners of both; nothing where it only runs along it.
std::vector<SheetFace> halvesOf(const SheetFace& face, const Part& part, double levels);

/// A side of a face that is crossed one way, out of it.
struct OpenSide {
  nav::FaceId from, into;
  Vec3 a, b;
};
/// Neighbours whose edge lies along a part, within `levels` metres of height, are none any more. O(corners).
std::vector<OpenSide> sever(nav::NavMesh& mesh, const std::vector<Part>& parts, double levels);

/// Links as wide as these sides, from a hair before them to a hair behind; none for sides of faces that are no wider than that.
std::vector<nav::Link> crossings(const nav::NavMesh& mesh, const std::vector<OpenSide>& sides);

}  // namespace dune::hand
