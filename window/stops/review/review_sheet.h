#pragma once
// The Review stop: what the playback shows, and how much was found.

#include <QCheckBox>

#include "window/stops/sheet.h"

namespace dune::window {

class ReviewSheet : public Sheet {
  Q_OBJECT

 public:
  explicit ReviewSheet(Workspace& workspace);
  Topics concerns() const override { return Sheet::concerns() | Topic::playback; }
  void refresh(Topics changed) override;
  bool showWanted() const { return wanted_->isChecked(); }
  Tool* tool() override { return tool_.get(); }

 private:
  void showSource();
  void showCounts();
  void showFollowed();

  QLabel *source_, *counts_, *agent_;
  QCheckBox* wanted_;
  QPushButton* report_;
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
