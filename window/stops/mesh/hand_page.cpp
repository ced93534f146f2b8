#include "window/stops/mesh/hand_page.h"

#include "core/base/plan_geometry.h"
#include "core/base/polyline.h"
#include "core/hand/pick.h"
#include "core/pipeline/hand_review.h"
#include "window/scene/layers.h"
#include "window/scene/theme.h"
#include "window/session/hand_made.h"

namespace dune::window {

HandPage::HandPage(Workspace& workspace) : Sheet({}, workspace) {
  pick_ = std::make_unique<PickTool>(workspace_, [this](const std::optional<Problem>& problem) { say(problem); });
  addPicking();
  addChanges();
  addMoving();
  addWork();
  outline_ = std::make_unique<OutlineTool>(
      [](const Pointer& p, const std::vector<Vec3>&) { return p.hit ? std::optional(p.hit->at) : std::nullopt; },
      [this](const std::vector<Vec3>& corners) {
        say(changeByHand(workspace_, tr("Draw a patch"),
                         [corners](const hand::Editor& editor, const Picks&) { return editor.draw(corners); }));
      });
  line_ = std::make_unique<FromToTool>(
      FromToTool::Words{tr("Drag a line across the picked faces."), tr("Let go where the line ends: it goes on to the end of each face.")},
      0.1,
      [](DrawList& list, const Vec3& from, const Vec3& to) {
        list.line(raised(from, 0.08), raised(to, 0.08), 3, packed(theme().accent, 1));
      },
      [this](const Vec3& from, const Vec3& to) {
        say(changeByHand(workspace_, tr("Split faces"),
                         [from, to](const hand::Editor& editor, const Picks& picks) { return editor.splitAlong(picks.faces, from, to); }));
        cut_->setChecked(false);
      });
}

HandPage::~HandPage() = default;

Tool* HandPage::tool() {
  if (draw_->isChecked()) return outline_.get();
  return cut_->isChecked() ? static_cast<Tool*>(line_.get()) : pick_.get();
}

void HandPage::leaveTool() {
  if (tool() == pick_.get()) return dropPicks(workspace_);
  draw_->setChecked(false), cut_->setChecked(false);
}

bool HandPage::chooseAll() {
  const auto ground = workspace_.ground();
  if (!ground) return false;
  std::vector<nav::FaceId> all;
  for (std::uint32_t f = 0; f < ground->mesh.faceCount(); ++f) all.push_back(nav::FaceId{f});
  setKind(ThingKind::face);
  pick(workspace_, ground->mesh, all);
  return true;
}

void HandPage::addPicking() {
  section(tr("Pick"));
  faces_ = button(tr("Faces"), tr("A click picks a face of the ground"), true);
  edges_ = button(tr("Edges"), tr("A click picks the nearest side of a face"), true);
  corners_ = button(tr("Corners"), tr("A click picks the nearest corner of a face"), true);
  row({faces_, edges_, corners_});
  connect(faces_, &QPushButton::clicked, this, [this] { setKind(ThingKind::face); });
  connect(edges_, &QPushButton::clicked, this, [this] { setKind(ThingKind::edge); });
  connect(corners_, &QPushButton::clicked, this, [this] { setKind(ThingKind::corner); });
  picked_ = new QLabel;
  picked_->setWordWrap(true);
  column_->addWidget(picked_);
  grow_ = button(tr("Neighbours too"), tr("Picks the faces around those that are picked as well"));
  island_ = button(tr("Whole island"), tr("Picks all ground that hangs together with it"));
  border_ = button(tr("Border around"), tr("Picks the whole border that this edge is a part of"));
  row({grow_, island_, border_});
  like_ = button(tr("All like the finding"), tr("Picks the faces where all findings are that are of the kind of the chosen one"));
  row({like_});
  connect(like_, &QPushButton::clicked, this, [this] { pickLikeFinding(); });
  through_ = new QCheckBox(tr("Through the level"));
  through_->setToolTip(tr("A rectangle (Shift and a drag) picks what the level hides too"));
  column_->addWidget(through_);
  connect(through_, &QCheckBox::toggled, this, [this](bool on) { pick_->setThrough(on); });
  connect(grow_, &QPushButton::clicked, this, [this] { grow(); });
  connect(island_, &QPushButton::clicked, this, [this] { pickIsland(); });
  connect(border_, &QPushButton::clicked, this, [this] { pickBorder(); });
}

QPushButton* HandPage::change(const QString& text, const QString& tip, const QString& label, const HandChange& what) {
  QPushButton* made = button(text, tip);
  connect(made, &QPushButton::clicked, this, [this, label, what] { say(changeByHand(workspace_, label, what)); });
  return made;
}

void HandPage::addChanges() {
  using hand::Editor;
  section(tr("Change"));
  delete_ = change(tr("Delete"), tr("Takes the picked faces away (Del)"), tr("Delete faces"),
                   [](const Editor& e, const Picks& p) { return e.remove(p.faces); });
  join_ = change(tr("Join"), tr("Makes as few faces of the picked ones as can be"), tr("Join faces"),
                 [](const Editor& e, const Picks& p) { return e.join(p.faces); });
  drape_ = change(tr("Drape"), tr("Lays the picked faces on the level again, with the corners that it takes"), tr("Drape faces"),
                  [](const Editor& e, const Picks& p) { return e.drape(p.faces); });
  cut_ = button(tr("Split…"), tr("Drag a line that splits the picked faces"), true);
  connect(cut_, &QPushButton::toggled, this, [this](bool on) {
    if (on) draw_->setChecked(false);
    toolChanged();
  });
  faceRow_ = row({delete_, join_, cut_, drape_});
  kind_ = new QComboBox;
  kind_->setAccessibleName(tr("Kind of ground to paint with"));
  kind_->setToolTip(tr("What the picked faces become"));
  paint_ = button(tr("Paint"), tr("Makes the picked faces of this kind of ground"));
  connect(paint_, &QPushButton::clicked, this, [this] {
    const std::string kind = kind_->currentIndex() <= 0 ? std::string() : kind_->currentText().toStdString();
    say(changeByHand(workspace_, tr("Paint faces"), [kind](const Editor& e, const Picks& p) { return e.paint(p.faces, kind); }));
  });
  paintRow_ = row({kind_, paint_});
  tag_ = new QLineEdit;
  tag_->setObjectName(QStringLiteral("faceTag"));
  tag_->setAccessibleName(tr("Tag of the picked faces"));
  tag_->setPlaceholderText(tr("a tag"));
  tag_->setToolTip(tr("A word of your own, \u201cno spawning\u201d for example; it goes out with the mesh"));
  tagFaces_ = button(tr("Tag"), tr("The picked faces have this tag; what has it is under Areas"));
  tagRow_ = row({tag_, tagFaces_});
  connect(tag_, &QLineEdit::textChanged, this, [this] { refreshTag(); });
  connect(tag_, &QLineEdit::returnPressed, tagFaces_, &QPushButton::click);
  connect(tagFaces_, &QPushButton::clicked, this, [this] { say(tagPicks(workspace_, tag_->text().simplified().toStdString())); });
  halve_ = change(
      tr("Split"), tr("A new corner in the middle of the edge"), tr("Split edge"),
      [](const Editor& e, const Picks& p) -> Result<hand::Work> { return e.splitEdge(p.edges.empty() ? hand::Edge{} : p.edges[0], 0.5); });
  strip_ = button(tr("Strip"), tr("One face from the one picked edge to the other; up a wall a link to climb"));
  connect(strip_, &QPushButton::clicked, this, [this] { say(stripBetweenPicks(workspace_)); });
  part_ = change(tr("Part"), tr("Nobody crosses the picked edges any more"), tr("Part faces"),
                 [](const Editor& e, const Picks& p) { return e.part(p.edges); });
  unpart_ = change(tr("Unpart"), tr("The picked edges can be crossed again"), tr("Unpart faces"),
                   [](const Editor& e, const Picks& p) { return e.unpart(p.edges); });
  edgeRow_ = row({halve_, strip_});
  oneWay_ = change(tr("One way"), tr("The picked edges can be crossed in one direction only, which arrows show; again: in the other"),
                   tr("Cross one way"), [](const Editor& e, const Picks& p) { return e.partOneWay(p.edges); });
  partRow_ = row({part_, oneWay_, unpart_});
  fill_ = change(tr("Fill"), tr("One face between the picked corners"), tr("Fill between corners"), [](const Editor& e, const Picks& p) {
    std::vector<Vec3> places;
    for (const std::uint32_t v : p.corners) places.push_back(e.mesh().vertices[v]);
    return e.draw(hand::aroundMiddle(std::move(places)));
  });
  cornerRow_ = row({fill_});
  draw_ = button(tr("Draw a patch"), tr("Click the outline of new ground; what lies under it gives way"), true);
  row({draw_});
  connect(draw_, &QPushButton::toggled, this, [this](bool on) {
    if (on) cut_->setChecked(false);
    toolChanged();
  });
  changing_ = new QLabel;
  changing_->setObjectName(QStringLiteral("changing"));
  changing_->setWordWrap(true);
  changing_->setVisible(false);
  column_->addWidget(changing_);
  trouble_ = new QLabel;
  trouble_->setWordWrap(true);
  column_->addWidget(trouble_);
}

void HandPage::addMoving() {
  section(tr("Move"));
  east_ = number(tr("Along x"), tr("m"), -1000, 1000, 0.1, 2);
  south_ = number(tr("Along z"), tr("m"), -1000, 1000, 0.1, 2);
  up_ = number(tr("Up"), tr("m"), -1000, 1000, 0.1, 2);
  east_->setToolTip(tr("How far to the east what is picked is moved"));
  south_->setToolTip(tr("How far to the south what is picked is moved"));
  up_->setToolTip(tr("How far up what is picked is moved; with a height, corners do not follow the level"));
  follow_ = new QCheckBox(tr("Corners follow the level"));
  follow_->setToolTip(tr("Corners that are moved along come to lie on the level where they are then"));
  follow_->setChecked(true);
  column_->addWidget(follow_);
  connect(follow_, &QCheckBox::toggled, this, [this](bool on) { pick_->setFollows(on); });
  grid_ = number(tr("Grid"), tr("m"), 0, 100, 0.25, 2);
  grid_->setToolTip(tr("What is dragged comes to lie on lines so far apart; 0: anywhere. Corners and edges that are near come first"));
  connect(grid_, &NumberField::edited, this, [this](double step) { pick_->setGrid(step), grid_->setValue(step); });
  move_ = button(tr("Move"), tr("Moves what is picked by these numbers"));
  row({move_});
  connect(move_, &QPushButton::clicked, this, [this] {
    const Vec3 by{east_->value(), up_->value(), south_->value()};
    say(movePicks(workspace_, by, follow_->isChecked() && by.y == 0));
  });
}

void HandPage::addWork() {
  section(tr("Made by hand"));
  list_ = list(tr("Patches made by hand"), ThingKind::patch);
  list_->fitRows(110);
  connect(list_, &ItemList::chosen, this, [this] {
    if (const hand::Patch* p = chosenPatch(workspace_); p && !p->faces.empty()) emit showPlace(p->faces[0].corners[0]);
  });
  giveUp_ = button(tr("Give up"), tr("Takes the chosen patch away; what was built is there again"));
  drapePatch_ = button(tr("Drape again"), tr("Lays the chosen patch as far over the level as it was drawn"));
  keepPatch_ = button(tr("Keep as is"), tr("The chosen patch stays where it is, whatever has moved under it"));
  row({giveUp_, drapePatch_, keepPatch_});
  connect(giveUp_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::patch); });
  const auto onLevel = [this](const QString& label, hand::Patch (*what)(hand::Patch, const hand::LevelAt&)) {
    const hand::Patch* patch = chosenPatch(workspace_);
    const auto ground = workspace_.ground();
    if (patch && ground) replace(workspace_, what(*patch, pipeline::levelOf(ground->built)), label);
  };
  connect(drapePatch_, &QPushButton::clicked, this, [onLevel] { onLevel(tr("Drape patch again"), pipeline::draped); });
  connect(keepPatch_, &QPushButton::clicked, this, [onLevel] { onLevel(tr("Keep patch"), pipeline::keptAsIs); });
  parted_ = quiet({});
}

