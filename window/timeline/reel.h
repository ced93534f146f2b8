#pragma once
// Playback: play, pause, step, scrub; curves of the chosen agent over time, with marks where something was found.

#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>

#include "window/session/playback.h"

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
  explicit Reel(Playback& playback, QWidget* parent = nullptr);
  /// Shows where the playback is now.
  void refresh();
  void setPlaying(bool playing);
  bool playing() const { return timer_.isActive(); }
  QToolButton* playButton() const { return play_; }
  QSlider* slider() const { return slider_; }
  QCustomPlot* plot() const { return plot_; }
  void applyTheme();

 protected:
  /// What nobody sees does not play on.
  void hideEvent(QHideEvent*) override { setPlaying(false); }

 private:
  QToolButton* check(const QString& name, const QString& tip);
  void fillCurves();
  void placeCursor();
  void scrubAt(const QPoint& pixel);
  void step(int frames);

  Playback& playback_;
  std::shared_ptr<const pipeline::Run> run_;  // whose curves are drawn
  int body_ = -1;                             // and of which body
  QTimer timer_;
  QElapsedTimer since_;
  QToolButton *play_, *back_, *forward_, *eye_, *trails_;
  QSlider* slider_;
  QLabel *clock_, *who_;
  QComboBox* speed_;
  QCustomPlot* plot_;
  QCPItemLine* cursors_[2];
};

}  // namespace dune::window
