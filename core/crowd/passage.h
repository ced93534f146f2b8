#pragma once
// Corridors and doors in which two cannot pass each other: one direction at a time.

#include <optional>
#include <span>

#include "core/crowd/narrows.h"

namespace dune::crowd {

/// The next such stretch within a few metres of a body's way. O(faces crossed).
std::optional<Passage> passageAhead(const nav::NavMesh& mesh, const Body& body, const nav::Rules* rules);

enum class PassageTurn : std::uint8_t { go, wait, back };
/// What a body does before or in a passage.
///
/// 1. While somebody comes through, the others wait outside.
/// 2. The side that has been going through goes on; then the one that has somebody nearer to its end. Unless one of the others has waited
///    for long, and longer.
/// 3. Where they meet inside all the same, those go back whose first has come less far.
PassageTurn passageTurn(const Passage& passage, const Body& body, std::span<const Passer> others);

/// Before a bend they walk one behind the other, for side by side two wedge there: the wanted velocity as far as the one ahead leaves room.
/// Nothing where it does not bend any more.
std::optional<Vec2> inFile(const Passage& passage, const Body& body, std::span<const Passer> others);

/// The velocity of one that waits before a passage: out of the way of those who come out of it.
Vec2 clearOfEnd(const Passage& passage, const Body& body);

}  // namespace dune::crowd
