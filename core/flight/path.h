#pragma once
// Ways through free space.
//
// 1. The body passes along every stretch of an answer: swept against the triangles, not against cells.
// 2. Where places hang together a way is found, however narrow it is in between, down to what a body a tenth smaller would need.
// 3. As short as it gets, or, where air costs more here than there, as cheap, around what it goes around; that it goes around on the best
//    side is tried, with a bound that is measured and not proven. Of a way at most 0.5 % longer than straight that is enough: no side is
//    better by more.
// 4. An end may be too low over ground: then the way takes off there straight up, or lands straight down, as far as nothing is in the way.
// 5. For many threads, each with a Searcher of its own, which keeps its memory from one question to the next.

#include <memory>
#include <string>
#include <vector>

#include "core/flight/space.h"

namespace dune::flight {

struct Query {
  Vec3 from{}, to{};  ///< of the body's middle, metres
};

struct Way {
  enum class Outcome { found, partial, none };
  Outcome outcome = Outcome::none;
  std::vector<Vec3> points;   ///< metres; the corners with both ends. Of a partial one the end is as near to the goal as one gets
  double length = 0;          ///< metres
  double cost = 0;            ///< its length where air costs one a metre everywhere
  double missing = 0;         ///< from the end to the goal, metres
  std::string why;            ///< of one that is not found: a sentence
  std::int64_t barrier = -1;  ///< what stands at the end that does not fit
  std::size_t looked = 0;     ///< cells that the search went over
  bool lifts = false;         ///< its first stretch is a take-off, straight up from a place that is too low
  bool lands = false;         ///< its last one is a landing, straight down to one
  bool found() const { return outcome == Outcome::found; }
};

class Searcher {
 public:
  explicit Searcher(const Space& space);
  ~Searcher();
  Way find(const Query& query);

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace dune::flight
