#pragma once
// Asks how much of a kind of finding is to be passed over, and why.

#include <QDialog>

#include "core/pipeline/muting.h"

class QComboBox;
class QLineEdit;
class QPushButton;

namespace dune::window {

class MuteDialog : public QDialog {
  Q_OBJECT

 public:
  MuteDialog(const review::Finding& finding, QWidget* parent);
  /// What passes it over, without an id.
  project::MutedFindings answer() const;
  QLineEdit* reason() const { return reason_; }
  QComboBox* scope() const { return scope_; }
  QPushButton* muteButton() const { return mute_; }

 private:
  review::Finding finding_;
  QComboBox* scope_;
  QLineEdit* reason_;
  QPushButton* mute_;
};

}  // namespace dune::window
