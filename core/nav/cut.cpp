#include "core/nav/cut.h"

#include <algorithm>
#include <map>

namespace dune::nav {

namespace {

constexpr double kSame = 1e-7;  // m: points on an edge that are nearer to each other are one
constexpr std::uint32_t kNone = 0xffffffffu;
constexpr std::uint32_t kFirstInner = 0x80000000u;  // sides from here on were made by cuts, each with a number of its own
constexpr bool isInner(std::uint32_t side) { return side >= kFirstInner; }

/// A convex part of a face while it is cut: its corners, and for the side after each the edge of the face, or the cut, that it lies on.
struct Piece {
  std::vector<std::uint32_t> corners, sides;
  bool within = false;
};

class Cutting {
 public:
  Cutting(const NavMesh& mesh, std::span<const Cut> cuts) : from_(mesh), pieces_(mesh.faceCount()) {
    out_.agent = mesh.agent, out_.kinds = mesh.kinds, out_.vertices = mesh.vertices, out_.links = mesh.links;
    out_.kinds.push_back({"cut out", "#7a6a58"});
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) cutFace(FaceId{f}, cuts);
  }

  CutMesh result() {
    numberPieces();
    for (std::uint32_t f = 0; f < from_.faceCount(); ++f) emit(FaceId{f});
    join();
    tieLinks();
    return {std::move(out_), std::move(owner_)};
  }

 private:
  void cutFace(FaceId f, std::span<const Cut> cuts) {
    const std::size_t n = from_.cornerCount(f);
    Box2 box;
    double low = INFINITY, high = -INFINITY;
    for (std::size_t i = 0; i < n; ++i) {
      const Vec3& c = from_.cornerAt(f, i);
      box.add(plan(c)), low = std::min(low, c.y), high = std::max(high, c.y);
    }
    for (const Cut& cut : cuts) {
      Box2 around;
      for (const Vec2& q : cut.outline) around.add(q);
      if (!box.overlaps(around) || low > cut.high || high < cut.low) continue;
      if (pieces_[index(f)].empty()) {
        Piece whole;
        for (std::size_t i = 0; i < n; ++i)
          whole.corners.push_back(from_.cornersOf(f)[i]), whole.sides.push_back(static_cast<std::uint32_t>(i));
        pieces_[index(f)] = {whole};
      }
      std::vector<Piece> after;
      for (Piece& p : pieces_[index(f)])
        if (p.within)
          after.push_back(std::move(p));
        else
          cutPiece(f, std::move(p), cut.outline, after);
      pieces_[index(f)] = std::move(after);
    }
  }

  /// Outside pieces one after the other, and what is left at last lies within. A piece that the outline misses stays whole.
  void cutPiece(FaceId f, Piece rest, const Polygon& outline, std::vector<Piece>& out) {
    const Piece whole = rest;
    std::vector<Piece> outside;
    for (std::size_t i = 0; i < outline.size(); ++i) {
      Piece left, right;
      split(f, rest, outline[i], outline[(i + 1) % outline.size()], left, right);
      if (!right.corners.empty()) outside.push_back(std::move(right));
      if (left.corners.empty()) return out.push_back(whole);
      rest = std::move(left);
    }
    for (Piece& p : outside) out.push_back(std::move(p));
    rest.within = true;
    out.push_back(std::move(rest));
  }

