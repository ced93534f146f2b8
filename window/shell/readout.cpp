#include "window/shell/readout.h"

#include "window/scene/layers.h"
#include "window/session/hand_made.h"

namespace dune::window {

namespace {

/// Whether an explanation is about an object, so that its name need not be told.
bool tellsOf(const ground::Explanation& e, const std::string& object) { return e.decides.object == object; }

}  // namespace

Readout::Readout(Workspace& workspace, WorldView& view) : workspace_(workspace), view_(view), cursor_(view, LayerOrder::cursor) {
  setObjectName(QStringLiteral("readout"));
  setMinimumHeight(30);
  setTextInteractionFlags(Qt::TextSelectableByMouse);
  setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
}

/// What is too long for it can be read as its tip.
void Readout::write(const QString& sentence) {
  setText(sentence);
  const bool whole = fontMetrics().horizontalAdvance(sentence) < contentsRect().width();
  setToolTip(whole ? QString() : sentence);
}

void Readout::say(const QString& sentence) {
  write(sentence);
  pointing_ = false;
}

void Readout::point(const Pointer& pointer, bool names, bool holding, const std::optional<QString>& own) {
  if (own) cursor_.clear();
  write(own ? *own : explained(pointer, names, holding));
  pointing_ = true;
}

QString Readout::explained(const Pointer& pointer, bool names, bool holding) {
  const auto ground = workspace_.ground();
  const auto& level = workspace_.source().level();
  // Where things are placed, the tools show what they would do.
  if (!pointer.hit || !level || !ground || holding || ground->source != level->level) {
    cursor_.clear();
    if (!level) return {};
    if (!pointer.hit) return tr("Nothing to stand on here: no part of the level is under the mouse.");
    return QString::fromStdString(nameOf(*pointer.hit)) + QStringLiteral("  ") + placeText(pointer.hit->at);
  }
  const ground::Explanation e = explainer_.at(*ground, pointer.hit->at);
  cursor_.set(cursorLayer(e, e.upright ? ground->built->agent : ground->mesh.agent));
  const QString stale = workspace_.groundFresh() ? QString() : tr("As last built: ");
  const std::string name = nameOf(*pointer.hit);
  const QString prefix = names && !tellsOf(e, name) ? QString::fromStdString(name) + QStringLiteral(":  ") : QString();
  return prefix + stale + QString::fromStdString(e.sentence) + kindText(*ground, e.at) + QStringLiteral("  ") + placeText(e.at);
}

/// " It is brine: 5 a metre, 2 to enter." Nothing on plain ground, and where there is none.
QString Readout::kindText(const pipeline::Ground& ground, const Vec3& at) const {
  constexpr double kNear = 0.3;  // metres
  const nav::Place place = ground.locator().nearest(at, kNear);
  if (!place.valid()) return {};
  QString tagged;
  for (const std::string& tag : nav::tagNamesOf(ground.mesh, place.face))
    tagged += (tagged.isEmpty() ? tr(" Tagged ") : tr(", ")) + QString::fromStdString(tag);
  if (!tagged.isEmpty()) tagged += QLatin1Char('.');
  const auto kind = ground.mesh.area[nav::index(place.face)];
  if (kind == 0 || kind >= ground.mesh.kinds.size()) return tagged;
  const nav::KindRule& rule = ground.rules.of(kind);
  const QString name = QString::fromStdString(ground.mesh.kinds[kind].name);
  if (rule.forbidden) return tr(" It is %1: forbidden.").arg(name) + tagged;
  QString text = tr(" It is %1: %2 a metre").arg(name).arg(rule.cost);
  if (rule.entryCost > 0) text += tr(", %1 to enter").arg(rule.entryCost);
  return text + QLatin1Char('.') + tagged;
}

/// Of what is pointed at: an object of the level, or a blocker.
std::string Readout::nameOf(const Picked& hit) const {
  const auto& own = workspace_.level()->level->objects;
  if (hit.object < own.size()) return own[hit.object].name;
  const level::Blocker* blocker = blockerAt(workspace_, hit);
  return blocker ? blocker->name() : std::string();
}

/// "At 1.00, 0.00, 2.00": in pixels too where the level is one tile map.
QString Readout::placeText(const Vec3& at) const {
  const QString metres = tr("At %1, %2, %3").arg(at.x, 0, 'f', 2).arg(at.y, 0, 'f', 2).arg(at.z, 0, 'f', 2);
  const auto& files = workspace_.level()->files;
  if (files.size() != 1 || !level::isTileMap(files[0].path)) return metres + QStringLiteral(".");
  const double spacing = files[0].import.spacing;
  return metres + tr(" (pixel %1, %2).").arg(std::floor(at.x / spacing), 0, 'f', 0).arg(std::floor(at.z / spacing), 0, 'f', 0);
}

}  // namespace dune::window
