#pragma once
// The plan cut by the outline into cells, and on each cell the storeys that can be walked on.
//
// A cell is a triangle of a constrained triangulation of all outline pieces, whatever their height. Whether a storey over
// it is walkable is asked once, at its centre, on the true triangles: within the cell the answer cannot change, because every
// line at which it changes is a constraint. Storeys of neighbouring cells are joined where their heights meet at the shared
// edge. Sheets are sets of joined storeys that do not overlap themselves in plan.

#include <functional>
#include <span>

#include "core/base/job.h"
#include "core/generate/outline.h"
#include "core/generate/triangulation.h"
#include "core/ground/follow.h"

namespace dune::generate {

/// How far apart in height two pieces of ground may be at one place and still be one, metres.
double meetsWithin(const nav::Agent& agent);

struct Storey {
  std::int32_t cell;                               ///< triangle of the triangulation
  ground::Followed ground;                         ///< at the centre of the cell
  std::array<std::int32_t, 3> across{-1, -1, -1};  ///< the storey over each edge of the cell, or -1 where ground ends, or kSeam
  std::int32_t sheet = -1;
  bool low = false;  ///< the agent can be here crouching only

  static constexpr std::int32_t kSeam = -2;  ///< the edge lies on a side of the chunk
};

/// What decides where an agent that can crouch need not.
struct Upright {
  const ground::Standing& standing;
  const std::vector<ground::Limit>& limits;
  const std::vector<Grown>& grown;
};

class Cells {
 public:
  /// The cells of a chunk, whose sides lie on the lattice; the pieces must lie within it. Fails when cancelled. `standing` must
  /// outlive the result. `upright` is null for an agent that never crouches.
  static Result<Cells> build(const ground::Standing& standing, const ground::Clearance& clearance, const std::vector<Grown>& grown,
                             const std::vector<OutlinePiece>& pieces, const LatticeBox& chunk, const Upright* upright, Job& job);

  const Triangulation& plan() const { return plan_; }
  const std::vector<Storey>& storeys() const { return storeys_; }
  std::int32_t sheetCount() const { return static_cast<std::int32_t>(sheets_.size()); }
  /// The storeys of a sheet, in the order in which they were joined.
  const std::vector<std::int32_t>& sheet(std::int32_t number) const { return sheets_[static_cast<std::size_t>(number)]; }
  /// Whether a sheet is nothing but slivers: what two others, which may not have them, leave between them.
  bool isThin(std::int32_t number) const;
  std::array<Vec2, 3> cornersOf(std::int32_t cell) const;
  Vec2 centre(std::int32_t cell) const;
  /// The storey of a sheet on a cell, or -1.
  std::int32_t storeyOf(std::int32_t cell, std::int32_t sheet) const;
  /// Whether one can stand at two heights over some place: then a crack in the upper ground may show the lower one.
  bool hasStoreys() const { return hasStoreys_; }
  /// How many storeys lie over each other on a cell.
  std::uint32_t storeyCount(std::int32_t cell) const {
    return start_[static_cast<std::size_t>(cell) + 1] - start_[static_cast<std::size_t>(cell)];
  }

 private:
  Cells(const ground::Standing& standing, Triangulation plan) : standing_(&standing), plan_(std::move(plan)) {}
  bool findStoreys(const ground::Clearance& clearance, const std::vector<Grown>& grown, const Job& job);
  /// Whether ground at a height over a place is nearer than the radius to a limit.
  using Forbidden = std::function<bool(const Vec2&, double)>;
  void lookBesideCrack(std::int32_t cell, std::span<const ground::Surface> known, const Forbidden& forbidden);
  bool joinStoreys(const Job& job);
  bool fallsBetween(const Vec2& from, const ground::Followed& at, const Vec2& to, double y) const;
  bool isHair(std::int32_t cell, const Vec2& q, const ground::Surface& s) const;
  bool hasForbiddenTip(const ground::Clearance& clearance, std::int32_t cell, const ground::Followed& at) const;
  bool closeSlits(const ground::Clearance& clearance, const Job& job);
  void addStoreys(const std::vector<std::pair<std::int32_t, ground::Followed>>& more);
  void findLow(const Upright& upright);
  void dropSpecks();
  void gatherSheets();

  const ground::Standing* standing_;
  Triangulation plan_;
  bool hasStoreys_ = false;
  std::vector<std::uint32_t> start_;  // storeys of cell c: start_[c] … start_[c + 1]
  std::vector<Storey> storeys_;
  std::vector<std::vector<std::int32_t>> sheets_;
};

}  // namespace dune::generate
