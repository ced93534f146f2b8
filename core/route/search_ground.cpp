#include "core/route/search_ground.h"

#include <algorithm>
#include <limits>

#include "core/nav/pieces.h"

namespace dune::route {

namespace {

using nav::FaceId;
using nav::kNoFace;

constexpr std::size_t kMostCheap = 16;
constexpr std::uint32_t kMostPoints = 257;  // on one edge; very long edges get coarser, and the stated bound says so

}  // namespace

SearchGround::SearchGround(SimpleGround simple, const nav::Rules& rules, double bendSpacing)
    : simple_(std::move(simple)),
      rules_(rules),
      adjacency_(simple_.mesh),
      deadEnds_(adjacency_, rules_),
      bends_(mesh().vertices.size(), 0),
      borders_(mesh().vertices.size(), 0),
      bendSpacing_(bendSpacing) {
  findBends();
  findSpots();
  for (std::size_t k = 0; k < mesh().kinds.size(); ++k)
    if (const nav::KindRule& rule = rules_.of(k); !rule.forbidden)
      leastCost_ = std::min(leastCost_, rule.cost), mostCost_ = std::max(mostCost_, rule.cost);
  for (const nav::Link& link : mesh().links)
    if (usable(link)) leastCost_ = std::min(leastCost_, perMetre(link));
  findSavings();
  findCheap();
  gatesOut_ = simple_.gates;
  for (const Gate& gate : gatesOut_) gatesIn_.push_back(gate.reversed());
  for (auto* gates : {&gatesOut_, &gatesIn_}) std::ranges::stable_sort(*gates, {}, &Gate::out);
}

/// Kinds of ground that cost the same are one ground to a path, and forbidden ground is none.
void SearchGround::findBends() {
  constexpr std::uint8_t kMany = 100;
  constexpr double kStraight = 1e-8;  // m²; of lattice points it is nothing or more than a hundred times that
  const auto more = [&](std::uint32_t vertex, std::uint8_t by) {
    borders_[vertex] = static_cast<std::uint8_t>(std::min<int>(kMany, borders_[vertex] + by));
  };
  // The border edges at a vertex, with the ground on their left: the one that ends there and the one that begins.
  std::vector<std::uint32_t> before(mesh().vertices.size(), 0), after(mesh().vertices.size(), 0);
  firstPoint_.reserve(mesh().corners.size() + 1);
  firstPoint_.push_back(0);
  for (std::uint32_t f = 0; f < mesh().faceCount(); ++f) {
    const auto across = mesh().acrossOf(FaceId{f});
    const auto corners = mesh().cornersOf(FaceId{f});
    for (std::size_t i = 0; i < across.size(); ++i) {
      const std::uint32_t a = corners[i], b = corners[(i + 1) % corners.size()];
      const bool border = across[i] == kNoFace, meets = !border && differ(FaceId{f}, across[i]);
      if (border) more(a, 1), more(b, 1), after[a] = b, before[b] = a;
      if (meets) more(a, kMany), more(b, kMany);
      const double length = glm::distance(mesh().vertices[a], mesh().vertices[b]);
      const auto points = meets ? std::min(kMostPoints, static_cast<std::uint32_t>(length / bendSpacing_) + 2) : 0u;
      if (points > 1) widestSpacing_ = std::max(widestSpacing_, length / (points - 1));
      firstPoint_.push_back(firstPoint_.back() + points);
    }
  }
  // A way bends around what stands out into the ground, a slit without width as well; into a corner of a room it never does.
  for (std::uint32_t v = 0; v < bends_.size(); ++v) {
    const auto at = [&](std::uint32_t i) { return plan(mesh().vertices[i]); };
    const Vec2 in = at(v) - at(before[v]), out = at(after[v]) - at(v);
    const double turn = cross(in, out);
    bends_[v] = borders_[v] > 2 || (borders_[v] == 2 && (turn < -kStraight || (turn <= kStraight && glm::dot(in, out) < 0)));
  }
}

void SearchGround::findSpots() {
  UnionFind same = joinedCorners(adjacency_, [this](std::uint32_t corner) { return !meets(corner); });
  spot_.resize(mesh().corners.size());
  for (std::uint32_t c = 0; c < spot_.size(); ++c) spot_[c] = same.find(c) == c ? spots_++ : spot_[same.find(c)];
}

void SearchGround::findCheap() {
  const auto cheap = [](const nav::KindRule& k) { return !k.forbidden && k.cost < 1; };
  const nav::Pieces pieces = nav::piecesOf(mesh(), [&](FaceId f) { return cheap(rules_.of(mesh(), f)); });
  cheap_.resize(pieces.count);
  for (std::uint32_t f = 0; f < mesh().faceCount(); ++f) {
    if (pieces.of[f] == nav::kNoPiece) continue;
    for (const std::uint32_t v : mesh().cornersOf(FaceId{f})) cheap_[pieces.of[f]].add(plan(mesh().vertices[v]));
  }
  for (const nav::Link& link : mesh().links) {
    if (!usable(link) || perMetre(link) >= 1) continue;
    cheap_.emplace_back().add(plan(link.from));
    cheap_.back().add(plan(link.to));
  }
  if (cheap_.size() <= kMostCheap) return;
  Box2 all;  // asking for many would cost more than it saves
  for (const Box2& box : cheap_) all.add(box.min), all.add(box.max);
  cheap_.assign(1, all);
}

double SearchGround::toCheap(const Vec2& p) const {
  double least2 = std::numeric_limits<double>::infinity();
  for (const Box2& box : cheap_) {
    const Vec2 off = glm::max(glm::max(box.min - p, p - box.max), Vec2{0});
    least2 = std::min(least2, glm::dot(off, off));
  }
  return std::sqrt(least2);
}

void SearchGround::findSavings() {
  const auto cheap = [](const nav::KindRule& k) { return !k.forbidden && k.cost < 1; };
  std::size_t cheapKinds = 0;
  for (std::size_t k = 0; k < mesh().kinds.size(); ++k) cheapKinds += cheap(rules_.of(k));
  for (const nav::Link& link : mesh().links) cheapKinds += usable(link) && link.perMetre != 1 && perMetre(link) < 1;
  if (cheapKinds > 1) {  // the argument holds for the cheapest kind only
    mostSaved_ = std::numeric_limits<double>::infinity();
    return;
  }
  for (std::uint32_t f = 0; f < mesh().faceCount(); ++f) {
    if (!cheap(rules_.of(mesh(), FaceId{f}))) continue;
    double width = 0;
    for (const std::uint32_t a : mesh().cornersOf(FaceId{f}))
      for (const std::uint32_t b : mesh().cornersOf(FaceId{f}))
        width = std::max(width, glm::distance(plan(mesh().vertices[a]), plan(mesh().vertices[b])));
    mostSaved_ += width * (1 - leastCost_);
  }
  for (const nav::Link& link : mesh().links)
    if (usable(link) && perMetre(link) < 1) mostSaved_ += glm::distance(link.from, link.to) * (1 - leastCost_);
}

}  // namespace dune::route
