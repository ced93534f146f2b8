#pragma once
// Every number of this folder that was chosen, in units of the body's radius unless said otherwise.

#include <cstddef>

namespace dune::flight::tuning {

/// The smallest cell. Two places of one cell that both are free are less than two radii apart, so nothing can lie between them, and what is
/// free in a cell is one piece for a body a tenth smaller: a cell needs but one place to stand for all of it.
constexpr double kUnit = 0.5;
/// Units along a chunk's side, a power of two. Larger ones have less border, smaller ones are renewed sooner.
constexpr int kChunkUnits = 32;
constexpr int kLevels = 5;
/// The largest level of cells that are left out beside a wall.
constexpr int kMostBeside = 2;
/// Such a cell leads straight out to a free one at most so many of its widths away, at least two units.
constexpr double kDrain = 2;
/// So much near a cell is so dense that of its parts all that is near is looked at at once.
constexpr std::size_t kDense = 16;
/// How far into where a cell of its width is free for sure the way out goes, in widths: the cell there is seldom in the middle.
constexpr double kGo = 0.5;
/// And for the smallest, if that is too far: to where one of its own size may be free, in radii.
constexpr double kGoNear = 1.5;
/// Narrow places within so many units wake the cells along walls that were left out: as far as a way out is long, and a cell.
constexpr int kWake = 6;
/// How much more than the radius a place is pushed away from everything, so that rounding never makes it less.
constexpr double kPush = 1e-4;
/// Of pushing: half-spaces that after so many sweeps still are missed by such a share of the radius, and by nearly as much as at the sweep
/// before, do not go together.
constexpr int kLeastSweeps = 3;
constexpr double kVain = 0.05, kStalls = 0.9;
/// How much room a place to stand in a narrow cell is given if there is any: in the middle of a gap ways to the next cells are straight.
constexpr double kCentre[] = {1.2, 1.06, 1.02};
/// Of the radius: less to spare than that is none, so that rounding never makes room where a wall lies on a side of cells.
constexpr double kHair = 1e-8;
/// How often a smallest cell is halved to see whether it has any room: first, and if that leaves it open.
constexpr int kPartings[] = {1, 3};
/// How often a way between two cells may be parted to bend.
constexpr int kBends = 4;
/// And how far from both places it may bend, in radii.
constexpr double kBendRoom = 2;
/// What sweeps of a path keep of that.
constexpr double kSweep = 1e-6;
/// How much higher one rises than one must where one takes off, and the steps in which that is looked for.
constexpr double kLift = 0.02;
/// The largest level of cells that lie in air of several costs.
constexpr int kMostMixed = 1;
/// How far beyond a chunk its cells may ask: the largest cell beside a wall goes out by kDrain widths, and there looks at a cell of its
/// width (half a diagonal to its middle) for anything within the radius and half a diagonal.
constexpr double kReach = (1 << kMostBeside) * kUnit * (kDrain + 1.7321) + 1;
/// The ball about a whole chunk ends nearer than that.
static_assert(kReach > 1 + 0.3661 * kChunkUnits * kUnit);
/// Most chunks of a volume.
constexpr double kMostChunks = 4e6;
/// Bytes that a cell takes while a space is made, of all that is kept of it: the cell twice, its ties and its part.
constexpr std::size_t kCellBytes = 220;

// Ways.

/// Units outside of a cell at which a way has left it: one along a side goes on beyond a few of the steps that rounding knows.
constexpr double kOutside = 1e-6;
/// Units: nearer than that everything counts as seen that the sweep lets through, farther away only what lies in free cells.
constexpr double kNear = 6;
/// Of the straight way's length: around one thing no more than that is taken without a search. Places beside the middle of what is in the
/// way that are tried for it, in radii, in so many directions.
constexpr double kHardlyLonger = 1.005;
constexpr double kAsideTries[] = {0.3, 0.6, 1, 1.6, 2.5, 4};
constexpr int kDirections = 8;
/// Of the straight way's length: a way that is no longer is not tried on other sides. Of a way's length: over places with no more than that
/// it is tried. How much farther out each of them is.
constexpr double kNearlyStraight = 1.01, kRoundabout = 1.25, kFirstAside = 0.25, kFartherOut = 1.4;
/// Corners nearer to each other than so many radii go around one thing; parts of a way around at most so many things are tried on other
/// sides, and it begins anew with the shorter way at most so many times.
constexpr double kSameTurn = 2;
constexpr std::size_t kMostTurns = 3;
/// The shortest of the ways over such places is made taut, unless it is that much longer when all are roughly so.
constexpr double kRoughlyLonger = 1.02;
constexpr int kSideRounds = 2;
/// Where the search looked at no more cells it looks once more for a way elsewhere, at most at so many times as many.
constexpr std::size_t kFewCells = 4000, kLookAgain = 2;
/// Radii around where a way bends at which bending then costs so many radii.
constexpr double kShunned = 3, kBendCosts = 4;
/// Of its length: how much longer a way may seem over the middles of cells than it is when it is taut.
constexpr double kCellsLonger = 1.2;
/// Of making a way taut: most rounds, and what share of the length one must gain.
constexpr int kTautRounds = 40;
constexpr double kEnough = 2e-5;
/// Of making it so roughly: most rounds, and what share of the length one must gain.
constexpr int kRoughRounds = 8;
constexpr double kRoughly = 2e-3;
/// Radii between corners that are moved as one.
constexpr double kTogether[] = {0.5, 2, 6};
/// Of settling what a way over zones costs: most rounds, moves of a corner at one step, and the shortest step.
constexpr int kCostRounds = 12, kMostMoves = 40;
constexpr double kLeastMove = 0.008;
/// Radians: corners that turn more are parted.
constexpr double kRoundTurn = 0.30;
/// Of one corner; the nearest ones.
constexpr std::size_t kMostContacts = 24;
constexpr std::size_t kMostCorners = 400;

// Motion; metres and seconds.

constexpr double kGravity = 9.81;
/// Of the acceleration that braking before a goal or a corner counts on.
constexpr double kBrake = 0.7;
/// Over which walls are heeded.
constexpr double kWallSeconds = 0.3;
/// Walls that are heeded, at most.
constexpr std::size_t kMostWalls = 16;
/// Radii kept from walls, so that what rounding takes of them never stops a body.
constexpr double kKept = 1e-3;
/// How much whoever comes straight goes to the side.
constexpr double kAside = 0.3;
/// Radians: further off than this it turns before it goes.
constexpr double kTurnFirst = 0.35;
/// Seconds without getting nearer before another way is asked for, and ways asked for in vain before it counts as stuck.
constexpr double kPatience = 3;
constexpr int kTries = 3;
/// Of what two need beside each other: nearer they cross.
constexpr double kNearPass = 1.5;
/// Seconds of waiting after which the lower number goes first.
constexpr double kYieldAfter = 0.7;
/// Radii to both sides in a narrow place.
constexpr double kTightRoom = 0.7;
/// What cannot hover looks ahead before a narrow place no farther than this share of the distance to it, but as many radii at least.
constexpr double kLinesUp = 0.4, kLinesUpLeast = 0.8;
/// It comes to one straight from so many radii of its smallest turning circle and of its body, and as slow as it can from so many.
constexpr double kRunUpTurns = 3, kSlowTurns = 4, kRunUpRadii = 3;
/// It lands from so many radii beside, at most, and no faster to the side than so many metres a second.
constexpr double kOver = 0.3, kSlowOver = 0.6;
/// Metres of a way that are looked at for narrow places.
constexpr double kFarGates = 300;
/// Who keeps a place beside a leader: 1/s, how soon what is missing is made good; seconds for which it flies alone once it has left it.
constexpr double kCloseUp = 1.2, kAlone = 1.5;
/// Of its speed: slower than that in plan a leader does not turn the places beside it.
constexpr double kGoesOn = 0.3;
/// The leader's share of its speed, so that the others can close up; and how far, in radii, somebody falls back until it is the least one.
constexpr double kLeads = 0.85, kLeastShare = 0.3, kFallBack = 6;
/// 1/s: how fast bank and pitch follow.
constexpr double kLean = 3;

}  // namespace dune::flight::tuning
