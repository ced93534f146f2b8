#include "core/review/shape_review.h"

#include <algorithm>
#include <map>
#include <numeric>

#include "core/base/box_tree.h"
#include "core/base/plan_geometry.h"
#include "core/base/text.h"

namespace dune::review {

namespace {

using Face = std::vector<std::uint32_t>;

/// One thing that is wrong, and how much.
struct Fault {
  double amount;
  Vec3 at;
  std::string sentence;
};

class ShapeReviewer {
 public:
  ShapeReviewer(const RawMesh& raw, const ShapeLimits& limits) : mesh_(welded(raw)), limits_(limits), unwelded_(raw) {}

  std::vector<Finding> run() {
    measure();
    lookAtFaces();
    lookAtCorners();
    lookAtSeams();
    lookAtOverlaps();
    lookAtNeedless();
    return std::move(findings_);
  }

 private:
  const Vec3& corner(std::uint32_t c) const { return mesh_.corners[c]; }
  Vec3 middle(const Face& face) const {
    Vec3 sum{0};
    for (const std::uint32_t c : face) sum += corner(c);
    return face.empty() ? sum : sum / static_cast<double>(face.size());
  }
  /// Twice the area times the way it faces.
  Vec3 normal(const Face& face) const {
    Vec3 sum{0};
    for (std::size_t i = 2; i < face.size(); ++i)
      sum += glm::cross(corner(face[i - 1]) - corner(face[0]), corner(face[i]) - corner(face[0]));
    return sum;
  }
  double widthOf(const Face& face) const {
    double longest = 0;
    for (std::size_t i = 0; i < face.size(); ++i)
      longest = std::max(longest, glm::distance(corner(face[i]), corner(face[(i + 1) % face.size()])));
    return longest > 0 ? glm::length(normal(face)) / longest : 0;
  }
  /// Its corners, counter-clockwise seen from above.
  std::vector<Vec3> above(std::size_t f) const {
    std::vector<Vec3> p;
    for (const std::uint32_t c : mesh_.faces[f]) p.push_back(corner(c));
    if (planArea(p) < 0) std::ranges::reverse(p);
    return p;
  }

  void measure() {
    double up = 0;
    for (const Face& face : mesh_.faces) up += normal(face).y;
    downIsUp_ = up < 0;  // the file has its faces the other way round as a whole
  }

  void lookAtFaces() {
    std::vector<Fault> inverted, needles, bent;
    for (std::size_t f = 0; f < mesh_.faces.size(); ++f) {
      const Face& face = mesh_.faces[f];
      const Vec3 n = normal(face);
      const double width = widthOf(face);
      if (width < limits_.needle) {
        needles.push_back({limits_.needle - width, middle(face), text("A face is %.3f m wide.", width)});
        continue;
      }
      if ((n.y < 0) != downIsUp_ && n.y != 0)
        inverted.push_back({glm::length(n) / 2, middle(face), text("A face of %.2f m² looks down.", glm::length(n) / 2)});
      if (const double in = reentrant(f); in > 0)
        bent.push_back({in, middle(face), text("A face is not convex: a corner lies %.2f m inside.", in)});
    }
    tell("inverted-face", Severity::error, inverted, 0, "Its corners go round the other way than those of the others.",
         "turning its corners round.");
    tell("needle-face", Severity::hint, needles, limits_.needle,
         "Such faces come from corners that lie nearly on one line; ways over them zigzag.",
         "joining it with its neighbour, or moving a corner.");
    tell("bent-face", Severity::error, bent, 0, "Ways are searched over convex faces.", "parting it in two.");
  }

  /// How far a corner lies inside of what would be convex, m.
  double reentrant(std::size_t f) const {
    constexpr double kStraight = 0.005;  // m
    const std::vector<Vec3> p = above(f);
    double most = 0;
    for (std::size_t i = 0; i < p.size(); ++i) {
      const Vec2 a = plan(p[(i + p.size() - 1) % p.size()]), b = plan(p[i]), c = plan(p[(i + 1) % p.size()]);
      const double across = glm::distance(a, c);
      if (across > 0) most = std::max(most, cross(c - a, b - a) / across);
    }
    return most > kStraight ? most : 0;
  }

  void lookAtCorners() {
    std::vector<char> used(unwelded_.corners.size(), 0);
    for (const Face& face : unwelded_.faces)
      for (const std::uint32_t c : face) used[c] = 1;
    const auto unused = static_cast<std::size_t>(std::ranges::count(used, char{0}));
    if (unused == 0) return;
    const auto first = static_cast<std::size_t>(std::ranges::find(used, char{0}) - used.begin());
    Fault all{
        static_cast<double>(unused), unwelded_.corners[first],
        text(unused == 1 ? "%zu of %zu corners is used by no face." : "%zu of %zu corners are used by no face.", unused, used.size())};
    tell("unused-corners", Severity::hint, std::vector{all}, 0, "Faces that had them were deleted.",
         "leaving them out: they only make the file larger.");
  }

