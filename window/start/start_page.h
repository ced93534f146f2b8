#pragma once
// What stands in the world's place while there is nothing in it: the examples and the projects of late as pictures, and ways to begin.

#include <QScrollArea>

#include "demo/examples.h"

class QHBoxLayout;
class QVBoxLayout;
class QToolButton;

namespace dune::window {

class StartPage : public QScrollArea {
  Q_OBJECT

 public:
  explicit StartPage(QWidget* parent = nullptr);
  /// The projects that were open last, the latest first; those that are gone are left out.
  void setRecent(const QStringList& paths);
  /// Work that a program left behind unsaved.
  struct Unsaved {
    QString id, name, about;
  };
  void setUnsaved(const std::vector<Unsaved>& all);

 signals:
  void exampleChosen(const dune::demo::Example& example);
  void projectChosen(const QString& path);
  void unsavedChosen(const QString& id);
  void unsavedThrownAway(const QString& id);
  void openLevelAsked();
  void openProjectAsked();
  void drawAsked();

 protected:
  /// It is as large as what it lies on.
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  QToolButton* card(const QString& name, const QString& line, const QPixmap& picture);

  QWidget* unsaved_;
  QVBoxLayout* unsavedRows_;
  QHBoxLayout* recent_;
  QWidget *recentRow_, *recentTitle_;
};

// The pictures of projects are kept beside what the program keeps for itself, by the project's path; without one it is a plain card.
void keepPicture(const QString& project, const QImage& world);
QPixmap pictureOf(const QString& project);

}  // namespace dune::window
