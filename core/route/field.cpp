#include "core/route/field.h"

#include <algorithm>
#include <limits>

namespace dune::route {

namespace {

using mesh::FaceId;
using mesh::kNoFace;

constexpr std::size_t kMostCheap = 16;
constexpr std::uint32_t kMostPoints = 65;  // on one edge; very long edges get coarser, and the stated bound says so

}  // namespace

Field::Field(const mesh::NavMesh& mesh) : mesh_(mesh), locator_(mesh), bends_(mesh.vertices.size(), 0) {
  firstPoint_.reserve(mesh.corners.size() + 1);
  firstPoint_.push_back(0);
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    const auto across = mesh.acrossOf(FaceId{f});
    const auto corners = mesh.cornersOf(FaceId{f});
    for (std::size_t i = 0; i < across.size(); ++i) {
      const std::uint32_t a = corners[i], b = corners[(i + 1) % corners.size()];
      const bool border = across[i] == kNoFace, meets = !border && mesh.area[f] != mesh.area[index(across[i])];
      if (border || meets) bends_[a] = bends_[b] = 1;
      const double length = glm::distance(mesh.vertices[a], mesh.vertices[b]);
      const auto points = meets ? std::min(kMostPoints, static_cast<std::uint32_t>(length / kPointSpacing) + 2) : 0u;
      if (points > 1) widestSpacing_ = std::max(widestSpacing_, length / (points - 1));
      firstPoint_.push_back(firstPoint_.back() + points);
    }
  }
  linkStart_.assign(mesh.faceCount() + 1, 0);
  auto eachEnd = [&](auto&& visit) {
    for (std::uint32_t i = 0; i < mesh.links.size(); ++i) {
      visit(mesh.links[i].fromFace, LinkEnd{i, true});
      if (!mesh.links[i].oneWay) visit(mesh.links[i].toFace, LinkEnd{i, false});
    }
  };
  eachEnd([&](FaceId f, LinkEnd) { ++linkStart_[index(f) + 1]; });
  for (std::size_t i = 1; i < linkStart_.size(); ++i) linkStart_[i] += linkStart_[i - 1];
  links_.resize(linkStart_.back());
  std::vector<std::uint32_t> next(linkStart_.begin(), linkStart_.end() - 1);
  eachEnd([&](FaceId f, LinkEnd end) { links_[next[index(f)]++] = end; });
  for (const level::AreaKind& kind : mesh.areas)
    if (!kind.forbidden) leastCost_ = std::min(leastCost_, kind.cost);
  findSavings();
  findCheap();
  findPieces();
}

void Field::findCheap() {
  const auto cheap = [](const level::AreaKind& k) { return !k.forbidden && k.cost < 1; };
  std::vector<char> seen(mesh_.faceCount(), 0);
  std::vector<FaceId> stack;
  for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) {
    if (seen[f] || !cheap(mesh_.kindOf(FaceId{f}))) continue;
    Box2 box;
    stack.assign(1, FaceId{f}), seen[f] = 1;
    while (!stack.empty()) {
      const FaceId at = stack.back();
      stack.pop_back();
      for (const std::uint32_t v : mesh_.cornersOf(at)) box.add(plan(mesh_.vertices[v]));
      for (const FaceId g : mesh_.acrossOf(at))
        if (g != kNoFace && !seen[index(g)] && cheap(mesh_.kindOf(g))) stack.push_back(g), seen[index(g)] = 1;
    }
    cheap_.push_back(box);
  }
  for (const mesh::Link& link : mesh_.links) {
    if (!cheap(mesh_.areas[static_cast<std::size_t>(link.area)])) continue;
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
  for (const mesh::Link& link : mesh_.links) {
    join(link.fromFace, link.toFace);
    if (!link.oneWay) join(link.toFace, link.fromFace);
  }
}

bool Field::reaches(FaceId from, FaceId to) const {
  const std::uint32_t a = piece_[index(from)], b = piece_[index(to)];
  if (a == kNoPiece || b == kNoPiece) return false;
  if (a == b) return true;
  std::vector<std::uint32_t> seen{a};
  for (std::size_t i = 0; i < seen.size(); ++i)
    for (const std::uint32_t next : pieceTo_[seen[i]]) {
      if (next == b) return true;
      if (std::ranges::find(seen, next) == seen.end()) seen.push_back(next);
    }
  return false;
}

void Field::findSavings() {
  const auto cheap = [](const level::AreaKind& k) { return !k.forbidden && k.cost < 1; };
  if (std::ranges::count_if(mesh_.areas, cheap) > 1) {  // the argument holds for the cheapest kind only
    mostSaved_ = std::numeric_limits<double>::infinity();
    return;
  }
  for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) {
    if (!cheap(mesh_.kindOf(FaceId{f}))) continue;
    double width = 0;
    for (const std::uint32_t a : mesh_.cornersOf(FaceId{f}))
      for (const std::uint32_t b : mesh_.cornersOf(FaceId{f}))
        width = std::max(width, glm::distance(plan(mesh_.vertices[a]), plan(mesh_.vertices[b])));
    mostSaved_ += width * (1 - leastCost_);
  }
  for (const mesh::Link& link : mesh_.links)
    if (cheap(mesh_.areas[static_cast<std::size_t>(link.area)])) mostSaved_ += glm::distance(link.from, link.to) * (1 - leastCost_);
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
    for (const LinkEnd end : linksFrom(f)) visit(end.forward ? mesh_.links[end.link].toFace : mesh_.links[end.link].fromFace);
  }
  return seen;
}

}  // namespace dune::route
