#include "window/help/tour.h"

#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

#include "window/scene/theme.h"

namespace dune::window {

namespace {

constexpr int kWide = 320, kGap = 12;  // pixels

/// The frame around what is spoken of; the mouse goes through it.
class Around : public QWidget {
 public:
  explicit Around(QWidget* window) : QWidget(window) {
    setAttribute(Qt::WA_TransparentForMouseEvents);
    setAttribute(Qt::WA_NoSystemBackground);
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter painter(this);
    painter.setPen(QPen(theme().accent, 3));
    painter.drawRect(rect().adjusted(1, 1, -2, -2));
  }
};

}  // namespace

Tour::Tour(std::vector<TourStep> steps, QWidget* window) : QFrame(window), steps_(std::move(steps)), window_(window) {
  setObjectName(QStringLiteral("tour"));
  setAttribute(Qt::WA_StyledBackground);
  setAttribute(Qt::WA_DeleteOnClose);
  setFixedWidth(kWide);
  setFocusPolicy(Qt::StrongFocus);
  frame_ = new Around(window);
  auto* column = new QVBoxLayout(this);
  title_ = new QLabel;
  title_->setObjectName(QStringLiteral("section"));
  text_ = new QLabel;
  text_->setWordWrap(true);
  count_ = new QLabel;
  count_->setObjectName(QStringLiteral("quiet"));
  back_ = new QPushButton(tr("Back"));
  next_ = new QPushButton(tr("Next"));
  auto* close = new QPushButton(tr("End tour"));
  auto* row = new QHBoxLayout;
  row->addWidget(count_, 1);
  for (QPushButton* b : {close, back_, next_}) row->addWidget(b);
  column->addWidget(title_);
  column->addWidget(text_);
  column->addLayout(row);
  connect(close, &QPushButton::clicked, this, &QWidget::close);
  connect(back_, &QPushButton::clicked, this, [this] { show(at_ - 1); });
  connect(next_, &QPushButton::clicked, this, [this] {
    if (at_ + 1 < this->steps())
      show(at_ + 1);
    else
      this->close();
  });
  window->installEventFilter(this);
  show(0);
  next_->setFocus();
}

Tour::~Tour() { delete frame_; }

void Tour::show(int step) {
  at_ = step;
  const TourStep& s = steps_[static_cast<std::size_t>(step)];
  title_->setText(s.title);
  text_->setText(s.text);
  count_->setText(tr("%1 of %2").arg(step + 1).arg(steps()));
  back_->setEnabled(step > 0);
  next_->setText(step + 1 < steps() ? tr("Next") : tr("Done"));
  place();
  frame_->show(), frame_->raise();
  QFrame::show();
  raise();
}

/// Beside what is spoken of, where there is room, and within the window.
void Tour::place() {
  const QWidget* about = steps_[static_cast<std::size_t>(at_)].about;
  const QRect whole = window_->rect();
  QRect around = whole;
  if (about && about->isVisible()) around = QRect(about->mapTo(window_, QPoint()), about->size());
  frame_->setGeometry(around);
  const int high = heightForWidth(kWide) > 0 ? std::max(heightForWidth(kWide), sizeHint().height()) : sizeHint().height();
  resize(kWide, high);
  QPoint at(around.left() + kGap, around.bottom() + kGap);                                       // under it
  if (at.y() + high > whole.bottom()) at = {around.right() + kGap, around.top() + kGap};         // right of it
  if (at.x() + kWide > whole.right()) at = {around.left() - kWide - kGap, around.top() + kGap};  // left of it
  if (at.x() < 0 || at.y() + high > whole.bottom()) at = {at.x(), around.top() - high - kGap};   // over it
  if (at.x() < 0 || at.y() < 0) at = around.center() - QPoint(kWide / 2, high / 2);              // in it
  move(std::clamp(at.x(), 0, std::max(0, whole.width() - kWide)), std::clamp(at.y(), 0, std::max(0, whole.height() - high)));
}

bool Tour::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::Resize) place();
  return QFrame::eventFilter(watched, event);
}

/// Esc ends the tour before it means anything else.
bool Tour::event(QEvent* event) {
  if (event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
    event->accept();
    return true;
  }
  return QFrame::event(event);
}

void Tour::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape)
    close();
  else
    QFrame::keyPressEvent(event);
}

}  // namespace dune::window
