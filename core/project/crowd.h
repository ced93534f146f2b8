#pragma once
// What a person says of crowds: groups that walk at once, things that move among them, and how they steer.

#include <string>
#include <vector>

#include "core/crowd/scene.h"

namespace dune::project {

/// Where the bodies of a group begin.
enum class StartForm : std::uint8_t { area, line, ring };
/// Where they go: to a place, to a named object of the level, after another group, from place to place, to places around one, or each to
/// the other side of where the group starts.
enum class GoalKind : std::uint8_t { place, object, group, round, around, across };

struct CrowdGroup {
  int id = 0;
  Vec3 start{}, goal{};
  int count = 10;
  double radius = 0;  ///< of the bodies, metres; 0: the agent's
  std::string name{};
  std::string scene{};                    ///< groups of one scene walk at once
  int agent = 0;                          ///< the id of its kind of agent; 0: the one that is worked on
  StartForm startForm = StartForm::area;  ///< around the start, on a line from it, on a ring around it
  Vec3 startEnd{};                        ///< the other end of the line
  double startRadius = 4;                 ///< of the ring, metres
  double every = 0;                       ///< seconds from one body's beginning to the next one's; 0: all at once
  GoalKind goalKind = GoalKind::place;
  std::string object{};       ///< by name
  int quarry = 0;             ///< the id of the group that is followed
  std::vector<Vec3> round{};  ///< places after the goal, for a round
  double around = 3;          ///< metres from the goal, for places around it
  double speed = 0;           ///< metres a second; 0: the agent's
  int priority = 0;           ///< more goes first
  crowd::SteeringSettings steering{};
  bool operator==(const CrowdGroup&) const = default;
};

struct CrowdObstacle : crowd::MovingObstacle {
  std::string scene;
  bool operator==(const CrowdObstacle&) const = default;
};

struct CrowdSection {
  std::vector<CrowdGroup> groups{};
  double seconds = 60;
  std::vector<CrowdObstacle> obstacles{};
  std::optional<crowd::SteeringSettings> other{};  ///< how all groups steer in a second run beside the first
  bool operator==(const CrowdSection&) const = default;
};

/// The names of all scenes, in the order in which they appear first; one without a name when there is nothing.
std::vector<std::string> scenesOf(const CrowdSection& crowd);

}  // namespace dune::project