  struct Border {
    std::uint32_t from, to;
    std::size_t face;
  };
  void lookAtSeams() {
    std::map<std::pair<std::uint32_t, std::uint32_t>, std::vector<std::size_t>> facesOf;
    for (std::size_t f = 0; f < mesh_.faces.size(); ++f) {
      const Face& face = mesh_.faces[f];
      for (std::size_t i = 0; i < face.size(); ++i) facesOf[std::minmax(face[i], face[(i + 1) % face.size()])].push_back(f);
    }
    std::vector<Border> borders;
    std::vector<Fault> shared, open;
    for (const auto& [edge, faces] : facesOf) {
      const Vec3 at = (corner(edge.first) + corner(edge.second)) * 0.5;
      if (faces.size() == 1) borders.push_back({edge.first, edge.second, faces[0]});
      if (faces.size() == 2) inner_.push_back({edge.first, edge.second, faces[0], faces[1]});
      if (faces.size() > 2) shared.push_back({static_cast<double>(faces.size()), at, text("%zu faces share one edge.", faces.size())});
    }
    tell("shared-edge", Severity::error, shared, 2, "An edge has a face on each side, and no more.",
         "deleting the face that is twice there.");
    if (limits_.seam <= 0) return;
    std::vector<Box3> boxes;
    for (const Border& b : borders) {
      Box3 box;
      box.add(corner(b.from)), box.add(corner(b.to));
      boxes.push_back(box);
    }
    const BoxTree tree(boxes);
    for (std::size_t i = 0; i < borders.size(); ++i)
      if (const auto apart = openSeam(borders, i, tree))
        open.push_back({glm::distance(corner(borders[i].from), corner(borders[i].to)),
                        (corner(borders[i].from) + corner(borders[i].to)) * 0.5,
                        text("A border of %.2f m lies %.3f m from another one and is not joined to it.",
                             glm::distance(corner(borders[i].from), corner(borders[i].to)), *apart)});
    tell("open-seam", Severity::error, open, limits_.seam, "Two faces meet there but share no edge: nobody can walk across.",
         "joining their corners, or a corner more where one edge ends in the middle of another.");
  }
  /// How far another border runs along its middle, if one does.
  std::optional<double> openSeam(const std::vector<Border>& borders, std::size_t i, const BoxTree& tree) const {
    constexpr double kAlong = 0.95;  // cosine
    const Vec3 &a = corner(borders[i].from), &b = corner(borders[i].to), m = (a + b) * 0.5;
    if (glm::distance(a, b) < limits_.seam) return std::nullopt;
    Box3 box;
    box.add(m - Vec3(limits_.seam)), box.add(m + Vec3(limits_.seam));
    std::optional<double> least;
    for (const std::uint32_t o : tree.collect(box)) {
      if (o == i || borders[o].face == borders[i].face) continue;
      const Vec3 &c = corner(borders[o].from), &d = corner(borders[o].to), along = d - c;
      const double length = glm::length(along);
      if (length < limits_.seam || std::abs(glm::dot(along, b - a)) < kAlong * length * glm::distance(a, b)) continue;
      const double share = glm::dot(m - c, along) / (length * length);
      if (share < 0 || share > 1) continue;
      const double apart = glm::distance(c + along * share, m);
      // On the same side of both, they lie over each other, which is told as that.
      const Vec2 side = plan(middle(mesh_.faces[borders[i].face])) - plan(m), other = plan(middle(mesh_.faces[borders[o].face])) - plan(m);
      const Vec2 line = plan(b) - plan(a);
      if ((cross(line, side) > 0) == (cross(line, other) > 0)) continue;
      if (apart <= limits_.seam && (!least || apart < *least)) least = apart;
    }
    return least;
  }

  double heightOver(std::size_t f, const Vec2& q) const {
    const Face& face = mesh_.faces[f];
    const Vec3 n = normal(face), &p = corner(face[0]);
    const Vec2 by = q - plan(p);
    // plan() turns z round.
    return std::abs(n.y) > 1e-12 ? p.y - (n.x * by.x - n.z * by.y) / n.y : p.y;
  }

