#pragma once
// Recorded movement, of our crowds and of games: made for many millions of samples.
//
// 1. Samples lie in columns of floats, 29 bytes each (place 12, velocities 12, state 1, face 4), in blocks of some hundred thousand that
//    never change once full; blocks are shared, written and read one by one.
// 2. Every body has a sample at every time. Radii and goals stay with the trace in every format.
// 3. Places are exact to a float (1 mm at 8 km), velocities to 0.05 %.

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <vector>

#include "core/crowd/crowd.h"

namespace dune::trace {

using crowd::State;

struct Body {
  int id = 0;
  double radius = 0;           ///< metres; 0 when not known
  std::optional<Vec3> goal{};  ///< nothing when not known
  int group = 0;               ///< 0 when not known
  double originHeight = 0;     ///< metres from its feet to what tables name its places by
};

struct Sample {
  double t = 0;  ///< seconds
  int id = 0;
  Vec3 at{};        ///< feet, metres
  Vec3 velocity{};  ///< metres a second
  Vec3 wanted{};    ///< the velocity it wanted before avoiding
  State state = State::moving;
  nav::FaceId face = nav::kNoFace;
};

/// Times one after the other, each with a sample of every body.
struct Block {
  struct Place {
    float x, y, z;
  };
  struct Velocity {
    std::uint16_t x, y, z;  ///< half floats
  };
  std::vector<double> times;  ///< seconds, ascending
  // One a sample: by time, then by body.
  std::vector<Place> at;
  std::vector<Velocity> velocity, wanted;
  std::vector<State> state;
  std::vector<nav::FaceId> face;

  void add(const Sample& sample);
  /// The sample at a place in the columns; t and id are not set.
  Sample sample(std::size_t i) const;
};

/// Takes blocks as they become full, for example to write them to a file.
class Sink {
 public:
  virtual ~Sink() = default;
  /// Before the first block. Bodies by ascending id.
  virtual Outcome begin(const std::vector<Body>& bodies) = 0;
  virtual Outcome add(std::shared_ptr<const Block> block) = 0;
  virtual Outcome end() = 0;
};

/// A trace held in memory.
class Trace : public Sink {
 public:
  Outcome begin(const std::vector<Body>& bodies) override;
  Outcome add(std::shared_ptr<const Block> block) override;
  Outcome end() override { return Nothing{}; }

  bool derived = false;  ///< velocities were worked out from places
  /// One a sample, by time, then by body: metres from the path that was followed; not a number where none was. Empty where it is not known;
  /// files do not keep it.
  std::vector<float> offPath;

  const std::vector<Body>& bodies() const { return bodies_; }
  std::size_t frameCount() const { return firstFrame_.back(); }
  double timeOf(std::size_t frame) const;
  /// The number of the body with an id.
  std::optional<std::size_t> bodyOf(int id) const;
  /// The frame at or before a time, in seconds; the first where none is. O(log frames).
  std::size_t frameAt(double time) const;
  Sample at(std::size_t frame, std::size_t body) const;
  /// Whether a body is there at a frame: not who waits for its time where it is to start.
  bool isThere(std::size_t frame, std::size_t body) const;
  /// Seconds of the first frame, which need not be 0 in a recording; 0 without any.
  double firstTime() const { return frameCount() == 0 ? 0 : timeOf(0); }
  /// Seconds of the last frame; 0 without any.
  double duration() const { return frameCount() == 0 ? 0 : timeOf(frameCount() - 1); }
  /// Mean seconds between frames; 0 with fewer than two.
  double step() const { return frameCount() < 2 ? 0 : (duration() - timeOf(0)) / static_cast<double>(frameCount() - 1); }
  std::size_t sampleCount() const { return frameCount() * bodies_.size(); }
  const std::vector<std::shared_ptr<const Block>>& blocks() const { return blocks_; }

 private:
  std::size_t blockOf(std::size_t frame) const;

  std::vector<Body> bodies_;
  std::vector<std::shared_ptr<const Block>> blocks_;
  std::vector<std::size_t> firstFrame_{0};  // one a block, and the count of all frames
};

/// Puts samples into blocks for a sink: every body of one time in order, then the next time.
class Writer {
 public:
  Writer(Sink& sink, std::vector<Body> bodies);
  Outcome begin();
  /// The samples of all bodies at a time that is later than the last one.
  Outcome frame(double time, std::span<const Sample> samples);
  Outcome end();

 private:
  Sink& sink_;
  std::vector<Body> bodies_;
  std::size_t most_;
  std::shared_ptr<Block> block_;
};

/// One frame: a crowd as it is now.
Trace asItIs(const crowd::Crowd& crowd);
/// Lets a crowd walk for some seconds and records every step into a sink. Fails when cancelled, or when the sink does. `afterFrame` hears
/// of each frame once it is recorded. Whoever has no place to arrive at is recorded without a goal.
Outcome record(crowd::Crowd& crowd, double seconds, Sink& sink, Job& job, const std::function<void(std::size_t frame)>& afterFrame = {});

}  // namespace dune::trace
