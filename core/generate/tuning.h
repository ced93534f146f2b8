#pragma once
// The numbers the mesh folder is tuned with, metres unless said otherwise.

namespace dune::generate::tuning {

constexpr double kArcError = 0.006;       // how far the polygon around a round corner may stand off the true arc
constexpr double kTie = 2e-4;             // two outlines nearer than this are the same line; well under a lattice step
constexpr double kLeastPiece = 5e-4;      // half a lattice step: shorter pieces vanish when rounded
constexpr double kSimplifyError = 0.006;  // how far simplifying may move the border, always to the safe side
constexpr double kRoundError = 0.02;      // how far a round corner may stand off in the end, where nothing else is near
constexpr double kNearer = 0.001;         // how much nearer than the radius rounding may bring the border; the promise is 5 mm
constexpr double kFitError =
    0.036;                         // where a face is farther off the ground, a point is put in; merging may add kFlat, and 8 cm is promised
constexpr double kFlat = 0.01;     // how far the corners of a merged face may be off its plane
constexpr double kLeastAngle = 1;  // degrees: faces with less are given a nearer apex where that is possible
constexpr double kStepStrip = 0.025;               // half the width of the steep strip over a step
constexpr double kLeastStripped = 4 * kStepStrip;  // m: shorter steps have no strip
constexpr double kLeastApart = 0.04;               // points inserted for height are not nearer to each other
constexpr double kMeets = 0.02;                    // heights of one ground at one place may differ by that, and by a step

}  // namespace dune::generate::tuning
