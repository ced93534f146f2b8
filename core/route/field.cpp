#include "core/route/field.h"

#include <algorithm>
#include <limits>
#include <unordered_set>

namespace dune::route {

namespace {

using nav::FaceId;
using nav::kNoFace;

constexpr std::size_t kMostCheap = 16;
constexpr std::uint32_t kMostPoints = 65;  // on one edge; very long edges get coarser, and the stated bound says so

}  // namespace

Field::Field(std::shared_ptr<const Layout> layout, nav::Rules rules)
    : layout_(std::move(layout)),
      mesh_(layout_->mesh()),
      rules_(std::move(rules)),
      deadEnds_(*layout_, rules_),
      bends_(mesh_.vertices.size(), 0),
      borders_(mesh_.vertices.size(), 0) {
  findBends();
  for (std::size_t k = 0; k < mesh_.kinds.size(); ++k)
    if (const nav::KindRule& rule = rules_.of(k); !rule.forbidden)
      leastCost_ = std::min(leastCost_, rule.cost), mostCost_ = std::max(mostCost_, rule.cost);
  findSavings();
  findCheap();
  findPieces();
}

/// Kinds of ground that cost the same are one ground to a path, and forbidden ground is none.
void Field::findBends() {
  constexpr std::uint8_t kMany = 100;
  constexpr double kStraight = 1e-8;  // m²; of lattice points it is nothing or more than a hundred times that
  const auto more = [&](std::uint32_t vertex, std::uint8_t by) {
    borders_[vertex] = static_cast<std::uint8_t>(std::min<int>(kMany, borders_[vertex] + by));
  };
  // The border edges at a vertex, with the ground on their left: the one that ends there and the one that begins.
  std::vector<std::uint32_t> before(mesh_.vertices.size(), 0), after(mesh_.vertices.size(), 0);
  firstPoint_.reserve(mesh_.corners.size() + 1);
  firstPoint_.push_back(0);
  for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) {
    const auto across = mesh_.acrossOf(FaceId{f});
    const auto corners = mesh_.cornersOf(FaceId{f});
    for (std::size_t i = 0; i < across.size(); ++i) {
      const std::uint32_t a = corners[i], b = corners[(i + 1) % corners.size()];
      const bool border = across[i] == kNoFace || passable(FaceId{f}) != passable(across[i]);
      const bool meets = !border && passable(FaceId{f}) && differ(FaceId{f}, across[i]);
      if (border && passable(FaceId{f})) more(a, 1), more(b, 1), after[a] = b, before[b] = a;
      if (meets) more(a, kMany), more(b, kMany);
      const double length = glm::distance(mesh_.vertices[a], mesh_.vertices[b]);
      const auto points = meets ? std::min(kMostPoints, static_cast<std::uint32_t>(length / kPointSpacing) + 2) : 0u;
      if (points > 1) widestSpacing_ = std::max(widestSpacing_, length / (points - 1));
      firstPoint_.push_back(firstPoint_.back() + points);
    }
  }
  // A way bends around what stands out into the ground; into a corner of a room it never does.
  for (std::uint32_t v = 0; v < bends_.size(); ++v) {
    const auto at = [&](std::uint32_t i) { return plan(mesh_.vertices[i]); };
    bends_[v] = borders_[v] > 2 || (borders_[v] == 2 && cross(at(v) - at(before[v]), at(after[v]) - at(v)) < -kStraight);
  }
}

void Field::findCheap() {
  const auto cheap = [](const nav::KindRule& k) { return !k.forbidden && k.cost < 1; };
  std::vector<char> seen(mesh_.faceCount(), 0);
  std::vector<FaceId> stack;
  for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) {
    if (seen[f] || !cheap(rules_.of(mesh_, FaceId{f}))) continue;
    Box2 box;
    stack.assign(1, FaceId{f}), seen[f] = 1;
    while (!stack.empty()) {
      const FaceId at = stack.back();
      stack.pop_back();
      for (const std::uint32_t v : mesh_.cornersOf(at)) box.add(plan(mesh_.vertices[v]));
      for (const FaceId g : mesh_.acrossOf(at))
        if (g != kNoFace && !seen[index(g)] && cheap(rules_.of(mesh_, g))) stack.push_back(g), seen[index(g)] = 1;
    }
    cheap_.push_back(box);
  }
  for (const nav::Link& link : mesh_.links) {
    if (!usable(link) || !cheap(rules_.of(static_cast<std::size_t>(link.area)))) continue;
    cheap_.emplace_back().add(plan(link.from));
    cheap_.back().add(plan(link.to));
  }
  if (cheap_.size() <= kMostCheap) return;
  Box2 all;  // asking for many would cost more than it saves
  for (const Box2& box : cheap_) all.add(box.min), all.add(box.max);
  cheap_.assign(1, all);
}

