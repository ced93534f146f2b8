#pragma once
// Asks how a recording is to be read: which column is what, in what units, which axis is up.

#include <QComboBox>
#include <QDialog>
#include <array>

#include "core/trace/table_head.h"

namespace dune::window {

class ReadingDialog : public QDialog {
  Q_OBJECT

 public:
  /// `now`: how it would be read without being asked.
  ReadingDialog(trace::TableHead head, const trace::Reading& now, const QString& file, QWidget* parent);
  trace::Reading answer() const;
  QComboBox* columnChoice(std::size_t column) const;
  QComboBox* unitChoice() const { return unit_; }
  QComboBox* upChoice() const { return up_; }
  QComboBox* timeChoice() const { return time_; }
  QPushButton* readButton() const { return read_; }

 private:
  QWidget* preview() const;
  QComboBox* columnBox(std::size_t column, const trace::Reading& now);
  void check();

  trace::TableHead head_;
  std::array<QComboBox*, trace::kNeeded.size()> columns_{};
  QComboBox *unit_, *up_, *time_;
  QPushButton* read_;
};

}  // namespace dune::window
