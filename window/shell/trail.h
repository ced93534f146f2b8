#pragma once
// The trail: the steps of the job in order, each with its state in a few words; the one place that says what is out of date.

#include <QWidget>
#include <vector>

namespace dune::window {

struct StopState {
  QString name, state;
  bool fresh = true;     ///< its result holds for what is before it
  bool trouble = false;  ///< something is wrong here
  double work = -1;      ///< 0 to 1 while work for it runs
};

class Trail : public QWidget {
  Q_OBJECT

 public:
  explicit Trail(QWidget* parent = nullptr);
  void setStops(std::vector<StopState> stops);
  void setCurrent(int stop);
  int current() const { return current_; }
  QSize sizeHint() const override { return {800, 54}; }
  /// The middle of a stop's text, for tests and tips.
  QPoint placeOf(int stop) const;

 signals:
  void chosen(int stop);
  void cancelAsked();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QRectF box(int stop) const;

  std::vector<StopState> stops_;
  int current_ = 0;
};

}  // namespace dune::window