void HandPage::setKind(ThingKind kind) {
  draw_->setChecked(false), cut_->setChecked(false);
  pick_->setKind(kind);
  say(std::nullopt);
  refresh(kEverything);
}

void HandPage::say(const std::optional<Problem>& problem) {
  trouble_->setText(problem ? QString::fromStdString(problem->what + (problem->advice.empty() ? "" : " Try " + problem->advice))
                            : QString());
  trouble_->setStyleSheet(QStringLiteral("color: %1").arg(theme().bad.name()));
  trouble_->setVisible(problem.has_value());
}

void HandPage::grow() {
  const auto ground = workspace_.ground();
  if (ground) pick(workspace_, ground->mesh, hand::grown(ground->mesh, pick_->picks().faces));
}

void HandPage::pickIsland() {
  const auto ground = workspace_.ground();
  const Picks& picks = pick_->picks();
  if (ground && !picks.faces.empty()) pick(workspace_, ground->mesh, hand::islandOf(ground->mesh, picks.faces[0]));
}

void HandPage::pickBorder() {
  const auto ground = workspace_.ground();
  const Picks& picks = pick_->picks();
  if (ground && !picks.edges.empty()) pick(workspace_, ground->mesh, hand::borderLoop(ground->mesh, picks.edges[0]));
}

