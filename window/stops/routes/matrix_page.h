#pragma once
// From every named place to every other one: who gets where, and how far it is.

#include "window/session/latest_question.h"
#include "window/stops/sheet.h"

namespace dune::window {

/// A square of cells, a row for each start and a column for each goal.
class MatrixView : public QWidget {
  Q_OBJECT

 public:
  struct Cell {
    route::PathStatus status = route::PathStatus::none;
    double length = 0, straight = 0;
  };
  MatrixView();
  void show(std::vector<QString> names, std::vector<Cell> cells);
  int places() const { return static_cast<int>(names_.size()); }
  /// Where a cell is drawn.
  QRect cellAt(int from, int to) const;
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override { return {200, sizeHint().height()}; }
  bool hasHeightForWidth() const override { return true; }
  int heightForWidth(int width) const override;

 signals:
  void chosen(int from, int to);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;

 private:
  int cellSize() const;
  int labelWidth() const;
  std::pair<int, int> under(const QPoint& p) const;
  QString words(int from, int to) const;
  void choose(int from, int to);

  std::vector<QString> names_;
  std::vector<Cell> cells_;
  int from_ = -1, to_ = -1;
};

class MatrixPage : public Sheet {
  Q_OBJECT

 public:
  explicit MatrixPage(Workspace& workspace);
  void refresh(Topics changed) override;
  MatrixView& view() const { return *view_; }
  const route::PathAnswer& answer() const { return answer_; }

 private:
  void ask();
  void show(const std::vector<MatrixView::Cell>& cells);
  void showChosen();
  void choose(int from, int to);

  QLabel *headline_, *chosen_;
  MatrixView* view_;
  std::shared_ptr<const pipeline::Ground> askedOf_;
  std::shared_ptr<const project::PlacesSection> places_;
  route::PathAnswer answer_;
  std::pair<int, int> pair_{-1, -1};
  LatestQuestion all_, opening_;
};

}  // namespace dune::window
