#include "core/trace/column_names.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <string>
#include <utility>

namespace dune::trace {

namespace {

constexpr std::array<const char*, kCount> kNames{"t",       "id",      "x",     "y",    "z",      "vx",     "vy",     "vz",     "want_vx",
                                                 "want_vy", "want_vz", "state", "face", "radius", "goal_x", "goal_y", "goal_z", "group"};

/// Other names for the same; of places and velocities without the letter of the axis.
constexpr std::pair<const char*, std::size_t> kOthers[] = {
    {"time", kT},        {"seconds", kT},         {"timestamp", kT}, {"times", kT},      {"agent", kId},  {"agentid", kId},
    {"entity", kId},     {"entityid", kId},       {"actor", kId},    {"actorid", kId},   {"npc", kId},    {"npcid", kId},
    {"unit", kId},       {"unitid", kId},         {"body", kId},     {"character", kId}, {"posx", kX},    {"positionx", kX},
    {"px", kX},          {"locationx", kX},       {"velx", kVx},     {"velocityx", kVx}, {"speedx", kVx}, {"goalx", kGoalX},
    {"targetx", kGoalX}, {"destinationx", kGoalX}};

/// Only its letters and digits, small.
std::string plain(std::string_view name) {
  std::string text;
  for (const char c : name)
    if (std::isalnum(static_cast<unsigned char>(c))) text += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  return text;
}

}  // namespace

const char* columnName(std::size_t column) { return kNames[column]; }

std::optional<std::size_t> columnNamed(std::string_view name) {
  const std::string asked = plain(name);
  for (std::size_t c = 0; c < kCount; ++c)
    if (asked == plain(kNames[c])) return c;
  for (const auto& [other, column] : kOthers) {
    if (asked == other) return column;
    const std::string_view base = std::string_view(other).substr(0, std::string_view(other).size() - 1);
    const bool axes = std::string_view(other).back() == 'x' && column != kId;
    for (std::size_t axis = 1; axes && axis < 3; ++axis)
      if (asked.size() == base.size() + 1 && asked.starts_with(base) && asked.back() == "xyz"[axis]) return column + axis;
  }
  return std::nullopt;
}

}  // namespace dune::trace
