#include "window/stops/mesh/pick_tool.h"

#include <algorithm>

#include "core/base/plan_geometry.h"
#include "core/hand/pick.h"
#include "core/pipeline/hand_review.h"
#include "window/scene/layers.h"
#include "window/scene/theme.h"

namespace dune::window {

namespace {

constexpr int kAlong = 0, kUp = 1, kPull = 2;
constexpr double kFar = 100000;              // m: what is looked at of a ray that meets no level; from above it begins far up
constexpr double kBehind = 0.6;              // m that the ground may lie behind the level that is pointed at
constexpr double kOver = 1.2;                // m: the dot for the height over what is picked
constexpr double kBeside = 0.5;              // m: the dot that pulls out beside its edge
constexpr double kCatch = 0.2;               // m from another corner or an edge
constexpr double kSlip = 5;                  // pixels: a smaller rectangle was a click
constexpr double kLeastMove = 1e-3;          // m
constexpr double kReach = 0.8;               // m from the pointer to a corner or an edge
constexpr std::size_t kManyOutlines = 1000;  // picked faces

Vec2 outwardOf(const nav::NavMesh& mesh, const hand::Edge& e) {
  const auto [a, b] = endsOf(mesh, e);
  return -leftOf(plan(b - a)) / glm::distance(plan(a), plan(b));
}

}  // namespace

std::optional<nav::Place> meetMesh(const nav::NavMesh& mesh, const nav::Locator& locator, const Ray& ray, double cutAway, double far) {
  Box2 box;
  box.add(plan(ray.origin)), box.add(plan(ray.origin + ray.direction * far));
  std::optional<nav::Place> best;
  double least = far;
  for (const std::uint32_t f : locator.within(box)) {
    const nav::FaceId face{f};
    for (std::size_t i = 1; i + 1 < mesh.cornerCount(face); ++i) {
      const Vec3 &a = mesh.cornerAt(face, 0), &b = mesh.cornerAt(face, i), &c = mesh.cornerAt(face, i + 1);
      const Vec3 normal = glm::cross(b - a, c - a);
      const double slope = glm::dot(normal, ray.direction);
      if (slope == 0) continue;
      const double t = glm::dot(normal, a - ray.origin) / slope;
      if (t <= 0 || t >= least) continue;
      const Vec3 at = ray.origin + ray.direction * t;
      if (at.y > cutAway) continue;
      const auto left = [&](const Vec3& p, const Vec3& q) { return glm::dot(glm::cross(q - p, at - p), normal) >= 0; };
      if (left(a, b) && left(b, c) && left(c, a)) least = t, best = nav::Place{face, at};
    }
  }
  return best;
}

void PickTool::setKind(ThingKind kind) {
  kind_ = kind;
  dropPicks(workspace_, kind);
}

QString PickTool::hint() const {
  if (refused_) return QString::fromStdString(refused_->what + (refused_->advice.empty() ? "" : " Try " + refused_->advice));
  if (const QString tip = this->tip(); !tip.isEmpty()) return QObject::tr("Drag to change %1. Esc takes it back.").arg(tip);
  if (picks().any()) return QObject::tr("Drag the dots to move it. Ctrl and a click adds more; a click beside the ground picks nothing.");
  return kind_ == ThingKind::face
             ? QObject::tr("Click a face of the ground to pick it; hold Shift and drag for all in a rectangle, with Ctrl in an outline.")
         : kind_ == ThingKind::edge
             ? QObject::tr("Click near an edge of a face to pick it; hold Shift and drag for all in a rectangle, with Ctrl in an outline.")
             : QObject::tr(
                   "Click near a corner of a face to pick it; hold Shift and drag for all in a rectangle, with Ctrl in an outline.");
}

bool PickTool::press(const Pointer& p) {
  region_.clear();
  if (HandleTool::press(p)) return true;
  if (!(p.modifiers & Qt::ShiftModifier)) return false;
  free_ = p.modifiers & Qt::ControlModifier;
  region_ << p.pixel;
  return true;
}

void PickTool::drag(const Pointer& p) {
  if (region_.isEmpty()) return HandleTool::drag(p);
  const QPointF from = region_.first(), &to = p.pixel;
  if (free_)
    region_ << to;
  else
    region_ = QPolygonF({from, {to.x(), from.y()}, to, {from.x(), to.y()}});
}

/// All whose middle lies in it, and which the level does not hide.
void PickTool::pickIn(const QPolygonF& region, const Pointer& p) {
  const auto ground = workspace_.ground();
  if (!ground) return;
  const nav::NavMesh& mesh = ground->mesh;
  const auto& tree = workspace_.source().tree();
  std::set<std::string> keys = workspace_.selection().all(kind_);
  const auto see = [&](const Vec3& at) {
    QPointF pixel;
    if (at.y > p.cutAway || !p.camera->project(at, pixel) || !region.containsPoint(pixel, Qt::OddEvenFill)) return;
    if (!through_ && tree) {
      const Ray ray = p.camera->rayAt(pixel);
      const auto hit = tree->pick(ray, p.cutAway);
      if (hit && glm::distance(hit->at, ray.origin) < glm::distance(at, ray.origin) - kBehind) return;
    }
    keys.insert(pickKey(at));
  };
  if (kind_ == ThingKind::corner)
    for (const Vec3& v : mesh.vertices) see(v);
  else
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
      if (kind_ == ThingKind::face) see(nav::middleOf(mesh, nav::FaceId{f}));
      for (std::uint32_t i = 0; kind_ == ThingKind::edge && i < mesh.cornerCount(nav::FaceId{f}); ++i)
        see(middleOf(mesh, hand::Edge{nav::FaceId{f}, i}));
    }
  pick(workspace_, kind_, std::move(keys));
}

