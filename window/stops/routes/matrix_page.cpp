#include "window/stops/routes/matrix_page.h"

#include <QAccessible>
#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include "core/pipeline/opening_cause.h"
#include "window/scene/theme.h"

namespace dune::window {

namespace {

constexpr int kLeastCell = 9, kMostCell = 22, kGap = 1;  // pixels
constexpr double kMuchLonger = 2;                        // times straight, at which a cell has its full colour
constexpr std::size_t kMostPlaces = 40;
constexpr double kNearGround = 4;  // m from ground that a place with a name may be: names stand over what they name

QColor mixed(const QColor& a, const QColor& b, double t) {
  return QColor::fromRgbF(static_cast<float>(a.redF() + (b.redF() - a.redF()) * t),
                          static_cast<float>(a.greenF() + (b.greenF() - a.greenF()) * t),
                          static_cast<float>(a.blueF() + (b.blueF() - a.blueF()) * t));
}

}  // namespace

MatrixView::MatrixView() {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Matrix of places"));
  setToolTip(tr("Rows are starts, columns are goals; the arrow keys go from cell to cell"));
  QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Fixed);
  policy.setHeightForWidth(true);
  setSizePolicy(policy);
}

void MatrixView::show(std::vector<QString> names, std::vector<Cell> cells) {
  if (names != names_) from_ = to_ = -1;
  names_ = std::move(names), cells_ = std::move(cells);
  updateGeometry();
  update();
}

int MatrixView::labelWidth() const {
  int most = 0;
  for (const QString& name : names_) most = std::max(most, fontMetrics().horizontalAdvance(name));
  return std::min(most, 110) + 6;
}

int MatrixView::cellSize() const {
  return places() == 0 ? kLeastCell : std::clamp((width() - labelWidth()) / places(), kLeastCell, kMostCell);
}

int MatrixView::heightForWidth(int width) const {
  const int cell = places() == 0 ? 0 : std::clamp((width - labelWidth()) / places(), kLeastCell, kMostCell);
  return places() * std::max(cell, fontMetrics().height()) + 4;
}

QSize MatrixView::sizeHint() const { return {260, heightForWidth(std::max(width(), 260))}; }

QRect MatrixView::cellAt(int from, int to) const {
  const int wide = cellSize(), high = std::max(wide, fontMetrics().height());
  return {labelWidth() + to * wide, from * high, wide - kGap, high - kGap};
}

void MatrixView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  for (int from = 0; from < places(); ++from) {
    const QRect first = cellAt(from, 0);
    painter.setPen(from == from_ ? theme().accent : theme().text);
    painter.drawText(QRect(0, first.top(), labelWidth() - 6, first.height()), Qt::AlignRight | Qt::AlignVCenter,
                     fontMetrics().elidedText(names_[static_cast<std::size_t>(from)], Qt::ElideRight, labelWidth() - 6));
    for (int to = 0; to < places(); ++to) {
      const Cell& cell = cells_[static_cast<std::size_t>(from * places() + to)];
      const QRect box = cellAt(from, to);
      const bool there = cell.status == route::PathStatus::complete;
      if (from == to) {
        painter.fillRect(box, theme().line);
      } else if (there) {
        const double longer = cell.straight > 0 ? std::clamp((cell.length / cell.straight - 1) / (kMuchLonger - 1), 0.0, 1.0) : 0;
        painter.fillRect(box, mixed(mixed(theme().panel, theme().good, 0.35), theme().good, longer));
      } else {
        painter.fillRect(box, mixed(theme().panel, theme().bad, 0.25));
        painter.setPen(QPen(theme().bad, 1.5));
        painter.drawLine(box.topLeft() + QPoint(2, 2), box.bottomRight() - QPoint(2, 2));
        painter.drawLine(box.topRight() + QPoint(-2, 2), box.bottomLeft() + QPoint(2, -2));
      }
      if (from == from_ && to == to_) {
        painter.setPen(QPen(theme().accent, 2));
        painter.drawRect(box);
      }
    }
  }
}

std::pair<int, int> MatrixView::under(const QPoint& p) const {
  for (int from = 0; from < places(); ++from)
    for (int to = 0; to < places(); ++to)
      if (cellAt(from, to).contains(p)) return {from, to};
  return {-1, -1};
}

QString MatrixView::words(int from, int to) const {
  const Cell& cell = cells_[static_cast<std::size_t>(from * places() + to)];
  const QString pair = tr("%1 to %2").arg(names_[static_cast<std::size_t>(from)], names_[static_cast<std::size_t>(to)]);
  if (cell.status != route::PathStatus::complete) return tr("%1: no way through").arg(pair);
  return tr("%1: %2 m, %3 times straight")
      .arg(pair)
      .arg(cell.length, 0, 'f', 1)
      .arg(cell.length / std::max(0.01, cell.straight), 0, 'f', 2);
}

void MatrixView::choose(int from, int to) {
  if (from < 0 || to < 0 || from >= places() || to >= places()) return;
  from_ = from, to_ = to;
  setAccessibleDescription(words(from, to));
  update();
  emit chosen(from, to);
}

void MatrixView::mousePressEvent(QMouseEvent* event) {
  const auto [from, to] = under(event->pos());
  choose(from, to);
}