/// Of a finding about an edge or a corner it is the face beside it.
void HandPage::pickLikeFinding() {
  constexpr double kBeside = 0.3;  // m
  const auto ground = workspace_.ground();
  const review::Finding* chosen = workspace_.findings().withId(workspace_.selection().one(ThingKind::finding));
  if (!ground || !chosen) return;
  std::vector<nav::FaceId> faces;
  for (const KeptFinding& kept : workspace_.findings().all()) {
    if (kept.finding.code != chosen->code) continue;
    const nav::Place place = ground->locator().nearest(kept.finding.at, kBeside);
    if (place.valid()) faces.push_back(place.face);
  }
  setKind(ThingKind::face);
  pick(workspace_, ground->mesh, faces);
}

namespace {
QString counted(std::size_t n, const QString& one, const QString& many) {
  return n == 1 ? QObject::tr("1 %1").arg(one) : QObject::tr("%1 %2").arg(n).arg(many);
}
}  // namespace

QString HandPage::picked(const Picks& picks) const {
  const auto ground = workspace_.ground();
  if (!ground) return tr("There is no ground yet: build it first.");
  const nav::NavMesh& mesh = ground->mesh;
  if (!picks.faces.empty()) {
    double area = 0;
    for (const nav::FaceId f : picks.faces) area += nav::faceArea(mesh, f);
    return tr("%1 picked, %2 m²").arg(counted(picks.faces.size(), tr("face"), tr("faces"))).arg(area, 0, 'f', 2);
  }
  if (!picks.edges.empty()) {
    double length = 0;
    for (const hand::Edge& e : picks.edges) length += lengthOf(endsOf(mesh, e));
    return tr("%1 picked, %2 m").arg(counted(picks.edges.size(), tr("edge"), tr("edges"))).arg(length, 0, 'f', 2);
  }
  if (picks.corners.size() == 1) {
    const Vec3& at = mesh.vertices[picks.corners[0]];
    return tr("1 corner picked, at x %1, z %2, height %3").arg(at.x, 0, 'f', 2).arg(at.z, 0, 'f', 2).arg(at.y, 0, 'f', 2);
  }
  if (!picks.corners.empty()) return tr("%1 corners picked").arg(picks.corners.size());
  return tr("Nothing is picked: click in the world. Ctrl and a click adds more.");
}

