#pragma once
// The trail: the steps of the job in order, each with its state in a few words; the one place that says what is out of date.

#include <QWidget>
#include <vector>

#include "window/stops/trail_stop.h"

namespace dune::window {

/// A stop as the trail shows it.
struct TrailEntry {
  QString name;
  StopState state;
};

class Trail : public QWidget {
  Q_OBJECT

 public:
  explicit Trail(QWidget* parent = nullptr);
  void setStops(std::vector<TrailEntry> stops);
  void setCurrent(int stop);
  int current() const { return current_; }
  QSize sizeHint() const override { return {800, 54}; }
  /// The middle of a stop's text, for tests and tips.
  QPoint placeOf(int stop) const;
  const StopState& stateOf(int stop) const { return stops_[static_cast<std::size_t>(stop)].state; }

 signals:
  void chosen(int stop);
  void cancelAsked();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void speak();
  QRectF box(int stop) const;

  std::vector<TrailEntry> stops_;
  int current_ = 0;
};

}  // namespace dune::window
