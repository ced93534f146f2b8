#pragma once
// Finds what can be done by typing a part of its name; Enter does it. Also the list of all keys, where only what has keys is shown.

#include <QDialog>

#include "window/help/commands.h"

class QLineEdit;
class QTreeWidget;

namespace dune::window {

class CommandFinder : public QDialog {
  Q_OBJECT

 public:
  /// `prompt` stands where one types until something is typed.
  CommandFinder(std::vector<Command> commands, const QString& title, const QString& prompt, QWidget* parent);
  QLineEdit* line() const { return line_; }
  QTreeWidget* rows() const { return rows_; }

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void fill();
  void runCurrent();

  std::vector<Command> commands_;
  QLineEdit* line_;
  QTreeWidget* rows_;
};

/// How well a command fits what was typed: every word must be in its name or place. Less is better; -1: not at all.
int fitOf(const Command& command, const QString& typed);

}  // namespace dune::window
