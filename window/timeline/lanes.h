#pragma once
// Lanes of numbers over the time of a run: of the chosen agents, or of all as a band; with marks where something was found, and the time
// of what is chosen of it. Worked out beside the window.

#include <qcustomplot.h>

#include <set>

#include "core/pipeline/curves.h"
#include "window/session/finding_list.h"
#include "window/session/latest_question.h"
#include "window/session/playback.h"

namespace dune::window {

class Lanes : public QCustomPlot {
  Q_OBJECT

 public:
  explicit Lanes(const Playback& playback, const FindingList& findings, const Selection& selection);
  /// Which lanes there are, from top to bottom in the order of pipeline::kMeasures; at least one.
  void setShown(const std::set<pipeline::Measure>& shown);
  const std::set<pipeline::Measure>& shown() const { return shown_; }
  /// A band of all agents behind the curves of those that are chosen.
  void setWithAll(bool on);
  /// Shows what the playback has now, and what is found of it.
  void refresh();
  void refreshMarks();
  void applyTheme();
  /// Whether less than the whole run is seen.
  bool zoomed() const;
  void showWhole();
  QCPRange seen() const { return seen_; }
  /// The ids of agents whose curves are drawn.
  const std::vector<int>& bodies() const { return bodies_; }
  /// Whether what is drawn is not yet what was asked for.
  bool waits() const { return waits_; }

 signals:
  void jumped(double time);  ///< by the person
  void seenChanged();

 protected:
  void wheelEvent(QWheelEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent*) override { showWhole(); }

 private:
  struct Lane {
    pipeline::Measure measure;
    QCPAxisRect* axes;
    QCPItemText* title;
    QCPItemLine* cursor;
    QCPItemRect* chosen;
    QCPGraph *low, *high, *middle;  // of all
    std::vector<QCPGraph*> curves;  // of bodies
  };
  /// What lanes were worked out from.
  struct Asked {
    std::shared_ptr<const pipeline::Run> run;
    std::vector<int> bodies;
    std::set<pipeline::Measure> measures;
    bool all = false;
    bool operator==(const Asked&) const = default;
  };
  struct Drawn;
  void makeLanes();
  Lane makeLane(pipeline::Measure measure, bool last);
  void fill(const Asked& asked, const Drawn& drawn);
  void see(QCPRange range);
  void placeCursor();
  void followCursor();
  QCPRange whole() const;
  double timeAt(double x) const;

  const Playback& playback_;
  const FindingList& findings_;
  const Selection& selection_;
  std::set<pipeline::Measure> shown_{pipeline::Measure::speed, pipeline::Measure::wallDistance};
  std::vector<Lane> lanes_;
  QCPGraph* marks_[3];  // by severity
  std::vector<int> bodies_;
  bool withAll_ = false, waits_ = false;
  QCPRange seen_{0, 1};
  Asked asked_;
  LatestQuestion question_;
  double dragged_ = 0;  // time under the right button
};

}  // namespace dune::window
