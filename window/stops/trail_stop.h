#pragma once
// A stop of the trail: its name, its state in words, its sheet, the tool it gives the mouse, and what it draws in the world. The shell
// goes over a table of them and knows none by name.

#include <QObject>
#include <memory>

#include "core/review/kinds.h"
#include "window/scene/layers.h"
#include "window/stops/sheet.h"

class QMenu;

namespace dune::window {

struct StopState {
  QString words;
  bool fresh = true;     ///< its result holds for what is before it
  bool trouble = false;  ///< something is wrong here
  double work = -1;      ///< 0 to 1 while work for it runs
};

/// What the stop that is open wants of the others in the world.
struct Backdrop {
  bool ground = true;    ///< the ground over the level
  bool costs = false;    ///< the ground by what it costs, and not by its kind
  bool changes = false;  ///< what ground the last build gained and lost
  bool links = false;    ///< off-mesh links
  bool bodies = false;   ///< of the crowd's run, and the reel to play it
  bool figures = false;  ///< a person and the agent beside the level
  bool names = false;    ///< the name of what is pointed at, whatever is said about it
};

/// How a stop draws now.
struct Shown {
  bool here;          ///< it is the one that is open
  Backdrop backdrop;  ///< of the one that is open
};

class TrailStop : public QObject {
  Q_OBJECT

 public:
  /// The sheet is handed over to the window that shows it.
  TrailStop(Workspace& workspace, const QString& name, Sheet* sheet) : workspace_(workspace), name_(name), sheet_(sheet) {
    sheet->endColumn();
  }

  const QString& name() const { return name_; }
  Sheet* sheet() const { return sheet_; }
  virtual StopState state() const = 0;
  virtual Backdrop backdrop() const { return {}; }
  /// Draws what is this stop's as far as one of the topics touches it.
  virtual void draw(const Shown& shown, Topics changed) = 0;
  /// What is said of the place under the mouse in place of what the ground is like there, and drawn there; nothing: the ground is.
  virtual std::optional<QString> pointAt(const Pointer&, bool /*holding*/) { return std::nullopt; }
  /// Adds what can be done here with the place that is pointed at.
  virtual void addToMenu(QMenu&, const Pointer&) {}
  /// Begins to draw a level where there is none; false where that is not done here.
  virtual bool beginByHand() { return false; }
  /// Whether findings of a part of the job are looked at here.
  virtual bool looksAt(review::Part) const { return false; }
  /// A finding was chosen that is looked at here.
  virtual void showFinding(const review::Finding&) {}

 signals:
  /// The person wants to be here.
  void openAsked();

 protected:
  Workspace& workspace_;

 private:
  QString name_;
  Sheet* sheet_;
};

}  // namespace dune::window
