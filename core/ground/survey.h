#pragma once
// What is known of a world before any chunk of it is looked at: its triangles by number, their closed pieces, and which of
// them touch which chunk.
//
// A triangle's number counts over all objects in their order. Far strays cost nothing but the chunks that they touch.

#include <memory>
#include <span>

#include "core/base/job.h"
#include "core/ground/chunk.h"
#include "core/ground/solids.h"
#include "core/level/world.h"

namespace dune::ground {

class Survey {
 public:
  /// Triangles nearer to a chunk than `halo` metres touch it. Ignored objects are left out. Fails when cancelled or when the
  /// memory needed is over the job's limit, which is found out before it is taken. O(n log n).
  /// What an earlier survey found out about objects that are still the same is taken over from it.
  static Result<std::shared_ptr<const Survey>> make(const level::World& world, double chunkSize, double halo, Job& job,
                                                    const Survey* before = nullptr);

  /// What a survey is going to find, without making it: for the price before a build. O(triangles).
  struct Ahead {
    double bytes = 0;        ///< that a build of all of it takes, estimated
    std::size_t chunks = 0;  ///< that triangles touch
  };
  static Result<Ahead> lookAhead(const level::World& world, double chunkSize, double halo, Job& job);

  double chunkSize() const { return size_; }
  /// Bytes that a build of all of it takes, estimated.
  double memoryEstimate() const { return memory_; }
  std::size_t triangleCount() const { return first_.back(); }
  /// The chunks that triangles touch, ascending.
  const std::vector<ChunkId>& chunks() const { return chunks_; }
  /// Numbers of the triangles that touch a chunk of chunks(), ascending.
  std::span<const std::uint32_t> touching(std::size_t chunk) const;
  /// The chunks of chunks() that a box of the plan touches, ascending. O(chunks of the box · log chunks).
  std::vector<std::size_t> chunksIn(const Box2& box) const;
  /// Numbers of the triangles that touch any of these chunks, ascending.
  std::vector<std::uint32_t> touchingAny(std::span<const std::size_t> chunks) const;
  /// Where a chunk stands in chunks(), or -1.
  std::ptrdiff_t find(ChunkId id) const;

  struct Source {
    std::uint32_t object, triangle;
  };
  Source sourceOf(std::uint32_t number) const;
  const Solids& solidsOf(std::uint32_t object) const { return *solids_[object]; }

 private:
  void takeOver(const Survey& before);

  double size_ = 0, memory_ = 0;
  std::vector<std::uint32_t> first_;  // number of each object's first triangle, and one past the last
  std::shared_ptr<const level::Level> level_;
  std::vector<std::shared_ptr<const Solids>> solids_;  // one an object, null where it is ignored
  std::vector<ChunkId> chunks_;
  std::vector<std::size_t> start_;
  std::vector<std::uint32_t> numbers_;
};

}  // namespace dune::ground
