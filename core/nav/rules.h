#pragma once
// What an agent thinks of a mesh: what each kind of ground costs it, where it may not walk, which links it may take.
//
// A mesh says of what kind its faces are; the same mesh is searched under any number of Rules.

#include <array>
#include <vector>

#include "core/nav/navmesh.h"

namespace dune::nav {

struct KindRule {
  double cost = 1;         ///< per metre, above zero
  double entryCost = 0;    ///< once, when a path enters from another kind; zero or more
  bool forbidden = false;  ///< never walked on
  bool operator==(const KindRule&) const = default;
};

struct Rules {
  std::vector<KindRule> kinds;                                       ///< one a kind of the mesh; those that are missing cost 1
  std::array<bool, kLinkKinds> links{true, true, true, true, true};  ///< whether links of that kind may be taken

  const KindRule& of(std::size_t kind) const { return kind < kinds.size() ? kinds[kind] : kPlain; }
  const KindRule& of(const NavMesh& mesh, FaceId f) const { return of(mesh.area[index(f)]); }
  bool passable(const NavMesh& mesh, FaceId f) const { return !of(mesh, f).forbidden; }
  bool allows(const Link& link) const {
    return (links[static_cast<std::size_t>(link.kind)] || isOneWayBorder(link)) && !of(static_cast<std::size_t>(link.area)).forbidden;
  }
  /// Of a link's flight, its own cost included.
  double costOf(const Link& link) const { return costOf(link, link.from, link.to); }
  /// The same of one that is wide, taken between these two places.
  double costOf(const Link& link, const Vec3& from, const Vec3& to) const { return link.cost + glm::distance(from, to) * perMetre(link); }
  /// Of its flight.
  double perMetre(const Link& link) const { return of(static_cast<std::size_t>(link.area)).cost * link.perMetre; }
  /// What it costs to go from one face on to another besides the way.
  double entryCost(const NavMesh& mesh, FaceId from, FaceId to) const {
    return mesh.area[index(from)] == mesh.area[index(to)] ? 0 : of(mesh, to).entryCost;
  }
  bool operator==(const Rules&) const = default;

 private:
  static constexpr KindRule kPlain{};
};

/// The first rule that makes no sense: a cost that is not above zero, or not finite.
std::optional<Problem> checkRules(const NavMesh& mesh, const Rules& rules);

/// Plan area of the faces that the rules forbid, m².
double forbiddenArea(const NavMesh& mesh, const Rules& rules);

}  // namespace dune::nav
