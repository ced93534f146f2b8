#include "window/stops/flight/flight_stop.h"

#include "core/project/rules.h"
#include "window/scene/layers.h"
#include "window/scene/theme.h"
#include "window/session/hand_made.h"
#include "window/stops/flight/flight_picture.h"
#include "window/stops/flight/flight_sheet.h"

namespace dune::window {

namespace {
constexpr std::size_t kMostAims = 12;  // bodies: of more, what each aims at would hide them
}

FlightStop::FlightStop(Workspace& workspace, WorldView& view) : FlightStop(workspace, view, new FlightSheet(workspace)) {}

FlightStop::FlightStop(Workspace& workspace, WorldView& view, FlightSheet* sheet)
    : TrailStop(workspace, tr("Flight"), sheet),
      own_(*sheet),
      way_(view, LayerOrder::marks),
      airs_(view, LayerOrder::marks),
      cells_(view, LayerOrder::overGround),
      bodies_(view, LayerOrder::moving),
      ahead_(view, LayerOrder::over),
      cursor_(view, LayerOrder::cursor) {
  connect(&own_.fly(), &FlyPage::moved, this, [this] { drawBodies(here_); });
}

StopState FlightStop::state() const {
  const auto& flight = *workspace_.project().flight;
  StopState s;
  const project::FlyerKind* kind = flyerNow(workspace_);
  if (!kind) return s.words = tr("none fly"), s;
  s.words = flight.flyers.size() == 1 ? QString::fromStdString(kind->name) : tr("%1 kinds").arg(flight.flyers.size());
  const bool looked = workspace_.airs().of(kind->id) != nullptr;
  s.fresh = !looked || (workspace_.level() && workspace_.airs().fresh(workspace_.project(), *workspace_.level()->level, kind->id));
  if (workspace_.airs().making()) s.work = workspace_.airs().fraction();
  s.trouble = !workspace_.airs().trouble().isEmpty();
  return s;
}

void FlightStop::draw(const Shown& shown, Topics changed) {
  if (!(changed &
        (Topic::flight | Topic::areas | Topic::air | Topic::level | Topic::levelSection | Topic::selection | Topic::stop | Topic::theme)))
    return;
  here_ = shown.here;
  if (!here_) cursor_.clear();
  if (changed & Topic::theme) cut_.reset();  // other colours
  const project::FlyerKind* kind = flyerNow(workspace_);
  if (here_ && kind) workspace_.wantAir(kind->id);
  const auto air = kind ? workspace_.airs().of(kind->id) : nullptr;
  DrawList list, sides;
  sides.veil = true;
  std::vector<WorldLabel> labels;
  if (here_) {
    for (const project::FlightVolume& v : workspace_.project().flight->volumes) drawVolume(v, list, sides, labels);
    const project::FlyerGroup* group = chosenFlyerGroup(workspace_);
    for (const project::FlyerGroup& g : workspace_.project().flight->groups) addGroup(list, g, group && group->id == g.id, labels);
    if (air && own_.fly().asked()) addFlight(list, *air->space, own_.fly().way(), labels);
  }
  way_.set(std::move(list), std::move(labels)), airs_.set(std::move(sides));
  drawCells(here_ && own_.space().plane() ? air : nullptr);
  drawBodies(here_);
}

void FlightStop::drawVolume(const project::FlightVolume& volume, DrawList& list, DrawList& sides, std::vector<WorldLabel>& labels) {
  const project::FlightVolume* chosen = chosenFlightVolume(workspace_);
  const bool strong = chosen && chosen->id == volume.id;
  if (volume.air.empty()) return addVolume(list, volume.box, strong ? theme().accent : theme().quiet, strong, nullptr);
  const auto& kinds = workspace_.project().areas->kinds;
  const auto kind = std::ranges::find(kinds, volume.air, &level::AreaKind::name);
  const QColor colour = kind == kinds.end() ? theme().warning : kindColour(kind->colour);
  addVolume(list, volume.box, colour, strong, &sides);
  const project::FlyerKind* flyer = flyerNow(workspace_);
  const nav::KindRule rule = project::airRule(workspace_.project(), flyer ? flyer->id : 0, volume.air);
  const Vec3 top(volume.box.centre().x, volume.box.max.y, volume.box.centre().z);
  labels.push_back(
      {top,
       QString::fromStdString(volume.air) + QStringLiteral(": ") + (rule.forbidden ? tr("forbidden") : tr("%1 a metre").arg(rule.cost)),
       colour});
}

void FlightStop::drawCells(const std::shared_ptr<const pipeline::Air>& air) {
  const auto height = own_.space().plane();
  if (!air || !height) return cut_.reset(), cutting_.drop(), cells_.clear();
  if (air == cut_ && *height == cutAt_) return;
  cut_ = air, cutAt_ = *height;
  cutting_.ask([this, air, height = *height](Job&) -> LatestQuestion::Answer {
    auto cells = std::make_shared<DrawList>();
    addCells(*cells, *air->space, height);
    return [this, cells, height] {
      if (here_ && own_.space().plane() == height) cells_.set(std::move(*cells));
    };
  });
}

void FlightStop::drawBodies(bool here) {
  DrawList bodies, ahead;
  bodies.lit = true;
  const FlyPage& page = own_.fly();
  const project::FlyerKind* kind = flyerNow(workspace_);
  if (here && page.flown()) {
    const Flown& flown = *page.flown();
    const auto& frame = flown.frames[std::min(page.frame(), flown.frames.size() - 1)];
    if (flown.among) addWalkers(bodies, *flown.among, static_cast<double>(page.frame()) / kFlownRate);
    const auto vec = [](const std::array<float, 3>& v) { return Vec3(v[0], v[1], v[2]); };
    for (std::size_t i = 0; i < frame.size(); ++i) {
      const Pose& pose = frame[i];
      addFlyer(bodies, flown.kinds[i], vec(pose.at), pose.heading, pose.bank, pose.pitch, theme().agent[i % std::size(theme().agent)]);
      if (flown.trace.bodies()[i].id == page.followed())
        ahead.circle(vec(pose.at), 1.6 * flown.kinds[i].radius, 3, packed(theme().accent, 1));
      if (frame.size() > kMostAims || !pose.flies) continue;
      ahead.line(vec(pose.at), vec(pose.aim), 1.5, packed(theme().accent, 0.8));
      ahead.circle(vec(pose.aim), 0.15, 2, packed(theme().accent, 1));
      if (pose.waypoint < flown.ways[i].size()) ahead.circle(flown.ways[i][pose.waypoint], 0.3, 2.5, packed(theme().warning, 1));
    }
  } else if (here && kind && page.asked()) {
    const auto& [from, to] = *page.asked();
    const Vec3 way = to - from;
    const double heading = std::atan2(-way.z, way.x);
    addFlyer(bodies, *kind, from, heading, 0, 0, theme().agent[0]);
    addFlyer(bodies, *kind, to, heading, 0, 0, theme().quiet);
  }
  bodies_.set(std::move(bodies)), ahead_.set(std::move(ahead));
}

std::optional<QString> FlightStop::pointAt(const Pointer& pointer, bool holding) {
  const project::FlyerKind* kind = flyerNow(workspace_);
  const auto air = kind ? workspace_.airs().of(kind->id) : nullptr;
  cursor_.clear();
  if (!air || !pointer.hit || holding) return std::nullopt;
  const Vec3 at = pointer.hit->at + Vec3(0, own_.fly().height(), 0);
  const pipeline::FlightAnswer answer = pipeline::explainFlight(*air->space, at);
  const QColor colour = answer.fits ? theme().good : theme().bad;
  DrawList list;
  list.lit = true;
  addFlyer(list, air->space->flyer(), at, 0, 0, 0, colour);
  list.dashed(pointer.hit->at, at, 0.2, 1.5, packed(colour, 1));
  list.circle(raised(pointer.hit->at), air->space->flyer().radius, 1.5, packed(colour, 1));
  cursor_.set(std::move(list));
  return tr("%1 m over it: %2  At %3, %4, %5.")
      .arg(own_.fly().height(), 0, 'f', 2)
      .arg(QString::fromStdString(answer.sentence))
      .arg(at.x, 0, 'f', 2)
      .arg(at.y, 0, 'f', 2)
      .arg(at.z, 0, 'f', 2);
}

void FlightStop::showFinding(const review::Finding& finding) {
  if (!finding.flies) return;
  own_.pages()->setCurrentWidget(&own_.fly());
  own_.fly().showFinding(finding);
}

}  // namespace dune::window