void HandPage::refreshWork() {
  std::vector<ItemRow> rows;
  const auto ground = workspace_.ground();
  for (const hand::Patch& p : workspace_.project().hand->patches) {
    if (!p.isFor(workspace_.agentKind().id)) continue;
    double area = 0;
    for (const hand::Face& f : p.faces) area += planArea(f.corners);
    const bool notLaid = ground && std::ranges::count(ground->notLaid, p.id, &hand::NotLaid::patch) > 0;
    QString text = p.faces.empty()
                       ? tr("Patch %1: %2 taken away").arg(p.id).arg(counted(p.instead.size(), tr("face"), tr("faces")))
                       : tr("Patch %1: %2, %3 m²").arg(p.id).arg(counted(p.faces.size(), tr("face"), tr("faces"))).arg(area, 0, 'f', 1);
    if (notLaid) text += tr("  not laid");
    rows.push_back({std::to_string(p.id), text, notLaid ? theme().bad : QColor()});
  }
  const auto parts =
      std::ranges::count_if(workspace_.project().hand->parts, [&](const hand::Part& p) { return p.isFor(workspace_.agentKind().id); });
  list_->setVisible(!rows.empty());
  list_->setRows(std::move(rows));
  for (QPushButton* b : {giveUp_, drapePatch_, keepPatch_})
    b->setVisible(list_->count() > 0), b->setEnabled(chosenPatch(workspace_) != nullptr);
  const auto oneWay = std::ranges::count_if(workspace_.project().hand->parts,
                                            [&](const hand::Part& p) { return p.oneWay && p.isFor(workspace_.agentKind().id); });
  const QString all = tr("%1 parted").arg(counted(static_cast<std::size_t>(parts), tr("edge"), tr("edges")));
  parted_->setText(oneWay > 0 ? tr("%1, %2 of them crossed one way").arg(all).arg(oneWay) : all);
  parted_->setVisible(parts > 0);
}

