#include "window/session/hand_made.h"

#include <QCoreApplication>
#include <algorithm>

#include "core/project/rules.h"
#include "window/session/found_links.h"
#include "window/session/hand_picks.h"

namespace dune::window {

namespace {

using project::Project;

QString tr(const char* text) { return QCoreApplication::translate("HandMade", text); }

/// One kind of hand-made thing: where its list is, and how it is called.
template <class Section_, class Item_>
struct List {
  using Section = Section_;
  using Item = Item_;
  std::shared_ptr<const Section> Project::*section;
  std::vector<Item> Section::*items;
  ThingKind kind;
  const char *adding, *removing;
};

constexpr List<project::LevelSection, level::Blocker> kBlockers{&Project::level, &project::LevelSection::blockers, ThingKind::blocker,
                                                                QT_TRANSLATE_NOOP("HandMade", "Place blocker"),
                                                                QT_TRANSLATE_NOOP("HandMade", "Remove blocker")};
constexpr List<project::AreasSection, level::AreaVolume> kVolumes{&Project::areas, &project::AreasSection::volumes, ThingKind::volume,
                                                                  QT_TRANSLATE_NOOP("HandMade", "Add volume"),
                                                                  QT_TRANSLATE_NOOP("HandMade", "Remove volume")};
constexpr List<project::LinksSection, links::HandLink> kLinks{&Project::links, &project::LinksSection::links, ThingKind::link,
                                                              QT_TRANSLATE_NOOP("HandMade", "Draw link"),
                                                              QT_TRANSLATE_NOOP("HandMade", "Remove link")};
constexpr List<project::RoutesSection, project::KeptRoute> kRoutes{&Project::routes, &project::RoutesSection::routes, ThingKind::route,
                                                                   QT_TRANSLATE_NOOP("HandMade", "Keep route"),
                                                                   QT_TRANSLATE_NOOP("HandMade", "Remove route")};
constexpr List<project::CardsSection, project::Card> kCards{&Project::cards, &project::CardsSection::cards, ThingKind::card,
                                                            QT_TRANSLATE_NOOP("HandMade", "Pin card"),
                                                            QT_TRANSLATE_NOOP("HandMade", "Remove card")};
constexpr List<project::CrowdSection, project::CrowdGroup> kGroups{&Project::crowd, &project::CrowdSection::groups, ThingKind::group,
                                                                   QT_TRANSLATE_NOOP("HandMade", "Draw group"),
                                                                   QT_TRANSLATE_NOOP("HandMade", "Remove group")};

constexpr List<project::CrowdSection, project::CrowdObstacle> kObstacles{
    &Project::crowd, &project::CrowdSection::obstacles, ThingKind::obstacle, QT_TRANSLATE_NOOP("HandMade", "Draw obstacle"),
    QT_TRANSLATE_NOOP("HandMade", "Remove obstacle")};

constexpr List<project::PlacesSection, project::NamedPlace> kPlaces{&Project::places, &project::PlacesSection::places, ThingKind::place,
                                                                    QT_TRANSLATE_NOOP("HandMade", "Name place"),
                                                                    QT_TRANSLATE_NOOP("HandMade", "Remove name of place")};

constexpr List<hand::Work, hand::Patch> kPatches{&Project::hand, &hand::Work::patches, ThingKind::patch,
                                                 QT_TRANSLATE_NOOP("HandMade", "Draw a patch"),
                                                 QT_TRANSLATE_NOOP("HandMade", "Give up patch")};

constexpr List<project::FlightSection, project::FlyerKind> kFlyers{&Project::flight, &project::FlightSection::flyers, ThingKind::flyer,
                                                                   QT_TRANSLATE_NOOP("HandMade", "Add kind that flies"),
                                                                   QT_TRANSLATE_NOOP("HandMade", "Remove kind that flies")};
constexpr List<project::FlightSection, project::FlightVolume> kFlightVolumes{
    &Project::flight, &project::FlightSection::volumes, ThingKind::flightVolume, QT_TRANSLATE_NOOP("HandMade", "Add volume to fly in"),
    QT_TRANSLATE_NOOP("HandMade", "Remove volume to fly in")};
constexpr List<project::FlightSection, project::AskedFlight> kFlights{&Project::flight, &project::FlightSection::flights, ThingKind::flight,
                                                                      QT_TRANSLATE_NOOP("HandMade", "Keep flight"),
                                                                      QT_TRANSLATE_NOOP("HandMade", "Remove flight")};

constexpr List<project::FlightSection, project::FlyerGroup> kFlyerGroups{
    &Project::flight, &project::FlightSection::groups, ThingKind::flyerGroup, QT_TRANSLATE_NOOP("HandMade", "Add group that flies"),
    QT_TRANSLATE_NOOP("HandMade", "Remove group that flies")};

template <class L>
const typename L::Item* chosen(Workspace& workspace, const L& list) {
  const auto& items = (*(workspace.project().*list.section)).*list.items;
  const auto found = std::ranges::find(items, workspace.selection().id(list.kind), &L::Item::id);
  return found == items.end() ? nullptr : &*found;
}

template <class L>
void edit(Workspace& workspace, const L& list, const QString& label, const QString& mergeKey,
          const std::function<void(std::vector<typename L::Item>&)>& change) {
  workspace.change(
      label, [&](Project& p) { project::edit(p.*list.section, [&](typename L::Section& s) { change(s.*list.items); }); }, mergeKey);
}

template <class L>
void put(Workspace& workspace, const L& list, const typename L::Item& item, const QString& label, const QString& mergeKey) {
  edit(workspace, list, label, mergeKey, [&](auto& items) {
    for (auto& i : items)
      if (i.id == item.id) i = item;
  });
}

template <class L>
void addTo(Workspace& workspace, const L& list, typename L::Item item) {
  item.id = project::nextId((*(workspace.project().*list.section)).*list.items);
  edit(workspace, list, tr(list.adding), {}, [&](auto& items) { items.push_back(item); });
  workspace.selection().choose(list.kind, item.id);
}

template <class L>
bool removeFrom(Workspace& workspace, const L& list) {
  const auto* item = chosen(workspace, list);
  if (!item) return false;
  edit(workspace, list, tr(list.removing), {},
       [id = item->id](auto& items) { std::erase_if(items, [id](const auto& i) { return i.id == id; }); });
  return true;
}

/// What goes by its number in a list of a section.
template <class Section, class Item>
bool removeNumbered(Workspace& workspace, ThingKind kind, std::shared_ptr<const Section> Project::*section,
                    std::vector<Item> Section::*items, const QString& label) {
  const int at = workspace.selection().id(kind);
  const Section& now = *(workspace.project().*section);
  if (at < 0 || static_cast<std::size_t>(at) >= (now.*items).size()) return false;
  workspace.change(label, [&](Project& p) { project::edit(p.*section, [&](Section& s) { (s.*items).erase((s.*items).begin() + at); }); });
  workspace.selection().clear(kind);
  return true;
}

/// Its volumes go with it; the first kind is what ground is anyway, and stays.
bool removeKind(Workspace& workspace) {
  const level::AreaKind* kind = chosenKind(workspace);
  if (!kind || kind == workspace.project().areas->kinds.data()) return false;
  workspace.change(tr("Remove kind"), [name = kind->name](Project& p) { project::removeKind(p, name); });
  return true;
}

/// What flies by it goes with it.
bool removeFlyer(Workspace& workspace) {
  const project::FlyerKind* kind = chosen(workspace, kFlyers);
  if (!kind) return false;
  workspace.change(tr(kFlyers.removing), [id = kind->id](Project& p) {
    project::edit(p.flight, [id](project::FlightSection& s) {
      std::erase_if(s.flyers, [id](const project::FlyerKind& f) { return f.id == id; });
      std::erase_if(s.flights, [id](const project::AskedFlight& f) { return f.flyer == id; });
      std::erase_if(s.groups, [id](const project::FlyerGroup& g) { return g.flyer == id; });
      std::erase_if(s.rules, [id](const project::AgentRule& r) { return r.agent == id; });
    });
  });
  return true;
}

bool refuseChosen(Workspace& workspace) {
  const nav::Link* found = chosenFound(workspace);
  if (found) refuse(workspace, *found);
  return found;
}

}  // namespace

const level::Blocker* chosenBlocker(Workspace& w) { return chosen(w, kBlockers); }
const hand::Patch* chosenPatch(Workspace& w) { return chosen(w, kPatches); }
const level::AreaVolume* chosenVolume(Workspace& w) { return chosen(w, kVolumes); }
const links::HandLink* chosenLink(Workspace& w) { return chosen(w, kLinks); }
const project::NamedPlace* chosenPlace(Workspace& w) { return chosen(w, kPlaces); }
const project::FlyerKind* chosenFlyer(Workspace& w) { return chosen(w, kFlyers); }
const project::FlightVolume* chosenFlightVolume(Workspace& w) { return chosen(w, kFlightVolumes); }
const project::AskedFlight* chosenFlight(Workspace& w) { return chosen(w, kFlights); }
const project::FlyerGroup* chosenFlyerGroup(Workspace& w) { return chosen(w, kFlyerGroups); }
const project::Card* chosenCard(Workspace& w) { return chosen(w, kCards); }
const project::KeptRoute* chosenRoute(Workspace& w) { return chosen(w, kRoutes); }
const project::CrowdGroup* chosenGroup(Workspace& w) { return chosen(w, kGroups); }
const project::CrowdObstacle* chosenObstacle(Workspace& w) { return chosen(w, kObstacles); }
const level::AreaKind* chosenKind(Workspace& w) {
  const auto& kinds = w.project().areas->kinds;
  const auto found = std::ranges::find(kinds, w.selection().one(ThingKind::areaKind), &level::AreaKind::name);
  return found == kinds.end() ? nullptr : &*found;
}

const level::Blocker* blockerAt(Workspace& w, const Picked& picked) {
  const std::size_t own = w.level() ? w.level()->level->objects.size() : 0;
  const auto& blockers = w.project().level->blockers;
  return picked.object < own || picked.object - own >= blockers.size() ? nullptr : &blockers[picked.object - own];
}

void replace(Workspace& w, const level::Blocker& blocker, const QString& label, const QString& key) {
  put(w, kBlockers, blocker, label, key);
}
void replace(Workspace& w, const hand::Patch& patch, const QString& label, const QString& key) { put(w, kPatches, patch, label, key); }
void replace(Workspace& w, const level::AreaVolume& volume, const QString& label, const QString& key) {
  put(w, kVolumes, volume, label, key);
}
void replace(Workspace& w, const links::HandLink& link, const QString& label, const QString& key) { put(w, kLinks, link, label, key); }
void replace(Workspace& w, const project::CrowdGroup& group, const QString& label, const QString& key) {
  put(w, kGroups, group, label, key);
}

void replace(Workspace& w, const project::NamedPlace& place, const QString& label, const QString& key) {
  put(w, kPlaces, place, label, key);
}

void replace(Workspace& w, const project::CrowdObstacle& obstacle, const QString& label, const QString& key) {
  put(w, kObstacles, obstacle, label, key);
}

void replace(Workspace& w, const project::KeptRoute& route, const QString& label, const QString& key) {
  put(w, kRoutes, route, label, key);
}

void replace(Workspace& w, const project::FlyerKind& flyer, const QString& label, const QString& key) {
  put(w, kFlyers, flyer, label, key);
}
void replace(Workspace& w, const project::FlightVolume& volume, const QString& label, const QString& key) {
  put(w, kFlightVolumes, volume, label, key);
}
void replace(Workspace& w, const project::AskedFlight& flight, const QString& label, const QString& key) {
  put(w, kFlights, flight, label, key);
}

void replace(Workspace& w, const project::FlyerGroup& group, const QString& label, const QString& key) {
  put(w, kFlyerGroups, group, label, key);
}

void add(Workspace& w, project::FlyerGroup group) { addTo(w, kFlyerGroups, std::move(group)); }
void add(Workspace& w, project::FlyerKind flyer) { addTo(w, kFlyers, std::move(flyer)); }
void add(Workspace& w, project::FlightVolume volume) { addTo(w, kFlightVolumes, std::move(volume)); }
void add(Workspace& w, project::AskedFlight flight) { addTo(w, kFlights, std::move(flight)); }
void add(Workspace& w, level::Blocker blocker) { addTo(w, kBlockers, std::move(blocker)); }
void add(Workspace& w, level::AreaVolume volume) { addTo(w, kVolumes, std::move(volume)); }
void add(Workspace& w, links::HandLink link) { addTo(w, kLinks, link); }
void add(Workspace& w, project::CrowdGroup group) {
  group.scene = w.scene();
  addTo(w, kGroups, std::move(group));
}
void add(Workspace& w, project::CrowdObstacle obstacle) {
  obstacle.scene = w.scene();
  addTo(w, kObstacles, std::move(obstacle));
}
void add(Workspace& w, project::NamedPlace place) { addTo(w, kPlaces, std::move(place)); }
void add(Workspace& w, project::Card card) { addTo(w, kCards, card); }
void add(Workspace& w, project::KeptRoute route) {
  route.name = "Route " + std::to_string(project::nextId(w.project().routes->routes));
  addTo(w, kRoutes, std::move(route));
}

void addSeed(Workspace& w, const Vec3& at) {
  w.change(tr("Add seed"), [&](Project& p) { project::edit(p.level, [&](project::LevelSection& s) { s.seeds.push_back(at); }); });
  w.selection().choose(ThingKind::seed, static_cast<int>(w.project().level->seeds.size()) - 1);
}

bool removeChosen(Workspace& w, ThingKind kind) {
  switch (kind) {
    case ThingKind::blocker:
      return removeFrom(w, kBlockers);
    case ThingKind::volume:
      return removeFrom(w, kVolumes);
    case ThingKind::link:
      return removeFrom(w, kLinks) || refuseChosen(w);
    case ThingKind::route:
      return removeFrom(w, kRoutes);
    case ThingKind::card:
      return removeFrom(w, kCards);
    case ThingKind::place:
      return removeFrom(w, kPlaces);
    case ThingKind::group:
      return removeFrom(w, kGroups);
    case ThingKind::obstacle:
      return removeFrom(w, kObstacles);
    case ThingKind::areaKind:
      return removeKind(w);
    case ThingKind::flyer:
      return removeFlyer(w);
    case ThingKind::flightVolume:
      return removeFrom(w, kFlightVolumes);
    case ThingKind::flight:
      return removeFrom(w, kFlights);
    case ThingKind::flyerGroup:
      return removeFrom(w, kFlyerGroups);
    case ThingKind::seed:
      return removeNumbered(w, kind, &Project::level, &project::LevelSection::seeds, tr("Remove seed"));
    case ThingKind::patch:
      return removeFrom(w, kPatches);
    case ThingKind::face:
      return !changeByHand(w, tr("Delete faces"),
                           [](const hand::Editor& editor, const Picks& picks) { return editor.remove(picks.faces); });
    case ThingKind::rule:
      return removeNumbered(w, kind, &Project::level, &project::LevelSection::rules, tr("Remove rule"));
    case ThingKind::groundRule:
      return removeNumbered(w, kind, &Project::areas, &project::AreasSection::byName, tr("Remove kind by name"));
    default:
      return false;
  }
}

}  // namespace dune::window
