#pragma once
// Playback: play, pause, step, scrub; curves of the chosen agent over time, with marks where something was found.

#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>

#include "core/pipeline/ground.h"

class QComboBox;
class QCPItemLine;
class QCustomPlot;
class QLabel;
class QSlider;
class QToolButton;

namespace dune::window {

class Reel : public QWidget {
  Q_OBJECT

 public:
  explicit Reel(QWidget* parent = nullptr);
  void setRun(std::shared_ptr<const pipeline::Run> run);
  void setAgent(int id);
  int agent() const { return agent_; }
  double time() const { return time_; }
  std::size_t frame() const;
  void setTime(double seconds);
  void setPlaying(bool playing);
  bool playing() const { return timer_.isActive(); }
  QToolButton* playButton() const { return play_; }
  QSlider* slider() const { return slider_; }
  QCustomPlot* plot() const { return plot_; }
  void applyTheme();

 signals:
  void timeChanged(double seconds);
  void agentChanged(int id);

 private:
  void fillCurves();
  void placeCursor();
  void scrubAt(const QPoint& pixel);

  std::shared_ptr<const pipeline::Run> run_;
  int agent_ = -1;
  double time_ = 0;
  QTimer timer_;
  QElapsedTimer since_;
  QToolButton *play_, *back_, *forward_;
  QSlider* slider_;
  QLabel *clock_, *who_;
  QComboBox* speed_;
  QCustomPlot* plot_;
  QCPItemLine* cursors_[2];
};

}  // namespace dune::window
