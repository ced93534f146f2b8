#pragma once
// Asks for a path by dragging: what it costs and why, stretch by stretch, beside the way that one expected; keeps it.

#include <QCheckBox>

#include "window/session/latest_question.h"
#include "window/stops/routes/price_table.h"
#include "window/stops/sheet.h"

namespace dune::window {

class PathPage : public Sheet {
  Q_OBJECT

 public:
  struct Ends {
    Vec3 from, to;
  };

  explicit PathPage(Workspace& workspace);
  void refresh(Topics changed) override;
  Tool* tool() override { return tool_.get(); }
  /// Asks for the path between two places; `whole` also works out widths and the bound.
  void ask(const Vec3& from, const Vec3& to, bool whole);
  const route::PathAnswer& answer() const { return answer_; }
  const std::optional<Ends>& asked() const { return asked_; }
  /// The way that was expected, from the same start to the same goal over the places that were drawn; no points without any.
  const route::PathAnswer& expected() const { return expected_; }
  const std::vector<Vec3>& places() const { return places_; }
  /// What another kind of agent says to the same question, on its own ground and by its own rules.
  struct Other {
    std::size_t agent;
    std::shared_ptr<const pipeline::Ground> ground;
    route::PathAnswer answer;
  };
  /// Of all of them but the one that is worked on, while that is asked for.
  const std::vector<Other>& others() const { return others_; }
  /// Whether it is known how long asking takes.
  bool measured() const { return seconds_.has_value(); }
  /// Whether what is drawn in the world now is the expected way.
  bool sketching() const { return sketch_->isChecked(); }
  /// The expected way goes over one more place, or over another one.
  void addPlace(const Vec3& at);
  void movePlace(std::size_t place, const Vec3& at);
  /// The places between which the stretch lies that is pointed at; empty without one.
  const std::vector<Vec3>& lit() const { return lit_; }

 signals:
  void showKept();

 private:
  void show();
  void showFacts();
  void showExpected();
  void askExpected();
  void askOthers(bool whole);
  void measure();
  /// The other kinds of agent that have ground, while they are asked too; places among the project's.
  std::vector<std::size_t> othersToAsk() const;
  /// Whether every other kind of agent that has ground was asked, and on that ground.
  bool othersAreAsked() const;
  void showOthers();
  void askWhatOpens();
  void light(const route::PathAnswer& answer, int stretch);
  void keep();

  QLabel *headline_, *table_, *note_, *kept_, *verdict_, *othersTable_;
  QCheckBox* all_;
  std::vector<Other> others_;
  PriceTable *prices_, *expectedPrices_;
  QPushButton *keep_, *sketch_;
  std::vector<Vec3> places_, lit_;
  route::PathAnswer expected_;
  std::optional<Ends> asked_;
  route::PathAnswer answer_;
  std::optional<double> seconds_;                    // that asking for it as a body would takes
  std::shared_ptr<const pipeline::Ground> askedOf_;  // the ground that gave the answer
  LatestQuestion opening_;                           // what would open a way that is closed
  LatestQuestion measuring_;                         // what asking takes
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
