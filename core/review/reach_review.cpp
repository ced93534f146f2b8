#include "core/review/reach_review.h"

#include <algorithm>
#include <map>

#include "core/base/text.h"
#include "core/base/union_find.h"
#include "core/review/reach.h"

namespace dune::review {

namespace {

enum class Lot : std::uint8_t { main, island, trap, unreached };

Lot lotOf(const Reach& reach, const Piece& p) {
  if (reach.isMain(p)) return Lot::main;
  if (p.together != reach.main) return Lot::island;
  return p.reached ? Lot::trap : Lot::unreached;
}

/// Pieces of one lot that links join: one thing to a person.
struct Group {
  Lot lot = Lot::main;
  std::size_t pieces = 0;
  double area = 0, largest = 0;
  Vec3 at{};
  std::vector<int> links{};  ///< ids of those that lead in, of a trap, and out of what nobody comes to
};

class Reviewer {
 public:
  Reviewer(const nav::NavMesh& mesh, const nav::Rules& rules, const MeshLimits& limits, std::vector<Finding>& findings)
      : mesh_(mesh), rules_(rules), limits_(limits), findings_(findings), reach_(reachOf(mesh, rules)) {}

  void run() {
    gather();
    std::vector<const Group*> bySize;
    for (const auto& [first, group] : groups_) bySize.push_back(&group);
    std::ranges::stable_sort(bySize, std::ranges::greater{}, &Group::area);
    for (const Group* group : bySize) report(*group);
    if (small_.pieces > 0) reportSmall();
    if (smallTraps_.pieces > 0) reportSmallTraps();
    for (const nav::Link& link : mesh_.links)
      if (!link.generated && !nav::isOneWayBorder(link)) reviewLink(link);
  }

 private:
  std::uint32_t pieceAt(nav::FaceId f) const { return reach_.pieceOf[index(f)]; }

  std::uint32_t groupOf(std::uint32_t piece) { return together_.find(piece); }

  void gather() {
    for (std::uint32_t i = 0; i < reach_.pieces.size(); ++i) lots_.push_back(lotOf(reach_, reach_.pieces[i]));
    together_ = UnionFind(lots_.size());
    for (const nav::Link& link : mesh_.links) {
      const std::uint32_t from = pieceAt(link.fromFace), to = pieceAt(link.toFace);
      if (!counts(link) || lots_[from] != lots_[to]) continue;
      together_.unite(from, to);
    }
    for (std::uint32_t i = 0; i < reach_.pieces.size(); ++i)
      if (lots_[i] != Lot::main) add(groups_[groupOf(i)], lots_[i], reach_.pieces[i]);
    for (const nav::Link& link : mesh_.links) {
      if (!counts(link)) continue;
      const std::uint32_t from = pieceAt(link.fromFace), to = pieceAt(link.toFace);
      if (lots_[to] == Lot::trap && lots_[from] != Lot::trap) groups_[groupOf(to)].links.push_back(link.id);
      if (lots_[from] == Lot::unreached && lots_[to] != Lot::unreached) groups_[groupOf(from)].links.push_back(link.id);
    }
  }

  bool counts(const nav::Link& link) const {
    return rules_.allows(link) && pieceAt(link.fromFace) != nav::kNoPiece && pieceAt(link.toFace) != nav::kNoPiece;
  }

  static void add(Group& group, Lot lot, const Piece& piece) {
    group.lot = lot;
    ++group.pieces, group.area += piece.area;
    if (piece.area > group.largest) group.largest = piece.area, group.at = piece.at;
  }

  void report(const Group& g) {
    if (g.area < limits_.smallIsland) {
      Group& all = g.lot == Lot::trap ? smallTraps_ : small_;
      all.pieces += g.pieces, all.area += g.area;
      if (g.largest > all.largest) all.largest = g.largest, all.at = g.at;
      return;
    }
    if (g.lot == Lot::island)
      add("island", Severity::warning, g,
          g.pieces == 1 ? text("Island of %.2f m² that no ground and no link joins to the rest.", g.area)
                        : text("%zu islands that links join with each other, %.2f m², but nothing with the rest.", g.pieces, g.area),
          "The ground around it is too high, too low, too steep or too narrow to go over, or forbidden.",
          "a link to it, or a seed so that only ground in play is kept.");
    else if (g.lot == Lot::trap)
      add("trap", Severity::warning, g, text("%.2f m² of ground can be entered %s and never left again.", g.area, over(g).c_str()),
          "The way in goes one way, as a drop does, and no ground or link leads back.",
          "a link that leads back, taking one that is there both ways, or refusing the ones that lead in.");
    else
      add("unreached", Severity::hint, g, text("Nobody comes to %.2f m² of ground that can be left %s.", g.area, over(g).c_str()),
          "What joins it to the rest goes one way, away from it.",
          "a link that leads there, or a seed so that only ground in play is kept.");
  }

