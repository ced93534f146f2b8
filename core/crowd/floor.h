#pragma once
// What bodies of one kind walk on: a field, less what stands on it for now.

#include "core/crowd/following.h"
#include "core/nav/cut.h"

namespace dune::crowd {

class Floor {
 public:
  /// The field must outlive it.
  explicit Floor(const route::Field& whole) : whole_(&whole), following_(std::make_unique<Following>(whole)) {}
  /// A copy lies on the same ground.
  Floor(const Floor& other);
  Floor(Floor&&) = default;
  Floor& operator=(Floor&&) = default;

  const route::Field& field() const { return less_ ? *less_->field : *whole_; }
  const nav::NavMesh& mesh() const { return field().mesh(); }
  const nav::Rules& rules() const { return field().rules(); }
  Following& following() { return *following_; }

  /// Cuts outlines out of the whole ground, in place of those before; places on it before are places no longer. O(faces).
  void cutOut(const std::vector<nav::Cut>& cuts);
  /// The place straight under or over a position, moved aside a little where that is cut out; invalid when there is none.
  nav::Place placeAt(const Vec3& at, const std::vector<nav::Cut>& cuts) const;

 private:
  struct Less {
    nav::NavMesh mesh;
    std::unique_ptr<const route::Field> field;
  };
  const route::Field* whole_;
  std::shared_ptr<const Less> less_;
  std::unique_ptr<Following> following_;
};

}  // namespace dune::crowd