double Field::toCheap(const Vec2& p) const {
  double least2 = std::numeric_limits<double>::infinity();
  for (const Box2& box : cheap_) {
    const Vec2 off = glm::max(glm::max(box.min - p, p - box.max), Vec2{0});
    least2 = std::min(least2, glm::dot(off, off));
  }
  return std::sqrt(least2);
}

void Field::findPieces() {
  piece_.assign(mesh_.faceCount(), kNoPiece);
  std::vector<FaceId> stack;
  for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) {
    if (piece_[f] != kNoPiece || !passable(FaceId{f})) continue;
    const auto piece = static_cast<std::uint32_t>(pieceTo_.size());
    pieceTo_.emplace_back();
    stack.assign(1, FaceId{f}), piece_[f] = piece;
    while (!stack.empty()) {
      const FaceId at = stack.back();
      stack.pop_back();
      for (const FaceId g : mesh_.acrossOf(at))
        if (g != kNoFace && piece_[index(g)] == kNoPiece && passable(g)) stack.push_back(g), piece_[index(g)] = piece;
    }
  }
  auto join = [&](FaceId from, FaceId to) {
    const std::uint32_t a = piece_[index(from)], b = piece_[index(to)];
    if (a != kNoPiece && b != kNoPiece && a != b) pieceTo_[a].push_back(b);
  };
  for (const nav::Link& link : mesh_.links) {
    if (!usable(link)) continue;
    join(link.fromFace, link.toFace);
    if (!link.oneWay) join(link.toFace, link.fromFace);
  }
}

bool Field::reaches(FaceId from, FaceId to) const {
  const std::uint32_t a = piece_[index(from)], b = piece_[index(to)];
  if (a == kNoPiece || b == kNoPiece) return false;
  if (a == b) return true;
  std::vector<std::uint32_t> seen{a};
  std::unordered_set<std::uint32_t> known{a};
  for (std::size_t i = 0; i < seen.size(); ++i)
    for (const std::uint32_t next : pieceTo_[seen[i]]) {
      if (next == b) return true;
      if (known.insert(next).second) seen.push_back(next);
    }
  return false;
}

void Field::findSavings() {
  const auto cheap = [](const nav::KindRule& k) { return !k.forbidden && k.cost < 1; };
  std::size_t cheapKinds = 0;
  for (std::size_t k = 0; k < mesh_.kinds.size(); ++k) cheapKinds += cheap(rules_.of(k));
  if (cheapKinds > 1) {  // the argument holds for the cheapest kind only
    mostSaved_ = std::numeric_limits<double>::infinity();
    return;
  }
  for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) {
    if (!cheap(rules_.of(mesh_, FaceId{f}))) continue;
    double width = 0;
    for (const std::uint32_t a : mesh_.cornersOf(FaceId{f}))
      for (const std::uint32_t b : mesh_.cornersOf(FaceId{f}))
        width = std::max(width, glm::distance(plan(mesh_.vertices[a]), plan(mesh_.vertices[b])));
    mostSaved_ += width * (1 - leastCost_);
  }
  for (const nav::Link& link : mesh_.links)
    if (cheap(rules_.of(static_cast<std::size_t>(link.area)))) mostSaved_ += glm::distance(link.from, link.to) * (1 - leastCost_);
}

std::vector<char> Field::reachable(FaceId from) const {
  std::vector<char> seen(mesh_.faceCount(), 0);
  if (from == kNoFace || !passable(from)) return seen;
  std::vector<FaceId> stack{from};
  seen[index(from)] = 1;
  auto visit = [&](FaceId g) {
    if (g == kNoFace || seen[index(g)] || !passable(g)) return;
    seen[index(g)] = 1;
    stack.push_back(g);
  };
  while (!stack.empty()) {
    const FaceId f = stack.back();
    stack.pop_back();
    for (const FaceId g : mesh_.acrossOf(f)) visit(g);
    for (const LinkEnd end : linksFrom(f))
      if (usable(mesh_.links[end.link])) visit(end.forward ? mesh_.links[end.link].toFace : mesh_.links[end.link].fromFace);
  }
  return seen;
}

}  // namespace dune::route
