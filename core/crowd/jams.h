#pragma once
// Jams in corridors that nobody gets out of by steering: noticed, and undone by putting those in them in another order.
//
// Two files of bodies that want past each other, or past those who stand at their goals, leave nobody room to give way: the way out takes
// many of them some metres back and aside, at the right times. So where somebody has not got on for long all around are led from place to
// place (yard.h, shunting.h) until each is at its goal, or out. Others wait outside meanwhile. Where that comes to nothing it is tried
// again from where they are then.

#include <optional>
#include <span>

#include "core/crowd/floor.h"
#include "core/crowd/picture.h"
#include "core/crowd/shunting.h"

namespace dune::crowd {

class Jams {
 public:
  /// Looks at everybody at the begin of a step, `narrows` as each knows its own. Not for several threads. O(bodies) twice a second, and
  /// O(led bodies) in between.
  void update(double now, const std::vector<Floor>& floors, const std::vector<Body>& bodies, const Picture& picture,
              std::span<const std::optional<Narrow>> narrows);
  /// Where a body is led now; nothing where it goes its own way.
  std::optional<Vec2> leadTo(std::size_t body) const;
  /// Whether a body is about to walk into where others are led.
  bool waitsOutside(std::size_t number, const Body& body) const;

 private:
  /// A place on the way of one who is led, and how many visits of others come before.
  struct Visit {
    std::uint32_t place, turn;
  };
  struct Member {
    std::size_t body;
    std::vector<Visit> visits;
    bool leaves = false;  ///< behind the last one
    bool gone = false;
    std::size_t at = 0;  ///< of its visits, where it is led now
    double since = 0;    ///< s, when it was led there

    const Visit& here() const { return visits[at]; }
    bool isLast() const { return at + 1 == visits.size(); }
  };
  struct Led {
    std::size_t mesh = 0, jammed = 0;
    Yard yard;
    std::vector<Member> members;      ///< by ascending body
    std::vector<std::uint32_t> left;  ///< by place: how many visits of it are over
    bool failed = false;
    bool exactly = false;  ///< everybody goes right to its places, which takes longer

    Vec2 placeOf(const Member& m) const { return yard.at(m.here().place); }
  };

  bool gather(Led& led, const Floor& floor, const std::vector<Body>& bodies) const;
  void lead(std::size_t jammed, double now, const std::vector<Floor>& floors, const std::vector<Body>& bodies);
  bool leadWithin(double reach, std::size_t jammed, double now, const Floor& floor, const std::vector<Body>& bodies);
  void setOut(Led& led, double now, std::span<const Shunted> shunted, const Shunting& steps);
  bool goOn(Led& led, double now, const std::vector<Body>& bodies);
  void release(const Led& led);
  static bool isNear(const Led& led, const Member& m, double off);

  std::vector<double> tryAgain_;                 // s, by body: not before
  std::vector<std::uint32_t> failures_;          // by body: how often it was led in vain since it got on
  std::vector<std::uint32_t> ledBy_, memberOf_;  // by body: the number of what leads it, and its number there
  std::vector<std::optional<Led>> led_;
  double noticed_ = 0;  // s
};

}  // namespace dune::crowd
