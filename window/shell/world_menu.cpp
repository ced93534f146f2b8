#include "window/shell/world_menu.h"

#include "window/shell/main_window.h"
#include "window/stops/agents/agents_sheet.h"
#include "window/stops/level/level_sheet.h"
#include "window/stops/mesh/mesh_sheet.h"

namespace dune::window {

namespace {

QString tr(const char* text) { return QObject::tr(text); }
QString roleText(level::Role role) { return QString::fromLatin1(level::roleName(role)); }

LevelSheet& levelSheet(MainWindow& window, LevelSheet::Page page) {
  window.goTo(Stop::level);
  auto& sheet = *static_cast<LevelSheet*>(window.sheet(Stop::level));
  sheet.show(page);
  return sheet;
}

class Filler {
 public:
  Filler(MainWindow& window, QMenu& menu, const Picked& hit) : window_(window), menu_(menu), hit_(hit) {}

  void fill() {
    const auto level = window_.workspace().level();
    const std::size_t own = level ? level->level->objects.size() : 0;
    if (hit_.object < own)
      addObject(level->level->objects[hit_.object]);
    else
      addBlocker(window_.workspace().project().level->blockers[hit_.object - own]);
    menu_.addSeparator();
    addPlace();
  }

 private:
  void addTitle(const std::string& name, level::Role role) {
    menu_.addAction(QStringLiteral("%1: %2").arg(QString::fromStdString(name), roleText(role)))->setEnabled(false);
  }

  void addObject(const level::Object& object) {
    const project::LevelSection& section = *window_.workspace().project().level;
    const level::Role now = level::roleOf(object, section.roles, section.rules);
    const std::string name = object.name;
    addTitle(name, now);
    QMenu* counts = menu_.addMenu(tr("Counts as"));
    for (const level::Role role : {level::Role::ground, level::Role::obstacle, level::Role::cuts, level::Role::ignored}) {
      QAction* action = counts->addAction(roleText(role), &window_, [w = &window_, name, role] {
        static_cast<LevelSheet*>(w->sheet(Stop::level))->objects()->giveRole({name}, role);
      });
      action->setCheckable(true), action->setChecked(role == now);
    }
    menu_.addAction(tr("Choose in the list"), &window_, [w = &window_, name] {
      levelSheet(*w, LevelSheet::Page::objects).objects()->choose(QString::fromStdString(name), false);
    });
  }

  void addBlocker(const level::Blocker& blocker) {
    const int id = blocker.id;
    addTitle(blocker.name(), blocker.role);
    auto page = [w = &window_, id] {
      BlockersPage* blockers = levelSheet(*w, LevelSheet::Page::blockers).blockers();
      blockers->choose(id);
      return blockers;
    };
    menu_.addAction(tr("Change it"), &window_, [page] { page(); });
    menu_.addAction(tr("Copy it"), &window_, [page] { page()->copy(); });
    menu_.addAction(tr("Remove it"), &window_, [page] { page()->remove(); });
  }

  void addPlace() {
    const Picked hit = hit_;
    menu_.addAction(tr("Pin a card: why is there (no) ground?"), &window_, [w = &window_, hit] {
      w->goTo(Stop::mesh);
      auto* mesh = static_cast<MeshSheet*>(w->sheet(Stop::mesh));
      mesh->show(MeshSheet::Page::cards);
      mesh->cards()->pin(hit.at);
    });
    menu_.addAction(tr("Put a box here"), &window_, [w = &window_, hit] {
      level::Blocker box;
      box.at = hit.at;
      levelSheet(*w, LevelSheet::Page::blockers).blockers()->place(box);
    });
    menu_.addAction(tr("Add a seed here"), &window_,
                    [w = &window_, hit] { levelSheet(*w, LevelSheet::Page::bounds).bounds()->addSeed(hit.at); });
    menu_.addAction(tr("Stand the %1 here").arg(QString::fromStdString(window_.workspace().agentKind().name)), &window_,
                    [w = &window_, hit] {
                      if (w->stop() != Stop::level) w->goTo(Stop::agents);
                      static_cast<AgentsSheet*>(w->sheet(Stop::agents))->putInLevel({hit.at, hit.normal});
                    });
    menu_.addAction(tr("Cut away what is above"), &window_, [w = &window_, hit] { w->cutAwayAbove(hit.at); });
  }

  MainWindow& window_;
  QMenu& menu_;
  Picked hit_;
};

}  // namespace

QMenu* worldMenu(MainWindow& window, const Pointer& pointer) {
  if (!pointer.hit) return nullptr;
  auto* menu = new QMenu(&window);
  Filler(window, *menu, *pointer.hit).fill();
  return menu;
}

}  // namespace dune::window
