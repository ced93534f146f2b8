#include "core/route/field.h"

#include <algorithm>
#include <unordered_set>

#include "core/route/search_ground.h"

namespace dune::route {

using nav::FaceId;
using nav::kNoFace;

Field::Field(std::shared_ptr<const Layout> layout, nav::Rules rules)
    : layout_(std::move(layout)), mesh_(layout_->mesh()), rules_(std::move(rules)) {
  findPieces();
}

Field::Field(std::shared_ptr<const Layout> layout, nav::Rules rules, SimpleGround ground) : Field(std::move(layout), std::move(rules)) {
  std::call_once(made_, [&] { ground_ = std::make_unique<const SearchGround>(std::move(ground), rules_); });
}

const SearchGround& Field::ground() const {
  std::call_once(made_, [&] { ground_ = std::make_unique<const SearchGround>(simplify(*layout_, rules_), rules_); });
  return *ground_;
}

Field::~Field() = default;

bool Field::isOfOneCost() const { return ground().widestSpacing() == 0; }

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
    if (!rules_.allows(link)) continue;
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
    for (const Layout::LinkEnd end : layout_->linksFrom(f))
      if (rules_.allows(mesh_.links[end.link])) visit(end.forward ? mesh_.links[end.link].toFace : mesh_.links[end.link].fromFace);
  }
  return seen;
}

}  // namespace dune::route
