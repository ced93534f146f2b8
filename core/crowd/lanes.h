#pragma once
// Corridors in which others come the other way: everybody keeps to the right half, in as many files as have room in it.

#include <optional>
#include <span>

#include "core/crowd/narrows.h"

namespace dune::crowd {

/// Where ground ends on both sides of a body within a few metres, across the corridor that it goes along. O(faces crossed).
std::optional<Lane> laneAt(const nav::NavMesh& mesh, const Body& body, const nav::Rules* rules);

/// The same across a direction.
std::optional<Lane> crossSection(const nav::NavMesh& mesh, const nav::Place& at, const Vec2& along, const nav::Rules* rules);

/// Whether somebody comes the other way, and two can pass each other.
bool comesToward(const Lane& lane, const Body& body, std::span<const Passer> others);
/// The wanted velocity of one in a lane while somebody comes the other way.
///
/// 1. Who is in the left half wants to the right; who is in the right half stays there.
/// 2. Of those who go the same way, no more are abreast than have room in that half; who is farther along goes first, and the next leave
///    it room to come in, or go back for it.
Vec2 keptRight(const Lane& lane, const Body& body, std::span<const Passer> others);

constexpr double kLaneSight = 16;  ///< m along a lane

}  // namespace dune::crowd
