#include "window/session/hand_picks.h"

#include <QCoreApplication>
#include <algorithm>
#include <charconv>

#include "core/base/number_text.h"
#include "core/base/plan_geometry.h"
#include "core/pipeline/hand_review.h"
#include "core/pipeline/strip.h"
#include "core/pipeline/tag_faces.h"

namespace dune::window {

namespace {

constexpr double kSame = 0.02, kHigher = 2;  // m in plan, and up or down: who follows the level comes to lie at another height
constexpr ThingKind kKinds[] = {ThingKind::face, ThingKind::edge, ThingKind::corner};

QString byHand(const char* text) { return QCoreApplication::translate("HandMade", text); }

std::optional<Vec3> placeOf(const std::string& key) {
  Vec3 at;
  const char *from = key.data(), *end = from + key.size();
  for (int axis = 0; axis < 3; ++axis) {
    if (from == end) return std::nullopt;
    const auto [rest, error] = std::from_chars(from + (axis > 0), end, at[axis]);
    if (error != std::errc()) return std::nullopt;
    from = rest;
  }
  return at;
}

/// Of what lies around a place, what is nearest in height.
template <class Item>
class Nearest {
 public:
  explicit Nearest(const Vec3& at) : at_(at) {}
  void see(const Item& item, const Vec3& p) {
    const double dy = std::abs(p.y - at_.y);
    if (glm::distance(plan(p), plan(at_)) <= kSame && dy < least_) least_ = dy, best_ = item, found_ = true;
  }
  void addTo(std::vector<Item>& list) const {
    if (found_) list.push_back(best_);
  }

