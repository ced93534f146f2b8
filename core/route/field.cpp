#include "core/route/field.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <unordered_set>

#include "core/nav/pieces.h"
#include "core/route/facets.h"
#include "core/route/prepared.h"
#include "core/route/search_ground.h"

namespace dune::route {

using nav::FaceId;
using nav::kNoFace;

Field::Field(std::shared_ptr<const Layout> layout, nav::Rules rules, double bendSpacing)
    : layout_(std::move(layout)), mesh_(layout_->mesh()), rules_(std::move(rules)), bendSpacing_(bendSpacing) {
  findPieces();
}

Field::Field(std::shared_ptr<const Layout> layout, nav::Rules rules, SimpleGround ground) : Field(std::move(layout), std::move(rules)) {
  std::call_once(made_, [&] { ground_ = std::make_unique<const SearchGround>(std::move(ground), rules_, bendSpacing_); });
}

const SearchGround& Field::ground() const {
  std::call_once(made_, [&] { ground_ = std::make_unique<const SearchGround>(simplify(*layout_, rules_), rules_, bendSpacing_); });
  return *ground_;
}

const Facets& Field::facets() const {
  std::call_once(facetsMade_, [&] { facets_ = std::make_unique<const Facets>(*layout_, rules_, ground().simple().classOf); });
  return *facets_;
}

Outcome Field::prepare(Measure measure, Job& job, std::size_t memory) const {
  const std::scoped_lock lock(preparing_);
  if (prepared(measure) != nullptr) return Nothing{};
  auto made = Prepared::prepare(*this, measure, job, memory);
  if (!made) return made.problem();
  const auto i = static_cast<std::size_t>(measure);
  keepPrepared_[i] = std::move(made).value();
  prepared_[i].store(keepPrepared_[i].get(), std::memory_order_release);
  return Nothing{};
}

Field::~Field() = default;

bool Field::isOfOneCost() const { return ground().widestSpacing() == 0; }

void Field::findPieces() {
  nav::Pieces pieces = nav::piecesOf(mesh_, [this](FaceId f) { return passable(f); });
  piece_ = std::move(pieces.of);
  pieceTo_.resize(pieces.count);
  firstOf_.assign(pieces.count + 1, 0);
  for (const std::uint32_t p : piece_)
    if (p != nav::kNoPiece) ++firstOf_[p + 1];
  for (std::size_t p = 0; p < pieces.count; ++p) firstOf_[p + 1] += firstOf_[p];
  byPiece_.resize(firstOf_.back());
  std::vector<std::uint32_t> next(firstOf_.begin(), firstOf_.end() - 1);
  for (std::uint32_t f = 0; f < piece_.size(); ++f)
    if (piece_[f] != nav::kNoPiece) byPiece_[next[piece_[f]]++] = f;
  auto join = [&](FaceId from, FaceId to) {
    const std::uint32_t a = piece_[index(from)], b = piece_[index(to)];
    if (a != nav::kNoPiece && b != nav::kNoPiece && a != b) pieceTo_[a].push_back(b);
  };
  for (std::size_t i = 0; i < mesh_.links.size(); ++i) {
    if (!rules_.allows(mesh_.links[i])) continue;
    for (const LinkLane& lane : layout_->lanes(i)) {
      join(lane.from.face, lane.to.face);
      if (!mesh_.links[i].oneWay) join(lane.to.face, lane.from.face);
    }
  }
  for (auto& to : pieceTo_) {
    std::ranges::sort(to);
    to.erase(std::unique(to.begin(), to.end()), to.end());
  }
}

std::vector<std::uint32_t> Field::piecesFrom(std::uint32_t piece) const {
  std::vector<std::uint32_t> seen{piece};
  std::unordered_set<std::uint32_t> known{piece};
  for (std::size_t i = 0; i < seen.size(); ++i)
    for (const std::uint32_t next : pieceTo_[seen[i]])
      if (known.insert(next).second) seen.push_back(next);
  return seen;
}

bool Field::reaches(FaceId from, FaceId to) const {
  const std::uint32_t a = piece_[index(from)], b = piece_[index(to)];
  if (a == nav::kNoPiece || b == nav::kNoPiece) return false;
  return a == b || std::ranges::count(piecesFrom(a), b) > 0;
}

nav::Place Field::nearestReachable(FaceId from, const Vec3& p) const {
  nav::Place best;
  if (from == kNoFace || piece_[index(from)] == nav::kNoPiece) return best;
  std::vector<std::uint32_t> pieces = piecesFrom(piece_[index(from)]);
  std::ranges::sort(pieces);
  std::size_t all = 0;
  for (const std::uint32_t piece : pieces) all += facesOf(piece).size();
  double least = std::numeric_limits<double>::infinity();
  const auto see = [&](std::uint32_t f) {
    const Vec3 at = nav::nearestOnFace(mesh_, FaceId{f}, p);
    const double d = glm::distance(at, p);
    if (d < least || (d == least && FaceId{f} < best.face)) best = {FaceId{f}, at}, least = d;
  };
  // Around p first, farther and farther, as long as that is less than all of it.
  Box2 point;
  point.add(plan(p));
  constexpr double kFirst = 1;  // m
  for (double reach = kFirst; std::isfinite(reach); reach *= 4) {
    const std::vector<std::uint32_t> near = locator().within(point.grown(reach));
    if (near.size() >= all) break;
    for (const std::uint32_t f : near)
      if (std::ranges::binary_search(pieces, piece_[f])) see(f);
    if (least <= reach) return best;
  }
  for (const std::uint32_t piece : pieces)
    for (const std::uint32_t f : facesOf(piece)) see(f);
  return best;
}

std::vector<char> Field::reachable(FaceId from) const {
  std::vector<char> reached(mesh_.faceCount(), 0), pieces(pieceTo_.size(), 0);
  if (from == kNoFace || piece_[index(from)] == nav::kNoPiece) return reached;
  for (const std::uint32_t p : piecesFrom(piece_[index(from)])) pieces[p] = 1;
  for (std::size_t f = 0; f < reached.size(); ++f) reached[f] = piece_[f] != nav::kNoPiece && pieces[piece_[f]];
  return reached;
}

}  // namespace dune::route
