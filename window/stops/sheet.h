#pragma once
// What the sheets of the stops share: a title, a column of sections, and the ways they speak to the window.

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

#include "window/scene/tool.h"
#include "window/session/workspace.h"
#include "window/widgets/item_list.h"
#include "window/widgets/number_field.h"

namespace dune::window {

/// What only the window as a whole can do.
enum class Request : std::uint8_t { openLevel, addLevelFile, exportMesh, saveTrace, saveFlight, openTrace, readTrace };

class Sheet : public QWidget {
  Q_OBJECT

 public:
  Sheet(const QString& title, Workspace& workspace);
  /// What it shows depends on these; at others it is not refreshed.
  virtual Topics concerns() const {
    return kDocument | Topics{Topic::agent, Topic::level,    Topic::ground,    Topic::compared, Topic::answers,
                              Topic::run,   Topic::findings, Topic::selection, Topic::theme,    Topic::stop};
  }
  /// Nothing more comes below: what room is left stays free there, but for what asks for it.
  void endColumn() { column_->addStretch(0); }
  /// Shows what the document and the results say now.
  virtual void refresh(Topics changed) = 0;
  /// The tool that the left mouse button has at this stop; may be null.
  virtual Tool* tool() { return nullptr; }
  /// Chooses everything that can be chosen here; false where that is nothing.
  virtual bool chooseAll() { return false; }
  /// What Delete takes away here, what is meant first first.
  virtual std::vector<ThingKind> removable() const { return {}; }
  /// A page that is not open asks for no room, so that a long one does not make the others scroll.
  QSize minimumSizeHint() const override { return isHidden() ? QSize(0, 0) : QWidget::minimumSizeHint(); }
  QSize sizeHint() const override { return isHidden() ? QSize(0, 0) : QWidget::sizeHint(); }
  int heightForWidth(int width) const override { return isHidden() ? 0 : layout()->minimumHeightForWidth(width); }
  /// Leaves the tool in use; the stop goes on without one.
  virtual void leaveTool() {}

 signals:
  void asked(dune::window::Request request);
  void showPlace(const dune::Vec3& place);
  void showBox(const dune::Box3& box);

 protected:
  QLabel* section(const QString& text);
  QLabel* quiet(const QString& text);
  /// What is wrong; empty until it is said.
  QLabel* trouble();
  NumberField* number(const QString& name, const QString& unit, double least, double most, double step, int decimals);
  QWidget* row(std::initializer_list<QWidget*> widgets);
  QPushButton* button(const QString& text, const QString& tip, bool checkable = false);
  ItemList* list(const QString& name, ThingKind kind);
  /// What the left mouse button does here is another now.
  void toolChanged() { workspace_.bulletin().add(Topic::tool); }

  Workspace& workspace_;
  QVBoxLayout* column_;
};

}  // namespace dune::window
