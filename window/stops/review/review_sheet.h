#pragma once
// The Review stop: what the playback shows, and how much was found.

#include <QCheckBox>

#include "window/stops/sheet.h"

namespace dune::window {

class ReviewSheet : public Sheet {
  Q_OBJECT

 public:
  explicit ReviewSheet(Workspace& workspace);
  void refresh() override;
  bool showWanted() const { return wanted_->isChecked(); }
  Tool* tool() override { return tool_.get(); }
  /// Fills in what is known about the chosen agent at a time.
  void showAgent(int agent, std::size_t frame);

 signals:
  void reportAsked();
  void agentPicked(const dune::window::Pointer& pointer);

 private:
  QLabel *counts_, *agent_;
  QCheckBox* wanted_;
  QPushButton* report_;
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
