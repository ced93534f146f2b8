#pragma once
// A short walk through the window: a frame around one part after the other, and what it is for beside it. Nothing is locked meanwhile.

#include <QFrame>
#include <QPointer>
#include <vector>

class QLabel;
class QPushButton;

namespace dune::window {

struct TourStep {
  QPointer<QWidget> about;
  QString title, text;
};

class Tour : public QFrame {
  Q_OBJECT

 public:
  /// Lies over `window` until it is closed; deletes itself then.
  Tour(std::vector<TourStep> steps, QWidget* window);
  ~Tour() override;
  int step() const { return at_; }
  int steps() const { return static_cast<int>(steps_.size()); }

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
  bool event(QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void show(int step);
  void place();

  std::vector<TourStep> steps_;
  int at_ = 0;
  QWidget* window_;
  QPointer<QWidget> frame_;
  QLabel *title_, *text_, *count_;
  QPushButton *back_, *next_;
};

}  // namespace dune::window
