#pragma once
// Playback: play, pause, step, scrub; and lanes of numbers over time below.

#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>

#include "core/pipeline/curves.h"
#include "window/session/finding_list.h"
#include "window/session/playback.h"

class QComboBox;
class QLabel;
class QMenu;
class QPushButton;
class QSlider;
class QToolButton;

namespace dune::window {

class Lanes;

class Reel : public QWidget {
  Q_OBJECT

 public:
  Reel(Playback& playback, const FindingList& findings, const Selection& selection);
  /// Shows where the playback is now.
  void refresh();
  /// Shows what is found now.
  void refreshMarks();
  void setPlaying(bool playing);
  bool playing() const { return timer_.isActive(); }
  QToolButton* playButton() const { return play_; }
  QSlider* slider() const { return slider_; }
  Lanes* lanes() const { return lanes_; }
  /// The entry that shows or hides a lane.
  QAction* laneAction(pipeline::Measure measure) const { return laneActions_.at(measure); }
  void applyTheme();

 protected:
  /// What nobody sees does not play on.
  void hideEvent(QHideEvent*) override { setPlaying(false); }

 private:
  QToolButton* check(const QString& name, const QString& tip);
  void makeLanes(const FindingList& findings, const Selection& selection);
  void fillLaneMenu();
  void chooseLanes();
  void showWho();
  void step(int frames);

  Playback& playback_;
  std::shared_ptr<const pipeline::Run> run_;  // that is played
  QTimer timer_;
  QElapsedTimer since_;
  QToolButton *play_, *back_, *forward_, *eye_, *trails_, *all_;
  QSlider* slider_;
  QLabel *clock_, *who_;
  QComboBox* speed_;
  QPushButton *which_, *whole_;
  QMenu* menu_;
  std::map<pipeline::Measure, QAction*> laneActions_;
  Lanes* lanes_;
};

}  // namespace dune::window