void MatrixView::keyPressEvent(QKeyEvent* event) {
  const int from = std::max(0, from_), to = std::max(0, to_);
  switch (event->key()) {
    case Qt::Key_Up:
      return choose(from - 1, to);
    case Qt::Key_Down:
      return choose(from + 1, to);
    case Qt::Key_Left:
      return choose(from, to - 1);
    case Qt::Key_Right:
      return choose(from, to + 1);
    default:
      QWidget::keyPressEvent(event);
  }
}

bool MatrixView::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  const auto [from, to] = under(help->pos());
  QToolTip::showText(help->globalPos(), from >= 0 && from != to ? words(from, to) : toolTip(), this);
  return true;
}

MatrixPage::MatrixPage(Workspace& workspace) : Sheet({}, workspace) {
  headline_ = new QLabel;
  headline_->setWordWrap(true);
  column_->addWidget(headline_);
  view_ = new MatrixView;
  column_->addWidget(view_);
  quiet(tr("Rows are starts, columns are goals, in the same order. The darker, the longer than straight; crossed out, no way through."));
  chosen_ = new QLabel;
  chosen_->setWordWrap(true);
  column_->addWidget(chosen_);
  connect(view_, &MatrixView::chosen, this, &MatrixPage::choose);
}

namespace {

std::vector<MatrixView::Cell> cellsOf(const route::Field& field, const std::vector<Vec3>& places, Job& job) {
  std::vector<MatrixView::Cell> cells;
  route::Search search(field, route::Answers::prepared);
  for (std::size_t i = 0; i < places.size() && !job.cancelled(); ++i)
    for (std::size_t k = 0; k < places.size(); ++k) {
      const auto a = i == k ? route::PathAnswer{}
                            : route::findPath(field, search, places[i], places[k], {.reach = kNearGround, .bound = false, .widths = false});
      cells.push_back({a.status, a.length, a.straight});
    }
  return cells;
}

}  // namespace

void MatrixPage::ask() {
  const auto ground = askedOf_ = workspace_.ground();
  places_ = workspace_.project().places;
  answer_ = {};
  chosen_->clear(), opening_.drop(), all_.drop();
  std::vector<Vec3> places;
  for (std::size_t i = 0; ground && i < std::min(places_->places.size(), kMostPlaces); ++i) places.push_back(places_->places[i].at);
  view_->setVisible(!places.empty());
  headline_->setText(places.empty() ? tr("Give places names at the Level stop: here stands who gets from each to each.")
                                    : tr("Asking for %1 ways…").arg(places.size() * (places.size() - 1)));
  view_->show({}, {});
  if (places.empty()) return;
  all_.ask([this, ground, places](Job& job) -> LatestQuestion::Answer {
    return [this, cells = cellsOf(*ground->field, places, job)] { show(cells); };
  });
}

void MatrixPage::show(const std::vector<MatrixView::Cell>& cells) {
  const auto n = static_cast<std::size_t>(std::lround(std::sqrt(static_cast<double>(cells.size()))));
  const auto complete = std::ranges::count(cells, route::PathStatus::complete, &MatrixView::Cell::status);
  std::vector<QString> names;
  for (std::size_t i = 0; i < n; ++i) names.push_back(QString::fromStdString(places_->places[i].name));
  headline_->setText(tr("<b>%1 of %2</b> ways between %3 places are complete for %4.")
                         .arg(complete)
                         .arg(n * (n - 1))
                         .arg(n)
                         .arg(QString::fromStdString(askedOf_->mesh.agent.name)));
  view_->show(std::move(names), cells);
}

void MatrixPage::choose(int from, int to) {
  if (!askedOf_ || from == to) return;
  const auto &a = places_->places[static_cast<std::size_t>(from)], &b = places_->places[static_cast<std::size_t>(to)];
  route::Search search(*askedOf_->field, route::Answers::prepared);
  answer_ = route::findPath(*askedOf_->field, search, a.at, b.at, {.reach = kNearGround});
  pair_ = {from, to};
  showChosen();
  opening_.drop();
  if (answer_.status != route::PathStatus::partial) return;
  opening_.ask([this, ground = askedOf_, answer = answer_](Job& job) mutable -> LatestQuestion::Answer {
    pipeline::Explainer explainer;
    pipeline::explainClosed(explainer, *ground, answer, job, kNearGround);
    return [this, answer] {
      answer_ = answer;
      showChosen();
    };
  });
}

void MatrixPage::showChosen() {
  const auto name = [&](int i) { return QString::fromStdString(places_->places[static_cast<std::size_t>(i)].name).toHtmlEscaped(); };
  QString text = tr("<b>%1 to %2</b><br>").arg(name(pair_.first), name(pair_.second));
  text += answer_.status == route::PathStatus::complete ? tr("%1 m, cost %2").arg(answer_.length, 0, 'f', 2).arg(answer_.cost, 0, 'f', 2)
                                                        : QString::fromStdString(answer_.note).toHtmlEscaped();
  chosen_->setText(text);
  workspace_.bulletin().add(Topic::answers);
}

void MatrixPage::refresh(Topics) {
  if (askedOf_ != workspace_.ground() || places_ != workspace_.project().places) ask();
}

}  // namespace dune::window
