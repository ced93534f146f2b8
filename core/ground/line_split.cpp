#include "core/ground/line_split.h"

#include <algorithm>

namespace dune::ground {

namespace {

constexpr int kBisections = 24;    // 2^-24 of a piece is below a lattice step for pieces up to 16 km
constexpr double kFromEnd = 1e-4;  // how far inside a piece its ends are asked, as a fraction

void append(std::vector<Piece>& pieces, const Piece& piece) {
  if (piece.to <= piece.from) return;
  if (!pieces.empty() && pieces.back().answer == piece.answer)
    pieces.back().to = piece.to;
  else
    pieces.push_back(piece);
}

/// The pieces from t0, where the answer is `from`, to t1, where it is `to`: where it changes it may be a third one for a while.
void between(double t0, double t1, int from, int to, const std::function<int(double)>& answer, std::vector<Piece>& pieces) {
  constexpr int kMostChanges = 8;
  double start = t0;
  for (int change = 0; from != to && change < kMostChanges; ++change) {
    double same = start, other = t1;
    int next = to;
    for (int i = 0; i < kBisections; ++i) {
      const double middle = (same + other) / 2;
      if (const int said = answer(middle); said == from)
        same = middle;
      else
        other = middle, next = said;
    }
    append(pieces, {start, same, from});
    start = same, from = next;
  }
  append(pieces, {start, t1, to});
}

}  // namespace

std::vector<double> splitParameters(const Soup& soup, const Vec2& a, const Vec2& b, double beside, double least, const Interval& range) {
  std::vector<double> t;
  const double length = glm::distance(a, b);
  if (length == 0) return {0, 1};
  const Vec2 along = (b - a) / length;
  thread_local std::vector<std::uint32_t> near;
  soup.along(a, b, beside, range, near);
  for (const std::uint32_t i : near) {
    // How far the corners are to the left of the line, and along it: of most triangles that is all that is needed.
    const Triangle& triangle = soup.triangles()[i];
    double left[3], on[3];
    for (std::size_t c = 0; c < 3; ++c) {
      const Vec2 way = triangle.q[c] - a;
      left[c] = cross(along, way), on[c] = glm::dot(along, way);
    }
    for (const double side : {-beside, beside})
      for (std::size_t c = 0; c < 3; ++c) {
        const std::size_t d = c == 2 ? 0 : c + 1;
        if ((left[c] < side && left[d] < side) || (left[c] > side && left[d] > side) || left[c] == left[d]) continue;
        const double at = (on[c] + (on[d] - on[c]) * ((side - left[c]) / (left[d] - left[c]))) / length;
        if (at > 0 && at < 1) t.push_back(at);
      }
  }
  return keptApart(std::move(t), length, least);
}

std::vector<double> keptApart(std::vector<double> t, double length, double least) {
  std::sort(t.begin(), t.end());
  std::vector<double> apart{0};
  for (const double x : t)
    if ((x - apart.back()) * length > least && (1 - x) * length > least) apart.push_back(x);
  apart.push_back(1);
  return apart;
}

std::optional<Interval> cutTo(const Box2& box, Vec2& a, Vec2& b) {
  const auto part = clipToBox(a, b, box);
  if (!part) return std::nullopt;
  const Vec2 from = a, to = b;
  if (part->from > 0) a = glm::mix(from, to, part->from);
  if (part->to < 1) b = glm::mix(from, to, part->to);
  return part;
}

std::vector<Piece> answersAlong(const std::vector<double>& splits, const std::function<void(double)>& enter,
                                const std::function<int(double)>& answer) {
  std::vector<Piece> pieces;
  for (std::size_t i = 0; i + 1 < splits.size(); ++i) {
    const double t0 = splits[i], t1 = splits[i + 1], inset = (t1 - t0) * kFromEnd;
    const double middle = (t0 + t1) / 2;
    enter(middle);
    const int atStart = answer(t0 + inset), atMiddle = answer(middle), atEnd = answer(t1 - inset);
    append(pieces, {t0, t0 + inset, atStart});
    between(t0 + inset, middle, atStart, atMiddle, answer, pieces);
    between(middle, t1 - inset, atMiddle, atEnd, answer, pieces);
    append(pieces, {t1 - inset, t1, atEnd});
  }
  return pieces;
}

}  // namespace dune::ground
