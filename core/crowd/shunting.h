#pragma once
// Bodies in a yard are put in another order: who goes when to which place, until each is where it wants.

#include <cstdint>
#include <optional>
#include <span>
#include <vector>

#include "core/crowd/yard.h"

namespace dune::crowd {

/// Where a body in a yard is, and where it wants.
struct Shunted {
  std::uint32_t from = Yard::kNone, to = Yard::kNone;
  bool leaves = false;  ///< it goes on from there, out of the yard
};

/// Where each is after each step; Yard::kNone once it has left.
using Shunting = std::vector<std::vector<std::uint32_t>>;

/// The quickest of several ways that were found to bring everybody where it wants; nothing where none was found. In a step each goes to a
/// place beside it or stays, no two to one place, and no two change places.
///
/// Whoever has been away from where it wants for longest chooses first: the place nearest to where it wants. Who stands there gives way
/// before anybody else chooses, and may have others give way to it; where it cannot, the first one chooses again. Where any two places
/// beside each other lie on a ring, everybody gets where it wants at some time. Source: Okumura, Machida, Défago & Tamura, "Priority
/// inheritance with backtracking for iterative multi-agent path finding", Artificial Intelligence 310, 2022. That all are there at once
/// it does not promise; so it is tried again with lots drawn otherwise, which is ours, and finds shorter ways too.
///
/// Where that comes to nothing states are searched through, none of them twice in the same way, and two that have to pass each other where
/// one at a time goes through go back together to where there is room (see shunting.cpp and shunting_step.cpp for their sources).
///
/// No two begin at one place, nor do two who stay end at one. O(tries × steps × bodies), of which there are at most two and a half millions.
std::optional<Shunting> shunt(const Yard& yard, std::span<const Shunted> bodies);

}  // namespace dune::crowd