void PickTool::click(const Pointer& p) {
  const auto ground = workspace_.ground();
  if (!ground) return;
  const nav::NavMesh& mesh = ground->mesh;
  const double far = p.hit ? glm::distance(p.hit->at, p.ray.origin) + kBehind : kFar;
  const auto place = meetMesh(mesh, ground->locator(), p.ray, p.cutAway, far);
  std::optional<Vec3> at;
  if (place && kind_ == ThingKind::face) at = nav::middleOf(mesh, place->face);
  // Beside the border a click means the corner or edge that is nearest.
  const auto near = place ? std::optional(place->position) : p.hit ? std::optional(p.hit->at) : std::nullopt;
  if (near && kind_ == ThingKind::corner)
    if (const auto v = hand::cornerNear(mesh, ground->locator(), *near, kReach)) at = mesh.vertices[*v];
  if (near && kind_ == ThingKind::edge)
    if (const hand::Edge e = hand::edgeNear(mesh, ground->locator(), *near, kReach); e.face != nav::kNoFace) at = middleOf(mesh, e);
  const bool more = p.modifiers & (Qt::ControlModifier | Qt::ShiftModifier);
  say_(std::nullopt);
  if (!at) {
    if (!more) dropPicks(workspace_);
    return;
  }
  dropPicks(workspace_, kind_);
  if (more)
    workspace_.selection().toggle({kind_, pickKey(*at)});
  else
    workspace_.selection().choose({kind_, pickKey(*at)});
}

std::optional<Vec3> PickTool::middle() const {
  const auto ground = workspace_.ground();
  if (!ground || !workspace_.groundFresh()) return std::nullopt;
  std::vector<Vec3> corners;
  for (const std::uint32_t v : picks().moved) corners.push_back(ground->mesh.vertices[v]);
  return corners.empty() ? std::nullopt : std::optional(meanOf(corners));
}

/// The one picked edge, where the ground ends at it.
std::optional<hand::Edge> PickTool::pulled() const {
  const auto ground = workspace_.ground();
  if (!ground || picks().edges.size() != 1) return std::nullopt;
  const hand::Edge e = picks().edges[0];
  return ground->mesh.acrossOf(e.face)[e.side] == nav::kNoFace ? std::optional(e) : std::nullopt;
}