  /// Both sides of the line a → b; a side without area is empty.
  void split(FaceId f, const Piece& p, const Vec2& a, const Vec2& b, Piece& left, Piece& right) {
    const Vec2 line = (b - a) / glm::distance(a, b);
    const std::size_t n = p.corners.size();
    std::vector<double> side(n);
    for (std::size_t i = 0; i < n; ++i) {
      side[i] = cross(line, plan(out_.vertices[p.corners[i]]) - a);
      if (std::abs(side[i]) < kSame) side[i] = 0;
    }
    const bool anyLeft = std::ranges::any_of(side, [](double s) { return s > 0; }),
               anyRight = std::ranges::any_of(side, [](double s) { return s < 0; });
    if (!anyRight || !anyLeft) {
      (anyLeft ? left : right) = p;
      return;
    }
    const std::uint32_t inner = kFirstInner + inners_++;
    for (std::size_t i = 0; i < n; ++i) {
      const std::size_t next = (i + 1) % n;
      if (side[i] >= 0) add(left, p.corners[i], side[i] == 0 && side[next] < 0 ? inner : p.sides[i]);
      if (side[i] <= 0) add(right, p.corners[i], side[i] == 0 && side[next] > 0 ? inner : p.sides[i]);
      if (side[i] * side[next] >= 0) continue;
      const std::uint32_t at = pointOn(f, p.sides[i], p.corners[i], p.corners[next], side[i] / (side[i] - side[next]));
      add(left, at, side[i] > 0 ? inner : p.sides[i]);
      add(right, at, side[i] < 0 ? inner : p.sides[i]);
    }
  }

  static void add(Piece& p, std::uint32_t corner, std::uint32_t side) { p.corners.push_back(corner), p.sides.push_back(side); }

  /// The corner where a cut crosses a side, shared with what lies beyond that.
  std::uint32_t pointOn(FaceId f, std::uint32_t side, std::uint32_t from, std::uint32_t to, double t) {
    const Vec3 at = glm::mix(out_.vertices[from], out_.vertices[to], t);
    std::vector<std::uint32_t>& shared = onSide_[keyOf(f, side)];
    for (const std::uint32_t v : shared)
      if (glm::distance(plan(out_.vertices[v]), plan(at)) < kSame) return v;
    shared.push_back(static_cast<std::uint32_t>(out_.vertices.size()));
    out_.vertices.push_back(at);
    return shared.back();
  }

  /// One key for a side, seen from both of its faces.
  std::pair<std::uint32_t, std::uint32_t> keyOf(FaceId f, std::uint32_t side) const {
    if (isInner(side)) return {side, kNone};
    const FaceId beyond = from_.acrossOf(f)[side];
    const std::uint32_t a = from_.cornersOf(f)[side], b = from_.cornersOf(f)[(side + 1) % from_.cornerCount(f)];
    if (beyond == kNoFace) return {from_.start[index(f)] + side, kNone};
    return {std::min(a, b), std::max(a, b)};
  }

  /// Faces whose edges were cut only by their neighbours are pieces too.
  void numberPieces() {
    for (std::uint32_t f = 0; f < from_.faceCount(); ++f) {
      const std::size_t n = from_.cornerCount(FaceId{f});
      Piece whole;
      bool touched = !pieces_[f].empty();
      for (std::size_t i = 0; i < n; ++i) {
        add(whole, from_.cornersOf(FaceId{f})[i], static_cast<std::uint32_t>(i));
        touched |= onSide_.contains(keyOf(FaceId{f}, static_cast<std::uint32_t>(i)));
      }
      if (pieces_[f].empty()) pieces_[f] = {whole};
      touched_.push_back(touched);
    }
  }

  void emit(FaceId f) {
    first_.push_back(static_cast<std::uint32_t>(out_.faceCount()));
    for (const Piece& p : pieces_[index(f)]) {
      for (std::size_t i = 0; i < p.corners.size(); ++i) {
        push(p.corners[i], p.sides[i]);
        if (!touched_[index(f)]) continue;
        for (const std::uint32_t v : between(f, p.sides[i], p.corners[i], p.corners[(i + 1) % p.corners.size()])) push(v, p.sides[i]);
      }
      out_.start.push_back(static_cast<std::uint32_t>(out_.corners.size()));
      out_.area.push_back(p.within ? static_cast<std::uint16_t>(from_.kinds.size()) : from_.area[index(f)]);
      out_.island.push_back(from_.island[index(f)]);
      owner_.push_back(f);
    }
  }
  void push(std::uint32_t corner, std::uint32_t side) { out_.corners.push_back(corner), side_.push_back(side); }

