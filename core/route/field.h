#pragma once
// A mesh prepared for queries under one agent's rules.

#include <array>
#include <atomic>
#include <memory>
#include <mutex>

#include "core/base/job.h"
#include "core/nav/rules.h"
#include "core/route/layout.h"
#include "core/route/measure.h"

namespace dune::route {

class Facets;
class Prepared;
class SearchGround;
struct SimpleGround;

class Field {
 public:
  static constexpr double kBendSpacing = 0.15;  ///< metres; half of it takes up to three times as long

  /// Over a layout that other rules may share. `bendSpacing`: metres between the places on an edge between costs at which a way may bend.
  /// O(faces). Links of the mesh are used as they are.
  Field(std::shared_ptr<const Layout> layout, nav::Rules rules, double bendSpacing = kBendSpacing);
  /// Over a mesh, to which it keeps a reference.
  Field(const nav::NavMesh& mesh, nav::Rules rules, double bendSpacing = kBendSpacing)
      : Field(std::make_shared<const Layout>(mesh), std::move(rules), bendSpacing) {}
  /// Searched over this ground, simplify() of it or asItIs().
  Field(std::shared_ptr<const Layout> layout, nav::Rules rules, SimpleGround ground);
  ~Field();
  Field(const Field&) = delete;
  Field& operator=(const Field&) = delete;

  const nav::NavMesh& mesh() const { return mesh_; }
  const nav::Locator& locator() const { return layout_->locator(); }
  const Layout& layout() const { return *layout_; }
  const nav::Rules& rules() const { return rules_; }
  /// What a Search goes over. Made when it is asked for first, from any thread: O(corners), a few microseconds each.
  const SearchGround& ground() const;
  /// The mesh as triangles in space, made likewise.
  const Facets& facets() const;
  static constexpr std::size_t kPreparedMemory = std::size_t{256} << 20;  ///< bytes
  /// Prepares the ground for many questions, measured so, unless it is; see Prepared, also for what it cannot. Searches profit that ask for
  /// Answers::prepared. From any thread.
  Outcome prepare(Measure measure, Job& job, std::size_t memory = kPreparedMemory) const;
  /// Null where it is not.
  const Prepared* prepared(Measure measure) const { return prepared_[static_cast<std::size_t>(measure)].load(std::memory_order_acquire); }
  bool passable(nav::FaceId f) const { return rules_.passable(mesh_, f); }
  /// Cost per metre of a face.
  double perMetre(nav::FaceId f) const { return rules_.of(mesh_, f).cost; }
  /// Cost of a link's flight, its own cost included.
  double costOf(const nav::Link& link) const { return rules_.costOf(link); }
  /// What it costs to go from one face on to another besides the way.
  double entryCost(nav::FaceId from, nav::FaceId to) const { return rules_.entryCost(mesh_, from, to); }
  /// Whether all ground that may be walked on costs the same, so that of two ways the shorter one is the cheaper.
  bool isOfOneCost() const;

  /// The faces that can be reached from a face over ground and links, forbidden ones left out.
  std::vector<char> reachable(nav::FaceId from) const;
  /// The place on one of them that is nearest to p; of faces that are as near the one with the least number. O(faces around p and the ones
  /// nearer than it), and never more than O(faces that can be reached).
  nav::Place nearestReachable(nav::FaceId from, const Vec3& p) const;
  /// Whether one of them is `to`; at once where both lie in one piece of ground, else O(pieces that links join).
  bool reaches(nav::FaceId from, nav::FaceId to) const;

 private:
  std::shared_ptr<const Layout> layout_;
  const nav::NavMesh& mesh_;
  nav::Rules rules_;
  double bendSpacing_;
  mutable std::once_flag made_;
  mutable std::unique_ptr<const SearchGround> ground_;
  mutable std::once_flag facetsMade_;
  mutable std::unique_ptr<const Facets> facets_;
  mutable std::mutex preparing_;
  mutable std::array<std::unique_ptr<const Prepared>, 2> keepPrepared_;
  mutable std::array<std::atomic<const Prepared*>, 2> prepared_{};
  void findPieces();
  /// Those that links lead to from one, itself among them.
  std::vector<std::uint32_t> piecesFrom(std::uint32_t piece) const;

  std::span<const std::uint32_t> facesOf(std::uint32_t piece) const {
    return std::span(byPiece_).subspan(firstOf_[piece], firstOf_[piece + 1] - firstOf_[piece]);
  }

  std::vector<std::uint32_t> firstOf_, byPiece_;     // the faces of each piece, ascending
  std::vector<std::uint32_t> piece_;                 // one a face: which piece of ground that hangs together; none where it is forbidden
  std::vector<std::vector<std::uint32_t>> pieceTo_;  // one a piece: those that links lead to
};

}  // namespace dune::route
