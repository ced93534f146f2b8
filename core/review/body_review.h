#pragma once
// What is wrong with the movement of one body. Its parts look at one side of it each, one after the other: later ones leave out what
// earlier ones have told.

#include <algorithm>
#include <map>
#include <string_view>

#include "core/nav/walk.h"
#include "core/review/movement.h"
#include "core/review/track.h"
#include "core/route/path.h"
#include "core/route/search.h"

namespace dune::review {

/// What is the same for all bodies of a trace.
struct Recording {
  std::span<const Ground> grounds;
  std::span<const std::size_t> groundOf;
  const trace::Trace& trace;
  const MovementLimits& limits;
  double usualSpeed = 0;            ///< m/s, the median of those who walk
  std::vector<std::size_t> gaps{};  ///< frames before which nothing at all was recorded for long, ascending

  std::size_t numberOf(std::size_t body) const { return body < groundOf.size() ? groundOf[body] : 0; }
  const Ground& of(std::size_t body) const { return grounds[numberOf(body)]; }
  double radiusOf(std::size_t body) const {
    const double own = trace.bodies()[body].radius;
    return own > 0 ? own : of(body).mesh.agent.radius;
  }
  /// How fast a body may go: what its kind of agent can. Where a recording goes by another measure as a whole, up to twice that.
  double topSpeed(std::size_t body) const;
};

/// Seconds between two samples from which on something is missing, where they are `usual` seconds apart as a rule.
inline double longestPause(const MovementLimits& limits, double usual) {
  constexpr double kUsual = 5;  // times that
  return std::max(limits.gap, kUsual * usual);
}

/// From a place to those about it that may be of another kind: ways run along borders between kinds.
constexpr Vec3 kAround[] = {{0, 0, 0}, {0.05, 0, 0}, {-0.05, 0, 0}, {0, 0, 0.05}, {0, 0, -0.05}};

class BodyReview {
 public:
  BodyReview(const Recording& recording, std::size_t body);
  /// All of it.
  std::vector<Finding> run();

 private:
  // about_recording.cpp: what cuts the track into spans
  void cutIntoSpans();
  void gap(const Moment& before, const Moment& after);
  bool fastBy(std::size_t i) const;
  bool crossed(const Moment& before, const Moment& after);
  // about_ground.cpp
  struct Standing {
    nav::Place place;  ///< under it, or the nearest one
    double off;        ///< m from the ground that its centre may be on
    bool on;           ///< it is on the ground
  };
  Standing standingAt(const Moment& m) const;
  /// How far the body's centre is from a wall, m; at most `most`. Over the ground it stands on, so that storeys are told apart.
  double wallDistance(const Vec3& at, const Standing& standing, double most) const;
  void lookAtGround(const Span& span);
  /// Whether it went over a link.
  bool tellExcursion(std::size_t first, std::size_t last, const std::vector<Standing>& standing, const Span& span);
  bool overBorder(const Vec3& from, const Vec3& to) const;
  bool throughWall(const nav::Place& in, const nav::Place& out, std::size_t first, std::size_t last);
  bool mayBeOn(const Moment& m, const nav::Place& place) const;
  /// Above or below the level itself, though about as high as its mesh.
  void lookAtHeight(const Span& span, const std::vector<Standing>& standing);
  void tellTouched(const Event& event);
  void tellForbidden(const Event& event, std::uint16_t kind);
  // about_motion.cpp
  void lookAtSpeed(const Span& span);
  void lookAtTurns(const Span& span);
  void lookAtStanding(const Span& span);
  // about_pace.cpp
  void lookAtHesitation(const Span& span);
  void lookAtLateness(std::size_t first, std::size_t last);
  void lookAtPath(const Span& span);
  /// Its own speed on its way, m/s; 0 where it never walks.
  double pace() const;
  // about_wobble.cpp
  void lookAtTrembling(const Span& span);
  void lookAtBackAndForth(const Span& span);
  void lookAtCircling(const Span& span);
  // about_way.cpp
  void lookAtWay();
  void lookAtTrip(std::size_t first, std::size_t last, bool meant);
  /// Cost of a metre there; at a border between two kinds, of the cheaper one.
  double costAt(const Vec3& at) const;
  void lookAtArrival();
  /// Of one that never set out.
  void lookAtStart();
  /// Metres between it and other bodies at a frame, and their ids, the nearest first; if it is at a place.
  std::vector<std::pair<double, int>> bodiesNear(const Vec3& at, std::size_t frame, double within) const;
  /// "Agents 3 and 7 stand around it.", with their ids; empty where nobody does.
  std::string whoStandsAround(const Vec3& at, std::size_t frame, std::vector<int>& others) const;
  bool arrived(std::size_t moment) const;
  /// Why it stands, in a sentence; adds those who stand in its way.
  std::string whyItStands(const Span& standing, std::vector<int>& others) const;
  std::string goalCannotBeReached(const Vec3& from) const;

  const Moment& moment(std::size_t i) const { return track_.moments[i]; }
  const nav::Agent& agent() const { return ground_.mesh.agent; }
  const trace::Body& body() const { return recording_.trace.bodies()[track_.body]; }
  bool toldBetween(double from, double to, std::initializer_list<const char*> codes) const;
  Finding& add(const char* code, Severity severity, const Event& e, double limit, std::string sentence, std::string why,
               std::string advice);
  /// The cost of the best way, or nothing where there is none or no field.
  std::optional<route::PathAnswer> bestWay(const Vec3& from, const Vec3& to) const;
  route::PathAnswer wayOver(const route::Field& field, const Vec3& from, const Vec3& to) const;

  const Recording& recording_;
  const Ground& ground_;
  const MovementLimits& limits_;
  Track track_;
  double radius_, topSpeed_;
  std::vector<Span> spans_;
  std::vector<Span> stood_;  ///< where it stood for a second at least
  mutable std::optional<double> pace_;
  mutable std::optional<route::Search> search_;
  mutable std::vector<nav::BorderEdge> border_;
  std::vector<Finding> findings_;
  /// From when to when each kind of finding was told, in that order: of one kind they follow each other.
  std::map<std::string_view, std::vector<std::pair<double, double>>> told_;
};

}  // namespace dune::review
