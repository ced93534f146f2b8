#pragma once
// What bodies of one kind walk on: a field, less what stands on it for now.

#include "core/crowd/following.h"
#include "core/nav/cut.h"

namespace dune::crowd {

class Floor {
 public:
  /// The field must outlive it.
  explicit Floor(const route::Field& whole) : whole_(&whole), following_(std::make_unique<Following>(whole)) { findNarrower(); }
  /// A copy lies on the same ground.
  Floor(const Floor& other);
  Floor(Floor&&) = default;
  Floor& operator=(Floor&&) = default;

  const route::Field& field() const { return less_ ? *less_->field : *whole_; }
  const nav::NavMesh& mesh() const { return field().mesh(); }
  const nav::Rules& rules() const { return field().rules(); }
  /// The rules as a body heeds them on its way: what is much dearer than all that its way leads over is no ground to it.
  const nav::Rules& rulesFor(const Body& body) const;
  Following& following() { return *following_; }
  /// The face of the whole mesh that a face is, or is a piece of.
  nav::FaceId wholeFace(nav::FaceId face) const { return less_ && face != nav::kNoFace ? less_->cut.from[nav::index(face)] : face; }

  /// Cuts outlines out of the whole ground, in place of those before; places on it before are places no longer. O(faces).
  void cutOut(const std::vector<nav::Cut>& cuts);
  /// The place under or over a position that was on the ground before a cut, moved aside a little where that is cut out now.
  nav::Place placeAt(const Vec3& at, const std::vector<nav::Cut>& cuts) const;

 private:
  struct Less {
    nav::CutMesh cut;
    std::unique_ptr<const route::Field> field;
  };
  const route::Field* whole_;
  std::shared_ptr<const Less> less_;
  std::unique_ptr<Following> following_;
  /// The rules for who walks on ground of a cost at most, by that cost, of each that there is.
  std::vector<std::pair<double, nav::Rules>> narrower_;
  void findNarrower();
};

}  // namespace dune::crowd
