#pragma once
// The navigation mesh: where one kind of agent can stand, as convex faces that share whole edges.
//
// 1. A face is convex in plan and counter-clockwise seen from above; corners lie on the plan lattice, heights on 1/1024 m.
// 2. across(f)[i] is the face over the edge from corner i to corner i + 1, or none where the ground ends; it is mutual.
// 3. The agent's centre may be anywhere on the faces: walls are already kept at the radius.
// The mesh is a plain value that never changes once built; faces are numbered from 0 in a fixed order.

#include <span>
#include <string>
#include <vector>

#include "core/nav/agent.h"
#include "core/nav/link.h"

namespace dune::nav {

enum class FaceId : std::uint32_t {};
constexpr FaceId kNoFace{0xffffffffu};
constexpr std::uint32_t index(FaceId f) { return static_cast<std::uint32_t>(f); }

/// A place on the mesh.
struct Place {
  FaceId face = kNoFace;
  Vec3 position{};
  bool valid() const { return face != kNoFace; }
};

/// A way between two places that is not ground; or between two stretches of border, anywhere along them.
struct Link {
  int id = 0;
  LinkKind kind = LinkKind::jump;
  Vec3 from{}, to{};
  FaceId fromFace = kNoFace, toFace = kNoFace;
  bool oneWay = false;
  double cost = 0;  ///< added to a path that takes it, in metres of plain ground, on top of its length
  int area = 0;
  double radius = 0.4;
  Vec3 fromHalf{}, toHalf{};  ///< from the middle of each stretch, which `from` and `to` are, to its one end; zero where it is but a place
  bool generated = false;     ///< found by a build
  double perMetre = 1;        ///< cost of a metre of its flight, in metres of the ground that its area is
  double seconds = 0;         ///< that it takes to cross; 0: as long as its flight is
  double width() const { return 2 * glm::length(fromHalf); }
  bool operator==(const Link&) const = default;
};

/// More different tags a mesh cannot have.
constexpr std::size_t kMostTags = 8;

/// A kind of ground. What it costs is not said here: that is for each agent's Rules.
struct Kind {
  std::string name = "ground";
  std::string colour = "#d98e32";  ///< "#rrggbb"
  bool operator==(const Kind&) const = default;
};

struct NavMesh {
  Agent agent;
  std::vector<Kind> kinds;  ///< of ground
  std::vector<Vec3> vertices;
  std::vector<std::uint32_t> start{0};  ///< face f has the corners start[f] … start[f + 1]
  std::vector<std::uint32_t> corners;   ///< index into vertices
  std::vector<FaceId> across;           ///< one a corner
  std::vector<std::uint16_t> area;      ///< one a face: index into kinds
  std::vector<std::string> tags;        ///< free words that faces may have; at most eight
  std::vector<std::uint8_t> tagged;     ///< one a face: bit i is for the i-th tag; empty where no face has any
  std::vector<std::uint32_t> island;    ///< one a face: which connected piece, the largest is 0
  std::vector<Link> links;

  std::size_t faceCount() const { return start.size() - 1; }
  std::span<const std::uint32_t> cornersOf(FaceId f) const {
    return std::span(corners).subspan(start[index(f)], start[index(f) + 1] - start[index(f)]);
  }
  std::span<const FaceId> acrossOf(FaceId f) const {
    return std::span(across).subspan(start[index(f)], start[index(f) + 1] - start[index(f)]);
  }
  const Kind& kindOf(FaceId f) const { return kinds[area[index(f)]]; }
  std::uint8_t tagsOf(FaceId f) const { return tagged.empty() ? std::uint8_t{0} : tagged[index(f)]; }
  const Vec3& cornerAt(FaceId f, std::size_t i) const { return vertices[corners[start[index(f)] + i]]; }
  std::size_t cornerCount(FaceId f) const { return start[index(f) + 1] - start[index(f)]; }
};

/// Metres from the line of a border that is crossed one way to the ends of the link that leads over it, which so lie on one face each.
constexpr double kOverBorder = 0.004;
/// Whether two places lie so near to each other on both sides of a border; not one over the other, as the ends of a lift may.
bool onBothSides(const Vec3& a, const Vec3& b);
/// Whether a link only leads over a border between two faces, one way.
bool isOneWayBorder(const Link& link);
/// The words that a face is tagged with, in the order of the mesh's.
std::vector<std::string> tagNamesOf(const NavMesh& mesh, FaceId f);
/// Plan area of a face, m².
double faceArea(const NavMesh& mesh, FaceId f);
/// The mean of its corners.
Vec3 middleOf(const NavMesh& mesh, FaceId f);
/// Plan area of all faces, m².
double totalArea(const NavMesh& mesh);
/// Which way a face looks: of length 1, upwards; the mean over its corners where it is not quite flat.
Vec3 faceNormal(const NavMesh& mesh, FaceId f);
/// Height of a face over plan position q, by the fan of triangles at its first corner; q outside is taken to the nearest point.
double heightOn(const NavMesh& mesh, FaceId f, const Vec2& q);
/// Whether q lies in the face seen from above, border included, with `slack` metres of tolerance.
bool coversPlan(const NavMesh& mesh, FaceId f, const Vec2& q, double slack = 1e-9);
/// The point of the face nearest to p in space (nearest in plan, then lifted).
Vec3 nearestOnFace(const NavMesh& mesh, FaceId f, const Vec3& p);
/// Numbers the connected pieces by area, largest first; O(faces).
void labelIslands(NavMesh& mesh);
std::size_t countIslands(const NavMesh& mesh);

}  // namespace dune::nav
