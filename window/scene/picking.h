#pragma once
// What a ray from the eye meets first in a level. No GL.

#include <memory>
#include <optional>

#include "core/base/job.h"
#include "core/level/level.h"
#include "window/scene/camera.h"

namespace dune::window {

struct Picked {
  Vec3 at;
  std::size_t object;    ///< index into Level::objects
  Vec3 normal{0, 1, 0};  ///< of the triangle, of length 1, never downwards
};

/// The triangles of a level in a tree of boxes, each halved at the middle triangle along its longest side (Ericson 2005, chapter 6), so
/// that a ray looks at some hundred of millions.
class PickTree {
 public:
  /// O(n log n); an empty tree when cancelled.
  PickTree(std::shared_ptr<const level::Level> level, const Job& job);
  /// The nearest triangle below the cut-away height that the ray meets; O(log n) as a rule.
  std::optional<Picked> pick(const Ray& ray, double cutAway) const;
  const std::shared_ptr<const level::Level>& level() const { return level_; }

  struct Item {
    std::uint32_t object, triangle;
  };
  /// The triangles near a box of the plan, some that lie just beside it among them; nothing when there are more than `most`.
  std::optional<std::vector<Item>> within(const Box2& plan, std::size_t most) const;
  /// Bytes that it takes, the level aside.
  std::size_t bytes() const { return nodes_.size() * sizeof(Node) + items_.size() * sizeof(Item); }

 private:
  struct Node {
    float min[3], max[3];
    std::uint32_t from, count;  // items of a leaf; of an inner node count is 0, its children are the next node and `from`
  };
  struct Centred {
    Item item;
    float middle[3];
  };
  void build(std::vector<Centred>& items, std::size_t from, std::size_t to, const Job& job);
  Node boxOf(const std::vector<Centred>& items, std::size_t from, std::size_t to) const;

  std::shared_ptr<const level::Level> level_;
  std::vector<Node> nodes_;
  std::vector<Item> items_;
};

/// The same by looking at every triangle: for a few objects that change often.
std::optional<Picked> pick(const level::Level& level, const Ray& ray, double cutAway);
/// Where a ray meets the horizontal plane at height y.
std::optional<Vec3> meetPlane(const Ray& ray, double y);

}  // namespace dune::window