  void lookAtOverlaps() {
    std::vector<Box3> boxes;
    for (const Face& face : mesh_.faces) {
      Box3 box;
      for (const std::uint32_t c : face) box.add(corner(c));
      box.min.y -= limits_.storey / 2, box.max.y += limits_.storey / 2;
      boxes.push_back(box);
    }
    const BoxTree tree(boxes);
    std::vector<Fault> faults;
    std::vector<std::uint32_t> near;
    for (std::size_t f = 0; f < mesh_.faces.size(); ++f) {
      near.clear();
      tree.collect(boxes[f], near);
      for (const std::uint32_t g : near) {
        if (g <= f) continue;
        std::vector<Vec3> both = above(f);  // what lies over the other one, in the heights of this one
        const std::vector<Vec3> other = above(g);
        for (std::size_t i = 0; i < other.size() && both.size() > 2; ++i) {
          const Vec2 a = plan(other[i]), b = plan(other[(i + 1) % other.size()]);
          if (a != b) clipByLine(both, a, b, true);
        }
        const double area = both.size() > 2 ? planArea(both) : 0;
        if (area <= limits_.overlap) continue;
        const Vec3 at = std::accumulate(both.begin(), both.end(), Vec3{0}) / static_cast<double>(both.size());
        if (std::abs(at.y - heightOver(g, plan(at))) >= limits_.storey) continue;
        faults.push_back({area, at, text("Two faces lie over each other by %.2f m².", area)});
      }
    }
    tell("overlapping-faces", Severity::error, faults, limits_.overlap,
         "A place there is on two faces: which one a body is found on is chance.", "deleting or cutting one of them.");
  }

  /// Whether two neighbours would be one flat convex face.
  bool couldBeOne(std::uint32_t a, std::uint32_t b, std::size_t f, std::size_t g) const {
    constexpr double kFlat = 0.01, kStraight = 1e-9;  // m, m²
    const Vec3 n = glm::normalize(normal(mesh_.faces[f])), m = glm::normalize(normal(mesh_.faces[g]));
    if (!(std::abs(glm::dot(n, m)) > 0.9999)) return false;
    for (const std::uint32_t c : mesh_.faces[g])
      if (std::abs(glm::dot(n, corner(c) - corner(a))) > kFlat) return false;
    for (const std::uint32_t end : {a, b}) {
      const auto beside = [&](const Face& face) {
        const auto at = static_cast<std::size_t>(std::ranges::find(face, end) - face.begin());
        const std::uint32_t next = face[(at + 1) % face.size()], before = face[(at + face.size() - 1) % face.size()];
        return next == (end == a ? b : a) ? before : next;
      };
      const Vec2 p = plan(corner(end)), q = plan(corner(beside(mesh_.faces[f]))), r = plan(corner(beside(mesh_.faces[g])));
      const Vec2 other = plan(corner(end == a ? b : a)) - p;
      // The angle between both outer edges, over the edge between, is no more than straight.
      if (cross(q - p, other) * cross(other, r - p) <= 0 || cross(q - p, r - p) * cross(q - p, other) < -kStraight) return false;
    }
    return true;
  }

  void lookAtNeedless() {
    constexpr double kShare = 0.1;
    std::size_t count = 0;
    Vec3 at{};
    for (const Inner& e : inner_)
      if (couldBeOne(e.from, e.to, e.first, e.second) && count++ == 0) at = (corner(e.from) + corner(e.to)) * 0.5;
    if (mesh_.faces.empty() || static_cast<double>(count) < kShare * static_cast<double>(mesh_.faces.size())) return;
    tell("needless-faces", Severity::hint,
         std::vector{Fault{static_cast<double>(count), at,
                           text("%zu edges between flat neighbours could go: the mesh has %zu faces.", count, mesh_.faces.size())}},
         0, "Each face more makes files larger and searches longer.", "joining flat neighbours whose union is convex.");
  }

  void tell(const char* code, Severity severity, std::vector<Fault> faults, double limit, const char* why, const char* advice) {
    const std::size_t most = limits_.most;
    std::ranges::stable_sort(faults, std::ranges::greater{}, &Fault::amount);
    for (std::size_t i = 0; i < std::min(most, faults.size()); ++i) {
      const bool rest = i + 1 == most && faults.size() > most;
      findings_.push_back({code, severity,
                           faults[i].sentence + (rest ? text(" %zu more are like it.", faults.size() - most) : std::string()), why, advice,
                           faults[i].at, -1, -1, faults[i].amount, limit});
    }
  }

  struct Inner {
    std::uint32_t from, to;
    std::size_t first, second;
  };
  RawMesh mesh_;
  const ShapeLimits& limits_;
  const RawMesh& unwelded_;
  bool downIsUp_ = false;
  std::vector<Inner> inner_;
  std::vector<Finding> findings_;
};

}  // namespace

std::vector<Finding> reviewShape(const RawMesh& mesh, const ShapeLimits& limits) { return ShapeReviewer(mesh, limits).run(); }

}  // namespace dune::review
