#pragma once
// A small writer of named objects as binary glTF, for the demo levels.

#include <array>
#include <string>
#include <vector>

#include "core/base/vec.h"

namespace dune::demo {

/// Shapes gathered under names; every object has its own node with a translation, as modelling programs write them.
class GlbWriter {
 public:
  /// A closed box between two corners.
  void box(const std::string& name, const Vec3& min, const Vec3& max);
  /// A closed upright prism with n sides.
  void cylinder(const std::string& name, const Vec3& foot, double radius, double height, int sides);
  /// A closed wedge: full height `max.y` at one end of the x range, `low` at the other. `upTo` +1: rises towards +x.
  void wedgeX(const std::string& name, const Vec3& min, const Vec3& max, double low, int upTo);
  /// A flight of closed steps along x from `from` (floor level, first riser) towards `direction`.
  void stairsX(const std::string& name, const Vec3& from, int direction, int steps, double rise, double run, double width);
  /// The same along z; the flight's width is along +x.
  void stairsZ(const std::string& name, const Vec3& from, int direction, int steps, double rise, double run, double width);

  std::string bytes() const;

 private:
  struct Object {
    std::string name;
    std::vector<Vec3> vertices;  // three a triangle
  };
  void quad(Object& object, const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d);
  void prism(const std::string& name, const std::vector<Vec3>& foot, const std::vector<Vec3>& top);

  std::vector<Object> objects_;
};

}  // namespace dune::demo
