#pragma once
// Changes of a mesh by hand. Each takes what is picked on the mesh as it lies now and gives the whole hand work anew, or says why not.
//
// Faces that a build made go into the patch's `instead`, and what becomes of them into its `faces`; patches that a change touches become
// one. So nothing but what was touched is ever fixed by hand.

#include <functional>
#include <optional>
#include <span>

#include "core/base/job.h"
#include "core/base/result.h"
#include "core/hand/lay.h"
#include "core/nav/locator.h"

namespace dune::hand {

/// The side of a face after its corner `side`.
struct Edge {
  nav::FaceId face = nav::kNoFace;
  std::uint32_t side = 0;
  bool operator==(const Edge&) const = default;
};

/// Where a side begins and ends.
inline std::array<Vec3, 2> endsOf(const nav::NavMesh& mesh, const Edge& e) {
  return {mesh.cornerAt(e.face, e.side), mesh.cornerAt(e.face, (e.side + 1) % mesh.cornerCount(e.face))};
}

/// The corners of a face.
std::vector<Vec3> outlineOf(const nav::NavMesh& mesh, nav::FaceId f);

/// The height of the level nearest to a place, no more than a few metres over or under it.
using LevelAt = std::function<std::optional<double>(const Vec3& at)>;

class Editor {
 public:
  /// `origin`: one a face of the mesh, see Laid. `agent`: the id of the kind that the mesh is for; new patches are for it alone. `job`:
  /// hears how far a change of very many faces is, and may end it; null: nobody does. All must outlive the editor.
  Editor(const nav::NavMesh& mesh, std::span<const Origin> origin, const Work& work, int agent, LevelAt levelAt, Job* job = nullptr)
      : mesh_(mesh), origin_(origin), work_(work), agent_(agent), levelAt_(std::move(levelAt)), job_(job) {}

  const nav::NavMesh& mesh() const { return mesh_; }

  Result<Work> remove(std::span<const nav::FaceId> faces) const;
  /// Moves corners, by number, and with them all faces that have them. With `follow`, each goes to the height of the level where it comes
  /// to lie. A face whose corners fall together goes.
  Result<Work> move(std::span<const std::uint32_t> corners, const Vec3& by, bool follow) const;
  /// A new face out of a side where the ground ends.
  Result<Work> pull(const Edge& edge, const Vec3& by, bool follow) const;
  /// A new face between places, in their order around it, either way round. What ground lies there at that height gives way to it,
  /// and it is of its kind where none is named.
  Result<Work> draw(std::vector<Vec3> outline, const std::string& kind = {}) const;
  /// A new corner on a side, `along` of its length from its first corner.
  Result<Work> splitEdge(const Edge& edge, double along) const;
  /// Faces fall in two along a line of the plan, from a to b and on.
  Result<Work> splitAlong(std::span<const nav::FaceId> faces, const Vec3& a, const Vec3& b) const;
  /// Faces that hang together become as few as can be.
  Result<Work> join(std::span<const nav::FaceId> faces) const;
  /// One face from a side where the ground ends to another; what ground lies between at its height gives way.
  Result<Work> strip(const Edge& from, const Edge& to) const;
  Result<Work> paint(std::span<const nav::FaceId> faces, const std::string& kind) const;
  /// Faces lie on the level again, with more corners where it is not flat under them.
  Result<Work> drape(std::span<const nav::FaceId> faces) const;
  /// Nobody crosses these sides any more; or again.
  Result<Work> part(std::span<const Edge> edges) const;
  Result<Work> unpart(std::span<const Edge> edges) const;
  /// These sides are crossed one way only: out of their face; those that are so already the other way.
  Result<Work> partOneWay(std::span<const Edge> edges) const;

 private:
  struct Change {
    std::vector<nav::FaceId> gone;
    std::vector<Face> made;
  };
  Result<Work> apply(Change change) const;
  std::optional<Problem> overlapping(const std::vector<Face>& made) const;
  std::optional<Problem> betweenGrounds(const Change& change) const;
  std::vector<char> atBorder() const;
  Part partOf(const Edge& edge, bool oneWay, const std::vector<char>& atBorder) const;
  void goOneWay(Part& part, const Edge& edge) const;
  bool isOf(const Part& part, const Edge& edge) const;
  void absorb(Patch& into, Work& work, const std::vector<nav::FaceId>& gone) const;
  std::vector<nav::FaceId> facesAt(std::span<const std::uint32_t> corners) const;
  std::string kindOf(nav::FaceId f) const { return mesh_.area[index(f)] == 0 ? std::string() : mesh_.kindOf(f).name; }
  std::string kindUnder(const Vec3& at) const;
  Vec3 followed(const Vec3& at) const;
  bool goesOn(std::size_t done, std::size_t of) const;
  Result<std::vector<Face>> shaped(const std::vector<Vec3>& outline, const std::string& kind) const;

  const nav::NavMesh& mesh_;
  std::span<const Origin> origin_;
  const Work& work_;
  int agent_;
  LevelAt levelAt_;
  Job* job_;
};

}  // namespace dune::hand
