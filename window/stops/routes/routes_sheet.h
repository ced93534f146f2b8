#pragma once
// The Routes stop: ask for a path, keep it, say what is expected of it.

#include "window/stops/paged_sheet.h"
#include "window/stops/routes/distances_page.h"
#include "window/stops/routes/kept_page.h"
#include "window/stops/routes/matrix_page.h"
#include "window/stops/routes/path_page.h"

namespace dune::window {

class RoutesSheet : public PagedSheet {
  Q_OBJECT

 public:
  explicit RoutesSheet(Workspace& workspace);
  void ask(const Vec3& from, const Vec3& to, bool whole) { path_->ask(from, to, whole); }
  const route::PathAnswer& answer() const { return path_->answer(); }
  const PathPage& path() const { return *path_; }
  bool showsKept() const { return page() == kept_; }
  bool showsDistances() const { return page() == distances_; }
  DistancesPage& distances() const { return *distances_; }
  bool showsMatrix() const { return page() == matrix_; }
  MatrixPage& matrix() const { return *matrix_; }

 private:
  PathPage* path_;
  KeptPage* kept_;
  DistancesPage* distances_;
  MatrixPage* matrix_;
};

}  // namespace dune::window
