#include "window/session/found_links.h"

#include <QCoreApplication>
#include <algorithm>

namespace dune::window {

namespace {

QString ofLinks(const char* text) { return QCoreApplication::translate("FoundLinks", text); }

void change(Workspace& w, const QString& label, const std::function<void(project::LinksSection&)>& edit) {
  w.change(label, [&](project::Project& p) { project::edit(p.links, edit); });
}

}  // namespace

const nav::Link* chosenFound(Workspace& w) {
  const auto ground = w.ground();
  const int id = w.selection().id(ThingKind::link);
  if (!ground || id < links::kFirstFound) return nullptr;
  const auto& all = ground->mesh.links;
  const auto found = std::ranges::find_if(all, [&](const nav::Link& l) { return l.generated && l.id == id; });
  return found == all.end() ? nullptr : &*found;
}

const links::RefusedLink* chosenRefused(Workspace& w) {
  const auto at = static_cast<std::size_t>(w.selection().id(ThingKind::link)) - kFirstRefused;
  const auto& refused = w.project().links->refused;
  return at < refused.size() ? &refused[at] : nullptr;
}

void findLinks(Workspace& w, bool find) {
  change(w, find ? ofLinks("Find links") : ofLinks("Find no links"), [&](project::LinksSection& s) { s.find = find; });
}

void keepAsDrawn(Workspace& w, const nav::Link& found) {
  const int id = project::nextId(w.project().links->links);
  const links::HandLink drawn = links::drawnLike(found, id);
  change(w, ofLinks("Keep link"), [&](project::LinksSection& s) { s.links.push_back(drawn); });
  w.selection().choose(ThingKind::link, id);
}

void keepMoved(Workspace& w, const nav::Link& found, const Vec3& from, const Vec3& to) {
  const int id = project::nextId(w.project().links->links);
  links::HandLink drawn = links::drawnLike(found, id);
  drawn.from = from, drawn.to = to;
  const links::RefusedLink refused = links::RefusedLink::of(found);
  change(w, ofLinks("Move link"), [&](project::LinksSection& s) { s.links.push_back(drawn), s.refused.push_back(refused); });
  w.selection().choose(ThingKind::link, id);
}

void refuse(Workspace& w, const nav::Link& found) {
  const links::RefusedLink refused = links::RefusedLink::of(found);
  change(w, ofLinks("Refuse link"), [&](project::LinksSection& s) { s.refused.push_back(refused); });
  w.selection().choose(ThingKind::link, kFirstRefused + static_cast<int>(w.project().links->refused.size()) - 1);
}

void takeBackRefused(Workspace& w) {
  const links::RefusedLink* chosen = chosenRefused(w);
  if (!chosen) return;
  const auto at = chosen - w.project().links->refused.data();
  change(w, ofLinks("Take back refused link"), [&](project::LinksSection& s) { s.refused.erase(s.refused.begin() + at); });
  w.selection().clear(ThingKind::link);
}

}  // namespace dune::window