std::vector<Handle> PickTool::handles() const {
  const auto at = middle();
  if (!at) return {};
  const Vec3 along = held_ == kAlong || held_ == kUp ? by_ : Vec3{0};
  std::vector<Handle> all{{kAlong, *at + along, QObject::tr("where it is")},
                          {kUp, *at + along + Vec3{0, kOver, 0}, QObject::tr("how high it is")}};
  if (const auto edge = pulled(); edge && held_ != kAlong && held_ != kUp) {
    const Vec3 out = lift(outwardOf(workspace_.ground()->mesh, *edge) * kBeside, 0);
    all.push_back({kPull, *at + out + (held_ == kPull ? by_ : Vec3{0}), QObject::tr("how far a new face is pulled out of it")});
  }
  return all;
}

void PickTool::begin(int handle, const Pointer&) {
  held_ = handle, by_ = Vec3{0};
  refused_.reset();
  for (const Handle& h : handles())
    if (h.id == handle) from_ = h.at;
}

void PickTool::dragHandle(int handle, const Pointer& p) {
  const bool exact = p.modifiers & Qt::ControlModifier;
  if (handle == kUp) {
    by_ = {0, alongLine(p.ray, from_, {0, 1, 0}), 0};
    if (grid_ > 0 && !exact) by_.y = std::round(by_.y / grid_) * grid_;
  } else if (const auto at = meetPlane(p.ray, from_.y)) {
    by_ = exact ? *at - from_ : caught(*at - from_);
  }
  lookAhead();
}

HandChange PickTool::changeHeld() const {
  const bool follow = follows_ && held_ != kUp;
  if (held_ == kPull)
    return [by = by_, follow](const hand::Editor& editor, const Picks& picks) { return editor.pull(picks.edges.at(0), by, follow); };
  return [by = by_, follow](const hand::Editor& editor, const Picks& picks) { return editor.move(picks.moved, by, follow); };
}

/// What dropping it here would say.
void PickTool::lookAhead() {
  refused_.reset();
  const auto ground = workspace_.ground();
  if (!ground || !picks().any() || glm::length(by_) < kLeastMove) return;
  if (lookedAt_ != ground->built) lookedAt_ = ground->built, levelAt_ = pipeline::levelOf(lookedAt_);
  refused_ = refusalOf(workspace_, levelAt_, changeHeld());
}

/// So that the dot comes to lie on the lines of the grid.
Vec3 PickTool::onGrid(const Vec3& by) const {
  if (grid_ <= 0) return by;
  const auto near = [&](double from, double move) { return std::round((from + move) / grid_) * grid_ - from; };
  return {near(from_.x, by.x), by.y, near(from_.z, by.z)};
}

Vec3 PickTool::caught(const Vec3& by) const {
  const auto ground = workspace_.ground();
  if (!ground || picks().corners.size() != 1) return onGrid(by);
  const nav::NavMesh& mesh = ground->mesh;
  const std::uint32_t own = picks().corners[0];
  const Vec3 from = mesh.vertices[own], to = from + by;
  Box2 box;
  box.add(plan(to));
  std::optional<Vec3> corner, edge;
  double nearest = kCatch, beside = kCatch;
  for (const std::uint32_t f : ground->locator().within(box.grown(kCatch))) {
    const auto corners = mesh.cornersOf(nav::FaceId{f});
    for (std::size_t i = 0; i < corners.size(); ++i) {
      const std::uint32_t u = corners[i], v = corners[(i + 1) % corners.size()];
      const Vec3 &a = mesh.vertices[u], &b = mesh.vertices[v];
      if (const double d = glm::distance(plan(a), plan(to)); u != own && d < nearest && std::abs(a.y - from.y) < 1) nearest = d, corner = a;
      if (u == own || v == own) continue;
      const double t =
          glm::distance(nearestOnSegment(plan(a), plan(b), plan(to)), plan(a)) / std::max(1e-9, glm::distance(plan(a), plan(b)));
      const Vec3 on = glm::mix(a, b, t);
      if (const double d = glm::distance(plan(on), plan(to)); d < beside && std::abs(on.y - from.y) < 1) beside = d, edge = on;
    }
  }
  return corner ? *corner - from : edge ? *edge - from : onGrid(by);
}

