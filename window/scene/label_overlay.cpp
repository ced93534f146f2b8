#include "window/scene/label_overlay.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>

#include "window/scene/labels.h"
#include "window/scene/theme.h"
#include "window/scene/world_view.h"

namespace dune::window {

namespace {

constexpr int kBackAlpha = 225, kHaloAlpha = 215;

QColor paper(int alpha) {
  QColor back = theme().panel;
  back.setAlpha(alpha);
  return back;
}

QRectF inside(const QRectF& world) { return world.adjusted(2, 2, -2, -2); }

void drawBox(QPainter& painter, const WorldLabel& label, const QPointF& at, const QRectF& world, std::vector<QRectF>& taken) {
  const QRectF box = QRectF(painter.fontMetrics().boundingRect(label.text)).adjusted(-5, -2, 5, 2);
  const QRectF over = box.translated(at.x() - box.width() / 2 - box.left(), at.y() - box.bottom() - 8);
  const QRectF placed = aboveOthers(wholeIn(inside(world), over), taken);
  taken.push_back(placed);
  painter.setPen(QPen(label.colour, 1));
  painter.setBrush(paper(kBackAlpha));
  painter.drawRoundedRect(placed, 4, 4);
  painter.setPen(theme().text);
  painter.drawText(placed, Qt::AlignCenter, label.text);
}

}  // namespace

/// Outlines of letters take long to draw, and the same names are drawn in picture after picture.
const LabelOverlay::DrawnName& LabelOverlay::drawn(const WorldLabel& label, const QFont& font) {
  constexpr std::size_t kMost = 1000;
  const QColor halo = paper(kHaloAlpha);
  const auto key = std::tuple(label.text, label.colour.rgba(), halo.rgba(), font.key(), devicePixelRatioF());
  if (const auto found = names_.find(key); found != names_.end()) return found->second;
  if (names_.size() >= kMost) names_.clear();
  QPainterPath text;
  text.addText(0, 0, font, label.text);
  DrawnName name;
  name.box = text.boundingRect().adjusted(-3, -2, 3, 2).toAlignedRect();
  name.picture = QPixmap((QSizeF(name.box.size()) * devicePixelRatioF()).toSize());
  name.picture.setDevicePixelRatio(devicePixelRatioF());
  name.picture.fill(Qt::transparent);
  QPainter painter(&name.picture);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.translate(-name.box.topLeft());
  painter.strokePath(text, QPen(halo, 4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  painter.fillPath(text, label.colour);
  return names_.emplace(key, std::move(name)).first->second;
}

/// Where something else stands it is left out.
void LabelOverlay::drawName(QPainter& painter, const WorldLabel& label, const QPointF& at, const QRectF& world,
                            std::vector<QRectF>& taken) {
  const DrawnName& name = drawn(label, painter.font());
  const QRectF placed = wholeIn(inside(world), QRectF(name.box).translated(at - QRectF(name.box).center()));
  if (std::ranges::any_of(taken, [&](const QRectF& other) { return other.intersects(placed); })) return;
  taken.push_back(placed);
  painter.drawPixmap(placed.topLeft().toPoint(), name.picture);  // on whole pixels it stays sharp
}

LabelOverlay::LabelOverlay(WorldView* view) : QWidget(view), view_(*view) {
  setAttribute(Qt::WA_TransparentForMouseEvents);
  setAttribute(Qt::WA_NoSystemBackground);
}

void LabelOverlay::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  sayInTheMiddle(painter);
  if (!view_.trouble_.isEmpty()) return;
  QFont font = this->font();
  font.setWeight(QFont::DemiBold);
  painter.setFont(font);
  for (const Side side : {Side::left, Side::right}) {
    if (side == Side::right && !view_.split()) break;
    const int left = side == Side::right ? view_.worldSize().width() : 0;
    painter.save();
    painter.setClipRect(QRect(QPoint(left, 0), view_.worldSize()));
    painter.translate(left, 0);
    drawLabels(painter, side);
    painter.restore();
  }
  if (view_.split()) nameSides(painter);
}

void LabelOverlay::sayInTheMiddle(QPainter& painter) const {
  const QString& said = view_.trouble_.isEmpty() ? view_.invitation_ : view_.trouble_;
  if (said.isEmpty()) return;
  QFont font = this->font();
  font.setPointSizeF(font.pointSizeF() * 1.25);
  painter.setFont(font);
  painter.setPen(theme().text);
  painter.drawText(rect().adjusted(40, 40, -40, -40), Qt::AlignCenter | Qt::TextWordWrap, said);
}

void LabelOverlay::nameSides(QPainter& painter) const {
  const int half = view_.worldSize().width();
  painter.setPen(QPen(theme().line, 2));
  painter.drawLine(half, 0, half, height());
  for (const int i : {0, 1}) {
    const QRect line(i * half + 12, 10, half - 24, painter.fontMetrics().height() + 4);
    const int wide = std::min(line.width(), painter.fontMetrics().horizontalAdvance(view_.sides_[i]));
    painter.setPen(Qt::NoPen);
    painter.setBrush(paper(kBackAlpha));
    painter.drawRoundedRect(QRect(line.topLeft(), QSize(wide, line.height())).adjusted(-6, 0, 6, 0), 4, 4);
    painter.setPen(theme().text);
    painter.drawText(line, Qt::AlignLeft | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(view_.sides_[i], Qt::ElideRight, line.width()));
  }
}

/// Names of places come last and give way.
void LabelOverlay::drawLabels(QPainter& painter, Side side) {
  const QRectF world(QPointF(0, 0), QSizeF(view_.worldSize()));
  std::vector<QRectF> taken;
  for (const bool names : {false, true})
    for (const auto& layer : view_.layers_)
      for (const WorldLabel& label : layer->labels) {
        QPointF at;
        if (label.name != names || (names && !view_.namesShown_) || !view_.isDrawnOn(*layer, side)) continue;
        if (label.at.y > view_.cutAway_ + 0.5 || !view_.camera_.project(label.at, at) || !world.contains(at)) continue;
        names ? drawName(painter, label, at, world, taken) : drawBox(painter, label, at, world, taken);
      }
}

}  // namespace dune::window
