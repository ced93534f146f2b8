#pragma once
// What is wrong, each with where, when, who, and the measured number against the limit.

#include <variant>

#include "core/generate/build.h"
#include "core/level/import.h"
#include "core/links/attach.h"
#include "core/trace/trace.h"

namespace dune::review {

enum class Severity : std::uint8_t { error, warning, hint };

// What a button can do about a finding; each is a change of the document that can be undone.

/// Objects get a role of their own.
struct GiveRole {
  std::vector<std::string> objects;  ///< by name
  level::Role role;
};
/// The mark of an object that is gone goes too.
struct RemoveMark {
  std::string object;
};
/// A rule that fits nothing goes.
struct RemoveRule {
  std::string pattern;
};
/// A level file is read in another way.
struct ReadFile {
  std::string file;  ///< as the document names it
  level::ImportOptions read;
};
/// A kind of agent can do more.
struct Enable {
  std::string agent;                 ///< by name
  double maxDrop, maxJump, maxRise;  ///< metres
};
/// Islands under a size go.
struct DropIslands {
  double area;  ///< m²
};
struct Remedy {
  std::string label;  ///< "Mark as obstacle"
  std::variant<GiveRole, RemoveMark, RemoveRule, ReadFile, Enable, DropIslands> change;
};

struct Finding {
  std::string code;  ///< stable name: "wall-touched", "island" …
  Severity severity = Severity::warning;
  std::string sentence;  ///< what, with the measured number
  std::string why;       ///< why it probably happens
  std::string advice;    ///< what to try
  Vec3 at{};             ///< where
  double time = -1;      ///< seconds into the trace; below zero when it is not about movement
  int agent = -1;        ///< who; below zero when it is not about one body
  double measured = 0, limit = 0;
  std::optional<Remedy> remedy{};
};

struct MovementLimits {
  double wallTouch = 0.02;   ///< metres nearer to a wall than the radius
  double offGround = 0.3;    ///< metres above, below or beside the ground
  double overlap = 0.01;     ///< metres two bodies may stand inside each other
  double stuckSeconds = 3;   ///< standing still that long on the way
  double stuckSpeed = 0.05;  ///< metres a second
};

struct MeshLimits {
  double smallIsland = 1;  ///< m²: smaller islands are one hint together; 0: every island but the largest is a warning
};

/// Islands (all but the largest), broken links, and links that the mesh's agent cannot take. O(faces).
std::vector<Finding> reviewMesh(const nav::NavMesh& mesh, const std::vector<links::Broken>& broken,
                                const std::vector<links::Beyond>& beyond = {}, const MeshLimits& limits = {});

/// What bodies moved on.
struct Ground {
  const nav::NavMesh& mesh;
  const nav::Locator& locator;
};
/// Walls touched, ground left, overlaps, stuck, never arrived; one finding an event, the worst moment of it. `groundOf`: one a body of the
/// trace, which of the grounds it moved on; the first where it says nothing. O(samples × neighbours).
Result<std::vector<Finding>> reviewMovement(std::span<const Ground> grounds, std::span<const std::size_t> groundOf,
                                            const trace::Trace& trace, const MovementLimits& limits, Job& job);
/// Where all moved on one mesh.
inline Result<std::vector<Finding>> reviewMovement(const nav::NavMesh& mesh, const nav::Locator& locator, const trace::Trace& trace,
                                                   const MovementLimits& limits, Job& job) {
  const Ground one[] = {{mesh, locator}};
  return reviewMovement(one, {}, trace, limits, job);
}

/// How far a place is from the nearest wall: the mesh border's distance plus the mesh's radius, metres, at most `most`.
class WallDistance {
 public:
  explicit WallDistance(const nav::NavMesh& mesh);
  double at(const Vec3& p, double most = 10) const;

 private:
  struct Edge {
    Vec2 a, b;
    double y;
  };
  std::vector<Edge> edges_;
  PlanGrid grid_;
  double radius_;
};

/// A crowd group whose start has room for fewer bodies than were asked for.
Finding tooFewPlaces(int group, int wanted, int placed, const Vec3& at);
/// Bodies wider than the mesh was built for: they scrape along walls.
Finding widerThanMesh(int group, double radius, double meshRadius, const Vec3& at);
/// A speed over the top speed of their kind of agent.
Finding fasterThanAgent(int group, double speed, double topSpeed, const Vec3& at);

const char* severityName(Severity severity);

}  // namespace dune::review