void PickTool::drop(const Pointer& p) {
  drag(p);
  if (const QPolygonF drawn = std::exchange(region_, {}); !drawn.isEmpty()) {
    const QRectF in = drawn.boundingRect();
    if (in.width() < kSlip && in.height() < kSlip) return click(p);
    return pickIn(drawn, p);
  }
  HandleTool::drop(p);
  if (held_ != kNone && !dragged()) return letGo(), click(p);
  if (held_ == kPull && glm::length(by_) >= kLeastMove)
    say_(changeByHand(workspace_, QObject::tr("Pull a face out"), changeHeld()));
  else if (held_ != kNone && glm::length(by_) >= kLeastMove)
    say_(movePicks(workspace_, by_, follows_ && held_ == kAlong));
  letGo();
}

void PickTool::letGo() { held_ = kNone, by_ = Vec3{0}, refused_.reset(); }

bool PickTool::giveUp() {
  letGo();
  const bool drawing = !std::exchange(region_, {}).isEmpty();
  return HandleTool::giveUp() || drawing;
}

/// The outlines of the faces as they would be.
void PickTool::drawMoved(DrawList& list, const nav::NavMesh& mesh) const {
  const std::uint32_t ink = packed(refused_ ? theme().bad : theme().accent, 1);
  if (held_ == kPull) {
    const auto [a, b] = endsOf(mesh, picks().edges.at(0));
    list.polyline({raised(a), raised(a + by_), raised(b + by_), raised(b)}, 2.5, ink);
    return;
  }
  const auto moves = [&](std::uint32_t v) { return std::ranges::binary_search(picks().moved, v); };
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    const auto own = mesh.cornersOf(nav::FaceId{f});
    if (std::ranges::none_of(own, moves)) continue;
    for (std::size_t i = 0; i < own.size(); ++i) {
      const std::uint32_t u = own[i], v = own[(i + 1) % own.size()];
      if (moves(u) || moves(v))
        list.line(raised(mesh.vertices[u] + (moves(u) ? by_ : Vec3{0})), raised(mesh.vertices[v] + (moves(v) ? by_ : Vec3{0})), 2, ink);
    }
  }
}

void PickTool::drawOver(DrawList& list, const Camera& camera) const {
  HandleTool::drawOver(list, camera);
  if (region_.isEmpty()) return;
  constexpr double kBefore = 2;  // m before the eye
  std::vector<Vec3> corners;
  for (const QPointF& pixel : region_) {
    const Ray ray = camera.rayAt(pixel);
    corners.push_back(ray.origin + ray.direction * kBefore);
  }
  corners.push_back(corners[0]);
  list.polyline(corners, 2, packed(theme().accent, 1));
}

void PickTool::draw(DrawList& list, const Camera&) const {
  const auto ground = workspace_.ground();
  if (!ground) return;
  const nav::NavMesh& mesh = ground->mesh;
  const std::uint32_t ink = packed(theme().chosen, 1), veil = packed(theme().chosen, 0.45);
  // Of very many only the border around them all is told.
  std::vector<char> inner(picks().faces.size() > kManyOutlines ? mesh.faceCount() : 0, 0);
  if (!inner.empty())
    for (const nav::FaceId f : picks().faces) inner[nav::index(f)] = 1;
  for (const nav::FaceId f : picks().faces) {
    const std::size_t n = mesh.cornerCount(f);
    for (std::size_t i = 1; i + 1 < n; ++i)
      list.triangle(raised(mesh.cornerAt(f, 0)), raised(mesh.cornerAt(f, i)), raised(mesh.cornerAt(f, i + 1)), veil);
    for (std::size_t i = 0; i < n; ++i) {
      const nav::FaceId beyond = mesh.acrossOf(f)[i];
      if (!inner.empty() && beyond != nav::kNoFace && inner[nav::index(beyond)]) continue;
      list.line(raised(mesh.cornerAt(f, i)), raised(mesh.cornerAt(f, (i + 1) % n)), 3, ink);
    }
  }
  for (const hand::Edge& e : picks().edges) {
    const auto [from, to] = endsOf(mesh, e);
    list.line(raised(from), raised(to), 6, ink);
  }
  for (const std::uint32_t v : picks().corners) list.disc(raised(mesh.vertices[v], 2 * kAbove), 0.12, ink);
  if (held_ != kNone && picks().any()) drawMoved(list, mesh);
}

}  // namespace dune::window
