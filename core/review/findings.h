#pragma once
// What is wrong, each with where, when, who, and the measured number against the limit.

#include <variant>

#include "core/generate/build.h"
#include "core/hand/take_over.h"
#include "core/hand/work.h"
#include "core/level/import.h"
#include "core/links/attach.h"
#include "core/nav/rules.h"
#include "core/trace/reading.h"

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
  bool ofKind = false;  ///< of which kind ground is, and not what an object counts as
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
/// A link drawn by hand can be taken both ways.
struct BothWays {
  int link;  ///< its id
};
/// The recording that is looked at is read in another way.
struct ReadRecording {
  trace::Reading read;
};
/// A patch drawn by hand becomes another, or goes.
struct ReplacePatch {
  int patch;                              ///< its id
  std::shared_ptr<const hand::Patch> by;  ///< null: none
};
/// A mesh from elsewhere is mended whenever it is read.
struct MendGiven {
  std::size_t mesh;  ///< which of the document's
  hand::Mend mend;
};
/// The ground at a place is changed by hand.
struct MendByHand {
  enum class What : std::uint8_t {
    drape,     ///< the face lies on the level again
    cut,       ///< one of two faces over each other gives way
    takeAway,  ///< the island goes
  };
  What what;
  Vec3 at;
  int agent;  ///< id of the kind whose mesh it is
};
struct Remedy {
  std::string label;  ///< "Mark as obstacle"
  std::variant<GiveRole, RemoveMark, RemoveRule, ReadFile, Enable, DropIslands, BothWays, ReadRecording, ReplacePatch, MendGiven,
               MendByHand>
      change;
};

struct Finding {
  std::string code;  ///< stable name: "wall-touched", "island" …
  Severity severity = Severity::warning;
  std::string sentence;  ///< what, with the measured number
  std::string why;       ///< why it probably happens
  std::string advice;    ///< what to try
  Vec3 at{};             ///< where
  double time = -1;      ///< seconds into the trace, of the worst moment, where it is about movement
  int agent = -1;        ///< who; below zero when it is not about one body
  double measured = 0, limit = 0;
  std::optional<Remedy> remedy{};
  std::vector<Remedy> instead{};  ///< what one may want in place of that
  /// Seconds into the trace, of all of it; not a number when it is not about movement.
  double from = std::numeric_limits<double>::quiet_NaN(), until = from;
  /// Whether it is about movement at a time, which may be below zero in a recording.
  bool timed() const { return !std::isnan(from); }
  bool flies = false;         ///< the body flies
  std::vector<int> others{};  ///< ids of further bodies that have a part in it
  std::string muted{};        ///< why it is passed over; empty where it is not
};

struct MeshLimits {
  double smallIsland = 1;  ///< m²: smaller islands are one hint together; 0: every island but the largest is a warning
};

/// What nobody comes to, what one never leaves again, broken links, and links that the mesh's agent cannot take. O(faces + links).
std::vector<Finding> reviewMesh(const nav::NavMesh& mesh, const nav::Rules& rules, const std::vector<links::Broken>& broken = {},
                                const std::vector<links::Beyond>& beyond = {}, const MeshLimits& limits = {});

/// A crowd group whose start has room for fewer bodies than were asked for.
Finding tooFewPlaces(int group, int wanted, int placed, const Vec3& at);
/// Bodies wider than the mesh was built for: they scrape along walls.
Finding widerThanMesh(int group, double radius, double meshRadius, const Vec3& at);
/// A speed over the top speed of their kind of agent.
Finding fasterThanAgent(int group, double speed, double topSpeed, const Vec3& at);

const char* severityName(Severity severity);

}  // namespace dune::review