bool HandPage::mayChange() const { return workspace_.ground() && workspace_.groundFresh() && !workspace_.changing(); }

void HandPage::refreshTag() { tagFaces_->setEnabled(mayChange() && !pick_->picks().faces.empty() && !tag_->text().simplified().isEmpty()); }

void HandPage::refreshChanges() {
  const Picks& picks = pick_->picks();
  const bool may = mayChange();
  for (QPushButton* b : {delete_, drape_, cut_, paint_, grow_, island_}) b->setEnabled(may && !picks.faces.empty());
  refreshTag();
  like_->setEnabled(may && workspace_.findings().withId(workspace_.selection().one(ThingKind::finding)) != nullptr);
  join_->setEnabled(may && picks.faces.size() > 1);
  for (QPushButton* b : {part_, oneWay_, unpart_, border_}) b->setEnabled(may && !picks.edges.empty());
  halve_->setEnabled(may && picks.edges.size() == 1), strip_->setEnabled(may && picks.edges.size() == 2);
  fill_->setEnabled(may && picks.corners.size() >= 3);
  move_->setEnabled(may && picks.any()), draw_->setEnabled(may);
  const Background& work = workspace_.work();
  changing_->setVisible(workspace_.changing());
  if (workspace_.changing())
    changing_->setText(tr("Under way: %1, %2 %. Ctrl+. cancels it.").arg(work.step()).arg(std::lround(work.fraction() * 100)));
}

void HandPage::refresh(Topics changed) {
  refreshChanges();
  if (!(changed & ~Topics(Topic::work))) return;  // how far it is: what is chosen, or open, stays as it is
  const Picks& picks = pick_->picks();
  const ThingKind kind = pick_->kind();
  faces_->setChecked(kind == ThingKind::face), edges_->setChecked(kind == ThingKind::edge), corners_->setChecked(kind == ThingKind::corner);
  picked_->setText(picked(picks));
  faceRow_->setVisible(kind == ThingKind::face), paintRow_->setVisible(kind == ThingKind::face),
      tagRow_->setVisible(kind == ThingKind::face);
  edgeRow_->setVisible(kind == ThingKind::edge), partRow_->setVisible(kind == ThingKind::edge);
  cornerRow_->setVisible(kind == ThingKind::corner);
  grow_->setVisible(kind == ThingKind::face), island_->setVisible(kind == ThingKind::face), border_->setVisible(kind == ThingKind::edge);
  border_->parentWidget()->setVisible(kind != ThingKind::corner);
  const auto& kinds = workspace_.project().areas->kinds;
  const QSignalBlocker blocker(kind_);
  const int was = std::max(0, kind_->currentIndex());
  kind_->clear();
  for (const level::AreaKind& k : kinds) kind_->addItem(QString::fromStdString(k.name));
  kind_->setCurrentIndex(std::min(was, static_cast<int>(kinds.size()) - 1));
  refreshWork();
  if (trouble_->text().isEmpty()) trouble_->setVisible(false);
}

}  // namespace dune::window
