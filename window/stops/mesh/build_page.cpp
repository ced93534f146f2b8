#include "window/stops/mesh/build_page.h"

#include <QFileInfo>

#include "core/base/text.h"
#include "core/meshes/raw_mesh_files.h"
#include "window/stops/mesh/scope_tool.h"
#include "window/widgets/count_text.h"

namespace dune::window {

BuildPage::BuildPage(Workspace& workspace) : Sheet({}, workspace) {
  addBuild();
  addGiven();
  addChange();
  tool_ = std::make_unique<ScopeTool>(workspace_);
}

BuildPage::~BuildPage() = default;

Tool* BuildPage::tool() { return workspace_.grounds().scope().kind == generate::Scope::Kind::box ? tool_.get() : nullptr; }

void BuildPage::addBuild() {
  build_ = button(tr("Build"), tr("Build the walkable ground (Ctrl+B)"));
  build_->setObjectName(QStringLiteral("primary"));
  cancel_ = button(tr("Cancel"), tr("Stop building"));
  row({build_, cancel_});
  connect(build_, &QPushButton::clicked, this, [this] { workspace_.build(); });
  connect(cancel_, &QPushButton::clicked, this, [this] { workspace_.cancel(); });
  always_ = new QCheckBox(tr("Build after every change"));
  column_->addWidget(always_);
  connect(always_, &QCheckBox::toggled, this, [this](bool on) { workspace_.setAutoBuild(on); });
  scope_ = new QComboBox;
  scope_->addItems({tr("everything"), tr("only in a box"), tr("only where no ground is")});
  scope_->setAccessibleName(tr("What is built"));
  scope_->setToolTip(tr("The rest stays as the last build left it. Ground is made in squares; those that the box touches are built."));
  auto* what = new QLabel(tr("What is built"));
  what->setBuddy(scope_);
  row({what, scope_});
  connect(scope_, &QComboBox::activated, this, [this](int i) {
    workspace_.setScope({static_cast<generate::Scope::Kind>(i), workspace_.grounds().scope().box});
    toolChanged();
  });
  state_ = new QLabel;
  state_->setWordWrap(true);
  column_->addWidget(state_);
  numbers_ = new QLabel;
  numbers_->setTextFormat(Qt::RichText);
  column_->addWidget(numbers_);
  export_ = button(tr("Export mesh…"), tr("Write a .dsmesh, .json, .obj or .glb file"));
  row({export_});
  connect(export_, &QPushButton::clicked, this, [this] { emit asked(Request::exportMesh); });
}

/// What one sees of a mesh that was not built here.
void BuildPage::addGiven() {
  givenTitle_ = section(tr("Mesh from elsewhere"));
  given_ = new QLabel;
  given_->setWordWrap(true);
  column_->addWidget(given_);
  unit_ = number(tr("Metres a unit"), tr("m"), 0.001, 1000, 0.01, 3);
  unit_->setToolTip(tr("How long one unit of the file is: 0.01 for centimetres"));
  connect(unit_, &NumberField::edited, this,
          [this](double v) { changeGiven(tr("Change unit of mesh"), [v](project::GivenMesh& g) { g.import.scale = v; }); });
  zUp_ = new QCheckBox(tr("Z is up in the file"));
  column_->addWidget(zUp_);
  connect(zUp_, &QCheckBox::clicked, this, [this](bool on) {
    changeGiven(tr("Change axis of mesh"), [on](project::GivenMesh& g) { g.import.up = on ? level::UpAxis::z : level::UpAxis::y; });
  });
  fromLevel_ = button(tr("Build from the level"), tr("Leaves the mesh from elsewhere, and builds one from the level again"));
  row({fromLevel_});
  connect(fromLevel_, &QPushButton::clicked, this, [this] { workspace_.giveMeshUp(); });
}

void BuildPage::changeGiven(const QString& label, const std::function<void(project::GivenMesh&)>& change) {
  workspace_.change(label, [&](project::Project& p) {
    project::edit(p.level, [&](project::LevelSection& s) {
      for (project::GivenMesh& g : s.given) change(g);
    });
  });
}

void BuildPage::refreshGiven() {
  const project::LevelSection& s = *workspace_.project().level;
  const auto number = project::givenFor(s, workspace_.agentKind().id);
  const bool ours = number && meshes::isOurMesh(s.given[*number].path);
  for (QWidget* w : {static_cast<QWidget*>(givenTitle_), static_cast<QWidget*>(given_), static_cast<QWidget*>(fromLevel_)})
    w->setVisible(number.has_value());
  unit_->setVisible(number && !ours), zUp_->setVisible(number && !ours);
  scope_->parentWidget()->setVisible(!number);
  if (!number) return;
  const project::GivenMesh& mesh = s.given[*number];
  fromLevel_->setVisible(!s.files.empty() || !s.blockers.empty());
  unit_->setValue(mesh.import.scale);
  zUp_->setChecked(mesh.import.up == level::UpAxis::z);
  QString text = QFileInfo(QString::fromStdString(mesh.path)).fileName();
  if (const auto ground = workspace_.ground(); ground && ground->given) {
    const hand::TakeNotes& notes = *ground->given;
    const auto add = [&](std::size_t count, const QString& one, const QString& many) {
      if (count > 0) text += QStringLiteral("\n") + (count == 1 ? one : many.arg(count));
    };
    add(notes.leftOut.size(), tr("1 face is left out: see Findings"), tr("%1 faces are left out: see Findings"));
    add(notes.cut, tr("1 face was not convex and is cut"), tr("%1 faces were not convex and are cut"));
    add(notes.inserted, tr("1 corner lay on a side and parts it"), tr("%1 corners lay on sides and part them"));
    add(notes.unused, tr("1 corner without a face is left out"), tr("%1 corners without a face are left out"));
  }
  given_->setText(text);
}

void BuildPage::addChange() {
  changeTitle_ = section(tr("Since the last build"));
  change_ = new QLabel;
  change_->setWordWrap(true);
  column_->addWidget(change_);
  showChange_ = new QCheckBox(tr("Show it in the world"));
  showChange_->setChecked(true);
  column_->addWidget(showChange_);
  connect(showChange_, &QCheckBox::toggled, this, [this] { workspace_.bulletin().add(Topic::compared); });
  places_ = list(tr("Places that changed"), ThingKind::change);
  connect(places_, &ItemList::chosen, this, [this](const std::string&) {
    const auto& change = workspace_.comparison().change();
    const int at = workspace_.selection().id(ThingKind::change);
    if (change && at >= 0 && static_cast<std::size_t>(at) < change->places.size())
      emit showPlace(change->places[static_cast<std::size_t>(at)].ground.at);
  });
  keep_ = button(tr("Keep this build"), tr("Compare every later build with this one"));
  forget_ = button(tr("Compare with last"), tr("Forget the kept build, and compare with the last one again"));
  row({keep_, forget_});
  connect(keep_, &QPushButton::clicked, this, [this] { workspace_.keepBuild(); });
  connect(forget_, &QPushButton::clicked, this, [this] { workspace_.forgetKept(); });
}

void BuildPage::refreshState() {
  const auto ground = workspace_.ground();
  const generate::Scope::Kind kind = workspace_.grounds().scope().kind;
  const QString what = kind == generate::Scope::Kind::everything ? tr("everything")
                       : kind == generate::Scope::Kind::box      ? tr("the box")
                                                                 : tr("where no ground is");
  if (workspace_.building())
    state_->setText(tr("Building: %1").arg(workspace_.work().step()));
  else if (!workspace_.level())
    state_->setText(tr("There is no level to build from yet."));
  else if (!ground)
    state_->setText(tr("Not built yet. Building would take %1.").arg(workspace_.price()));
  else if (!workspace_.groundFresh())
    state_->setText(tr("Out of date: something changed since the last build. Building %1 would take %2.").arg(what, workspace_.price()));
  else if (ground->given)
    state_->setText(tr("Read from a file, not built. Hand work lies over it; what is wrong with it stands under Findings."));
  else if (ground->built->chunksLeft > 0)
    state_->setText(tr("Built in %1 s: %2 of %3 squares. The other %4 are as they were, and may be out of date.")
                        .arg(ground->built->seconds, 0, 'f', 2)
                        .arg(ground->built->chunksMade)
                        .arg(ground->built->chunks.size())
                        .arg(ground->built->chunksLeft));
  else
    state_->setText(tr("Up to date, built in %1 s (%2 of %3 squares anew). All of it anew: %4.")
                        .arg(ground->built->seconds, 0, 'f', 2)
                        .arg(ground->built->chunksMade)
                        .arg(ground->built->chunks.size())
                        .arg(workspace_.price()));
}

void BuildPage::refreshChange() {
  const auto change = workspace_.comparison().other() ? nullptr : workspace_.comparison().change();
  changeTitle_->setText(workspace_.comparison().withKept() ? tr("Since the kept build") : tr("Since the last build"));
  forget_->setEnabled(workspace_.comparison().withKept());
  keep_->setEnabled(workspace_.ground() != nullptr);
  const bool any = change && (!change->places.empty() || !change->routes.empty());
  places_->setVisible(any), showChange_->setVisible(any);
  if (!any) places_->setRows({});
  if (!change)
    return change_->setText(workspace_.comparison().acrossUnits()
                                ? tr("The level is read in other units than then: nothing can be compared.")
                                : tr("Nothing to compare yet: change something and build."));
  if (!any) return change_->setText(tr("The ground is the same, and all kept routes too."));
  QString text = tr("%1 m² gained (hatched +), %2 m² lost (hatched –).").arg(change->gained, 0, 'f', 1).arg(change->lost, 0, 'f', 1);
  for (const pipeline::ChangedRoute& r : change->routes) {
    const auto& routes = workspace_.project().routes->routes;
    const auto route = std::ranges::find(routes, r.id, &project::KeptRoute::id);
    if (route != routes.end())
      text += QStringLiteral("\n") + tr("Route %1: %2").arg(QString::fromStdString(route->name), QString::fromStdString(r.sentence));
  }
  change_->setText(text);
  std::vector<ItemRow> rows;
  for (const pipeline::ChangedPlace& p : change->places) {
    const QString area = tr("%1%2 m²").arg(p.gained ? QStringLiteral("+") : QStringLiteral("–")).arg(p.ground.area, 0, 'f', 2);
    const QString cause = QString::fromStdString(p.cause);
    rows.push_back({std::to_string(rows.size()), cause.isEmpty() ? area : area + (p.gained ? tr("  was: ") : tr("  now: ")) + cause});
  }
  places_->setRows(std::move(rows));
}

void BuildPage::refresh(Topics) {
  const auto ground = workspace_.ground();
  const generate::Scope::Kind kind = workspace_.grounds().scope().kind;
  build_->setEnabled(workspace_.level() != nullptr && !workspace_.building());
  cancel_->setEnabled(workspace_.building());
  export_->setEnabled(ground != nullptr);
  const QSignalBlocker blocker(always_);
  always_->setChecked(workspace_.autoBuild());
  scope_->setCurrentIndex(static_cast<int>(kind));
  refreshState();
  refreshGiven();
  refreshChange();
  numbers_->setVisible(ground != nullptr);
  if (!ground) return;
  const nav::NavMesh& m = ground->mesh;
  const std::size_t triangles = ground->built->survey->triangleCount();
  const std::size_t ofFiles = workspace_.level() ? std::min(triangles, workspace_.level()->level->triangleCount()) : triangles;
  const QString counted =
      triangles > ofFiles ? tr("%1 + %2 drawn").arg(countText(ofFiles), countText(triangles - ofFiles)) : countText(triangles);
  auto line = [](const QString& name, const QString& value) {
    return QStringLiteral("<tr><td>%1&nbsp;&nbsp;</td><td align=right><b>%2</b></td></tr>").arg(name, value);
  };
  numbers_->setText(QStringLiteral("<table>") + line(tr("Walkable"), tr("%1 m²").arg(ground->area, 0, 'f', 1)) +
                    line(tr("Faces, corners"), tr("%1, %2").arg(m.faceCount()).arg(m.vertices.size())) +
                    line(tr("Islands"), QString::number(ground->islands)) + line(tr("Level triangles"), counted) +
                    QStringLiteral("</table>"));
}

}  // namespace dune::window
