#pragma once
// The Review stop: what the playback shows, and how much was found.

#include <QCheckBox>
#include <QComboBox>

#include "core/pipeline/heat.h"
#include "window/stops/sheet.h"

namespace dune::window {

class ReviewSheet : public Sheet {
  Q_OBJECT

 public:
  explicit ReviewSheet(Workspace& workspace);
  Topics concerns() const override { return Sheet::concerns() | Topic::playback; }
  void refresh(Topics changed) override;
  bool showWanted() const { return wanted_->isChecked(); }
  /// What the ground is shaded by.
  pipeline::Heat heat() const { return static_cast<pipeline::Heat>(heat_->currentIndex()); }
  QComboBox* heatChoice() const { return heat_; }
  QComboBox* runChoice() const { return runs_; }
  QComboBox* otherChoice() const { return others_; }
  QPushButton* readingButton() const { return reading_; }
  /// Says what the darkest square stands for.
  void showMostHeat(double seconds);
  void hideMostHeat() { mostHeat_->hide(); }
  Tool* tool() override { return tool_.get(); }

 private:
  void showSource();
  /// The runs that are kept: which one is looked at, and which beside it.
  void showRuns();
  std::shared_ptr<const pipeline::Run> runAt(int index) const;
  void showCounts();
  void showFollowed();

  QLabel *source_, *counts_, *agent_, *mostHeat_;
  QComboBox *heat_, *runs_, *others_;
  QWidget* several_;
  QCheckBox* wanted_;
  QPushButton *report_, *reading_;
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