  /// The points that cuts put on a part of a side, in its order.
  std::vector<std::uint32_t> between(FaceId f, std::uint32_t side, std::uint32_t from, std::uint32_t to) const {
    const auto found = onSide_.find(keyOf(f, side));
    if (found == onSide_.end()) return {};
    const Vec2 a = plan(out_.vertices[from]), d = plan(out_.vertices[to]) - a;
    const double length2 = glm::dot(d, d);
    std::vector<std::pair<double, std::uint32_t>> on;
    for (const std::uint32_t v : found->second) {
      const double t = glm::dot(plan(out_.vertices[v]) - a, d) / length2;
      if (v != from && v != to && t > 0 && t < 1) on.emplace_back(t, v);
    }
    std::ranges::sort(on);
    std::vector<std::uint32_t> order;
    for (const auto& [t, v] : on) order.push_back(v);
    return order;
  }

  /// Who lies across each side: by its two corners, among pieces of one face or of two faces that were neighbours.
  void join() {
    std::map<std::pair<std::uint32_t, std::uint32_t>, std::vector<FaceId>> byCorners;
    const auto cornersAt = [&](std::uint32_t face, std::uint32_t c) {
      const std::uint32_t next = c + 1 == out_.start[face + 1] ? out_.start[face] : c + 1;
      return std::pair(out_.corners[c], out_.corners[next]);
    };
    for (std::uint32_t p = 0; p < out_.faceCount(); ++p)
      if (touched_[index(owner_[p])])
        for (std::uint32_t c = out_.start[p]; c < out_.start[p + 1]; ++c) byCorners[cornersAt(p, c)].push_back(FaceId{p});
    out_.across.assign(out_.corners.size(), kNoFace);
    for (std::uint32_t p = 0; p < out_.faceCount(); ++p) {
      const FaceId f = owner_[p];
      for (std::uint32_t c = out_.start[p]; c < out_.start[p + 1]; ++c) {
        const FaceId beyond = isInner(side_[c]) ? f : from_.acrossOf(f)[side_[c]];
        if (beyond == kNoFace) continue;
        if (!touched_[index(beyond)]) {
          out_.across[c] = FaceId{first_[index(beyond)]};  // it is whole
          continue;
        }
        const auto [a, b] = cornersAt(p, c);
        if (const auto found = byCorners.find({b, a}); found != byCorners.end())
          for (const FaceId other : found->second)
            if (owner_[index(other)] == beyond) out_.across[c] = other;
      }
    }
  }

  void tieLinks() {
    const auto pieceAt = [&](FaceId f, const Vec3& at) {
      if (f == kNoFace) return f;
      const std::uint32_t first = first_[index(f)],
                          last = index(f) + 1 < first_.size() ? first_[index(f) + 1] : static_cast<std::uint32_t>(out_.faceCount());
      for (std::uint32_t p = first; p < last; ++p)
        if (coversPlan(out_, FaceId{p}, plan(at), 1e-6)) return FaceId{p};
      return FaceId{first};
    };
    for (Link& l : out_.links) l.fromFace = pieceAt(l.fromFace, l.from), l.toFace = pieceAt(l.toFace, l.to);
  }

  const NavMesh& from_;
  NavMesh out_;
  std::vector<std::vector<Piece>> pieces_;  // one a face of the mesh; none where nothing cuts it
  std::map<std::pair<std::uint32_t, std::uint32_t>, std::vector<std::uint32_t>> onSide_;
  std::uint32_t inners_ = 0;
  std::vector<char> touched_;
  std::vector<std::uint32_t> first_, side_;  // first piece of each face; for each corner the edge that the side after it lies on
  std::vector<FaceId> owner_;                // one a piece
};

}  // namespace

CutMesh cutOut(const NavMesh& mesh, std::span<const Cut> cuts) { return Cutting(mesh, cuts).result(); }

}  // namespace dune::nav
