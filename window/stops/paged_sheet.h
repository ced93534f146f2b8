#pragma once
// A sheet in pages, each a sheet without a title; the tool is that of the page that is open.

#include <QTabWidget>

#include "window/stops/sheet.h"

namespace dune::window {

class PagedSheet : public Sheet {
  Q_OBJECT

 public:
  PagedSheet(const QString& title, Workspace& workspace);
  Topics concerns() const override { return page()->concerns(); }
  void refresh(Topics changed) override { page()->refresh(changed); }
  Tool* tool() override { return page()->tool(); }
  std::vector<ThingKind> removable() const override { return page()->removable(); }
  bool chooseAll() override { return page()->chooseAll(); }
  void leaveTool() override { page()->leaveTool(); }
  QTabWidget* pages() const { return pages_; }

 protected:
  void addPage(Sheet* page, const QString& name);
  Sheet* page() const { return static_cast<Sheet*>(pages_->currentWidget()); }

 private:
  QTabWidget* pages_;
  Sheet* open_ = nullptr;
};

}  // namespace dune::window