  std::string over(const Group& g) const {
    if (g.links.empty()) return "from ground that nobody comes to either";
    const auto isBorder = [&](int id) { return nav::isOneWayBorder(*std::ranges::find(mesh_.links, id, &nav::Link::id)); };
    if (std::ranges::all_of(g.links, isBorder)) return "over a border that is crossed one way";
    return g.links.size() == 1 ? text("over link %d", g.links[0]) : text("over %zu links", g.links.size());
  }

  void add(const char* code, Severity severity, const Group& g, std::string sentence, const char* why, const char* advice) {
    findings_.push_back({code, severity, std::move(sentence), why, advice, g.at, -1, -1, g.area, 0});
  }

  /// Tops of crates, walls and lamps: one finding, not twenty rows.
  void reportSmall() {
    const double under = limits_.smallIsland;
    Finding f{"small-islands",
              Severity::hint,
              small_.pieces == 1
                  ? text("An island of %.2f m² that nobody comes to.", small_.area)
                  : text("%zu islands under %g m², %.2f m² in all, that nobody comes to.", small_.pieces, under, small_.area),
              "Mostly tops of crates, walls and lamps that nobody is meant to stand on.",
              "a least size for islands, or seeds so that only ground in play is kept.",
              small_.at,
              -1,
              -1,
              small_.area,
              under};
    f.remedy = Remedy{text("Leave out islands under %g m²", under), DropIslands{under}};
    findings_.push_back(std::move(f));
  }

  void reportSmallTraps() {
    add("trap", Severity::hint, smallTraps_,
        text("%zu %s under %g m², %.2f m² in all, can be entered and never left again.", smallTraps_.pieces,
             smallTraps_.pieces == 1 ? "place" : "places", limits_.smallIsland, smallTraps_.area),
        "Ledges and tops that one drops or jumps on to, and from which no way leads on.",
        "a least size for islands, or refusing the links that lead there.");
  }

  void reviewLink(const nav::Link& link) {
    for (const nav::FaceId end : {link.fromFace, link.toFace})
      if (pieceAt(end) == nav::kNoPiece)
        return about(link, Severity::hint,
                     text("Link %d %s on %s, where %s may not walk.", link.id, end == link.fromFace ? "starts" : "ends",
                          mesh_.kindOf(end).name.c_str(), mesh_.agent.name.c_str()),
                     "That kind of ground is forbidden to it.", "another rule for it, or moving the link's end.");
    if (!rules_.allows(link)) return;
    const Piece &from = reach_.pieces[pieceAt(link.fromFace)], &to = reach_.pieces[pieceAt(link.toFace)];
    if (from.reached || (to.reached && !link.oneWay)) return;
    if (!to.reached)
      return about(link, Severity::warning, text("Nobody comes to either end of link %d.", link.id),
                   "It lies on ground that no other link joins to the rest.", "a link from there to the rest, or removing it.");
    about(link, Severity::warning, text("Nobody comes to the start of link %d: it leads away from ground without a way to it.", link.id),
          "It goes one way, perhaps the wrong one.", "turning it round, or taking it both ways.");
    if (link.kind != nav::LinkKind::drop) findings_.back().remedy = Remedy{text("Take link %d both ways", link.id), BothWays{link.id}};
  }

  void about(const nav::Link& link, Severity severity, std::string sentence, const char* why, const char* advice) {
    findings_.push_back({"unreached-link", severity, std::move(sentence), why, advice, link.from, -1, -1, 0, 0});
  }

  const nav::NavMesh& mesh_;
  const nav::Rules& rules_;
  const MeshLimits& limits_;
  std::vector<Finding>& findings_;
  Reach reach_;
  std::vector<Lot> lots_;
  UnionFind together_;  // of pieces of one lot
  std::map<std::uint32_t, Group> groups_;
  Group small_, smallTraps_;
};

}  // namespace

void reviewReach(const nav::NavMesh& mesh, const nav::Rules& rules, const MeshLimits& limits, std::vector<Finding>& findings) {
  Reviewer(mesh, rules, limits, findings).run();
}

}  // namespace dune::review
