#include "window/shell/trail.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "window/scene/theme.h"

namespace dune::window {

namespace {
constexpr int kWordsTop = 28;  // pixels: below the names lies what each step says of itself
}

Trail::Trail(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::TabFocus);
  setFixedHeight(54);
  setAccessibleName(tr("Steps"));
}

void Trail::setStops(std::vector<TrailEntry> stops) {
  stops_ = std::move(stops);
  speak();
  update();
}

void Trail::setCurrent(int stop) {
  current_ = stop;
  speak();
  update();
}

/// It is drawn, so what is read aloud is put together here.
void Trail::speak() {
  QStringList all;
  for (const auto& [name, state] : stops_) all << tr("%1: %2").arg(name, state.work >= 0 ? tr("at work") : state.words);
  const auto here = static_cast<std::size_t>(current_);
  if (here >= stops_.size()) return;
  const QString name = tr("Steps, %1 of %2: %3").arg(current_ + 1).arg(stops_.size()).arg(all[current_]);
  if (name == accessibleName()) return;
  setAccessibleName(name);
  setAccessibleDescription(all.join(QStringLiteral("; ")));
}

QRectF Trail::box(int stop) const {
  const double w = static_cast<double>(width()) / std::max(1, static_cast<int>(stops_.size()));
  return {stop * w, 0, w, static_cast<double>(height())};
}

QPoint Trail::placeOf(int stop) const { return box(stop).center().toPoint(); }

void Trail::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.fillRect(rect(), theme().panel);
  painter.fillRect(0, height() - 1, width(), 1, theme().line);
  const double lineY = 15, dot = 5;
  QFont name = font(), state = font();
  name.setWeight(QFont::DemiBold);
  state.setPointSizeF(font().pointSizeF() * 0.86);
  for (int i = 0; i < static_cast<int>(stops_.size()); ++i) {
    const auto& [title, s] = stops_[static_cast<std::size_t>(i)];
    const QRectF b = box(i);
    const QPointF at(b.left() + 16, lineY);
    // The way in from the stop before: solid when fresh, dotted when something before it changed, filling while work runs.
    if (i > 0) {
      const QRectF before = box(i - 1);
      const double nameWidth = QFontMetricsF(name).horizontalAdvance(stops_[static_cast<std::size_t>(i - 1)].name);
      const QPointF from(before.left() + 32 + nameWidth, lineY), to(at.x() - dot - 3, lineY);
      painter.setPen(QPen(s.fresh ? theme().quiet : theme().warning, 2, s.fresh ? Qt::SolidLine : Qt::DotLine));
      if (to.x() > from.x()) painter.drawLine(from, to);
      if (s.work >= 0) {
        painter.setPen(QPen(theme().accent, 4));
        painter.drawLine(from, from + (to - from) * s.work);
      }
    }
    const bool here = i == current_;
    painter.setPen(QPen(here ? theme().accent : theme().quiet, 2));
    painter.setBrush(here ? theme().accent : theme().panel);
    painter.drawEllipse(at, dot, dot);
    painter.setFont(name);
    painter.setPen(here ? theme().accent : theme().text);
    painter.drawText(QRectF(at.x() + 10, 2, b.width() - 24, 26), Qt::AlignLeft | Qt::AlignVCenter, title);
    painter.setFont(state);
    painter.setPen(s.trouble ? theme().bad : s.fresh ? theme().quiet : theme().warning);
    const QString text = s.work >= 0 ? tr("%1 % – click to cancel").arg(static_cast<int>(s.work * 100)) : s.words;
    painter.drawText(QRectF(b.left() + 12, kWordsTop, b.width() - 16, 20), Qt::AlignLeft | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(text, Qt::ElideRight, static_cast<int>(b.width()) - 18));
    if (here) painter.fillRect(QRectF(b.left() + 8, height() - 3, b.width() - 16, 3), theme().accent);
  }
  if (hasFocus()) {
    painter.setPen(QPen(theme().accent, 1, Qt::DotLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(box(current_).adjusted(3, 2, -3, -5));
  }
}

void Trail::mousePressEvent(QMouseEvent* event) {
  for (int i = 0; i < static_cast<int>(stops_.size()); ++i) {
    if (!box(i).contains(event->position())) continue;
    const bool onWords = i == current_ || event->position().y() >= kWordsTop;  // where one is already there is nowhere to go
    if (onWords && stops_[static_cast<std::size_t>(i)].state.work >= 0)
      emit cancelAsked();
    else
      emit chosen(i);
    return;
  }
}

void Trail::keyPressEvent(QKeyEvent* event) {
  const int last = static_cast<int>(stops_.size()) - 1;
  if (event->key() == Qt::Key_Left)
    emit chosen(std::max(0, current_ - 1));
  else if (event->key() == Qt::Key_Right)
    emit chosen(std::min(last, current_ + 1));
  else
    QWidget::keyPressEvent(event);
}

}  // namespace dune::window