 private:
  Vec3 at_;
  double least_ = kHigher;
  Item best_{};
  bool found_ = false;
};

template <class Visit>
void eachNear(const pipeline::Ground& ground, const Vec3& at, Visit&& visit) {
  Box2 box;
  box.add(plan(at));
  for (const std::uint32_t f : ground.locator().within(box.grown(kSame))) visit(nav::FaceId{f});
}

std::vector<std::uint32_t> movedBy(const nav::NavMesh& mesh, const Picks& picks) {
  std::set<std::uint32_t> corners(picks.corners.begin(), picks.corners.end());
  for (const nav::FaceId f : picks.faces)
    for (const std::uint32_t v : mesh.cornersOf(f)) corners.insert(v);
  for (const hand::Edge& e : picks.edges) {
    const auto own = mesh.cornersOf(e.face);
    corners.insert(own[e.side]), corners.insert(own[(e.side + 1) % own.size()]);
  }
  return {corners.begin(), corners.end()};
}

}  // namespace

std::string pickKey(const Vec3& at) {
  std::string key;
  for (int axis = 0; axis < 3; ++axis) {
    if (axis > 0) key += ' ';
    appendFixed(key, at[axis], 3);
  }
  return key;
}

Vec3 middleOf(const nav::NavMesh& mesh, const hand::Edge& edge) { return meanOf(endsOf(mesh, edge)); }

Picks picksOf(Workspace& w) {
  Picks picks;
  const auto ground = w.ground();
  if (!ground) return picks;
  const nav::NavMesh& mesh = ground->mesh;
  const auto each = [&](ThingKind kind, auto&& found) {
    for (const std::string& key : w.selection().all(kind))
      if (const auto at = placeOf(key)) found(*at);
  };
  each(ThingKind::face, [&](const Vec3& at) {
    Nearest<nav::FaceId> nearest(at);
    eachNear(*ground, at, [&](nav::FaceId f) { nearest.see(f, nav::middleOf(mesh, f)); });
    nearest.addTo(picks.faces);
  });
  each(ThingKind::edge, [&](const Vec3& at) {
    Nearest<hand::Edge> nearest(at);
    eachNear(*ground, at, [&](nav::FaceId f) {
      for (std::uint32_t i = 0; i < mesh.cornerCount(f); ++i) nearest.see({f, i}, middleOf(mesh, hand::Edge{f, i}));
    });
    nearest.addTo(picks.edges);
  });
  each(ThingKind::corner, [&](const Vec3& at) {
    Nearest<std::uint32_t> nearest(at);
    eachNear(*ground, at, [&](nav::FaceId f) {
      for (const std::uint32_t v : mesh.cornersOf(f)) nearest.see(v, mesh.vertices[v]);
    });
    nearest.addTo(picks.corners);
  });
  picks.moved = movedBy(mesh, picks);
  return picks;
}

const Picks& PicksNow::of(Workspace& w) {
  const auto ground = w.ground();
  if (const std::size_t changes = w.selection().changes(); ground != ground_ || changes != changes_)
    ground_ = ground, changes_ = changes, picks_ = picksOf(w);
  return picks_;
}

void pick(Workspace& workspace, ThingKind kind, std::set<std::string> keys) {
  dropPicks(workspace, kind);
  workspace.selection().set(kind, std::move(keys));
}

void pick(Workspace& workspace, const nav::NavMesh& mesh, std::span<const nav::FaceId> faces) {
  std::set<std::string> keys;
  for (const nav::FaceId f : faces) keys.insert(pickKey(nav::middleOf(mesh, f)));
  pick(workspace, ThingKind::face, std::move(keys));
}

void pick(Workspace& workspace, const nav::NavMesh& mesh, std::span<const hand::Edge> edges) {
  std::set<std::string> keys;
  for (const hand::Edge& e : edges) keys.insert(pickKey(middleOf(mesh, e)));
  pick(workspace, ThingKind::edge, std::move(keys));
}

void dropPicks(Workspace& workspace, std::optional<ThingKind> but) {
  for (const ThingKind kind : kKinds)
    if (kind != but && !workspace.selection().all(kind).empty()) workspace.selection().clear(kind);
}

namespace {

constexpr std::size_t kMany = 300;  // picked: at most a tenth of a second of work

bool isMuch(const Picks& picks) { return picks.faces.size() + picks.edges.size() + picks.corners.size() > kMany; }

/// From a project to the next, on the ground as it lies; from any thread.
using GroundChange = std::function<Result<project::Project>(const project::Project&, const hand::Editor&, const Picks&)>;

/// One step of the document. `then`: once it is made.
std::optional<Problem> changeOnGround(Workspace& w, const QString& label, const GroundChange& change,
                                      const std::function<void()>& then = {}) {
  const auto ground = w.ground();
  if (!ground || !w.groundFresh())
    return Problem{
        ProblemCode::unusable, byHand("The ground is out of date.").toStdString(), {}, byHand("building it first.").toStdString()};
  const Picks picks = picksOf(w);
  const auto make = [ground, picks, from = w.project(), agent = w.agentKind().id, change](Job* job) {
    return change(from, {ground->mesh, ground->origin, *from.hand, agent, pipeline::levelOf(ground->built), job}, picks);
  };
  if (isMuch(picks)) {
    w.changeInBackground(
        label, [make](Job& job) { return make(&job); }, then);
    return std::nullopt;
  }
  auto changed = make(nullptr);
  if (!changed) return changed.problem();
  w.change(label, [&](project::Project& p) { p = std::move(changed.value()); });
  if (then) then();
  return std::nullopt;
}

GroundChange changeOf(const HandChange& change) {
  return [change](const project::Project& from, const hand::Editor& editor, const Picks& picks) -> Result<project::Project> {
    auto work = change(editor, picks);
    if (!work) return work.problem();
    project::Project project = from;
    project.hand = std::make_shared<const hand::Work>(std::move(work.value()));
    return project;
  };
}

}  // namespace

std::optional<Problem> changeByHand(Workspace& w, const QString& label, const HandChange& change) {
  return changeOnGround(w, label, changeOf(change));
}

std::optional<Problem> stripBetweenPicks(Workspace& w) {
  return changeOnGround(
      w, byHand("Strip"),
      [agent = w.agentKind().id](const project::Project& before, const hand::Editor& editor, const Picks& picks) {
        const hand::Edge from = picks.edges.empty() ? hand::Edge{} : picks.edges.front(),
                         to = picks.edges.empty() ? from : picks.edges.back();
        return pipeline::withStrip(before, editor.mesh(), editor, agent, from, to);
      },
      [&w, before = w.project().hand] {
        if (w.project().hand == before)
          w.bulletin().say(byHand("It is too steep to walk: a link to climb leads from the one edge to the other, under Links."));
      });
}

std::optional<Problem> tagPicks(Workspace& w, const std::string& tag) {
  return changeOnGround(w, byHand("Tag faces"), [tag](const project::Project& from, const hand::Editor& editor, const Picks& picks) {
    return pipeline::withTag(from, editor.mesh(), picks.faces, tag);
  });
}

std::optional<Problem> refusalOf(Workspace& w, const hand::LevelAt& levelAt, const HandChange& change) {
  const auto ground = w.ground();
  const Picks picks = picksOf(w);
  if (!ground || !w.groundFresh() || isMuch(picks)) return std::nullopt;
  const auto changed = change({ground->mesh, ground->origin, *w.project().hand, w.agentKind().id, levelAt}, picks);
  return changed ? std::nullopt : std::optional(changed.problem());
}

std::optional<Problem> movePicks(Workspace& w, const Vec3& by, bool follow) {
  std::map<ThingKind, std::set<std::string>> moved;
  for (const ThingKind kind : kKinds)
    for (const std::string& key : w.selection().all(kind))
      if (const auto at = placeOf(key)) moved[kind].insert(pickKey(*at + by));
  return changeOnGround(
      w, byHand("Move by hand"),
      changeOf([by, follow](const hand::Editor& editor, const Picks& picks) { return editor.move(picks.moved, by, follow); }), [&w, moved] {
        for (const auto& [kind, keys] : moved) w.selection().set(kind, keys);
      });
}

}  // namespace dune::window
