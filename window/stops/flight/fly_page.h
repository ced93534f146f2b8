#pragma once
// The page of the Flight stop on which one asks for a way through the air and sees it flown.

#include <QSlider>
#include <QTimer>

#include "core/flight/path.h"
#include "window/session/latest_question.h"
#include "window/stops/flight/flown.h"
#include "window/stops/sheet.h"

namespace dune::window {

class FlyPage : public Sheet {
  Q_OBJECT

 public:
  struct Ends {
    Vec3 from, to;
  };

  explicit FlyPage(Workspace& workspace);
  ~FlyPage() override;
  void refresh(Topics changed) override;
  Tool* tool() override { return tool_.get(); }
  std::vector<ThingKind> removable() const override { return {ThingKind::flight}; }

  void ask(const Vec3& from, const Vec3& to);
  const std::optional<Ends>& asked() const { return asked_; }
  /// What was answered last, maybe while the next is looked for.
  const flight::Way& way() const { return way_; }
  bool answered() const { return answered_; }
  double height() const { return height_->value(); }
  /// What is flown now; null: nothing.
  const Flown* flown() const { return flown_.get(); }
  std::size_t frame() const { return static_cast<std::size_t>(time_->value()); }

 signals:
  /// Bodies are elsewhere now.
  void moved();

 private:
  void askAgain();
  void show();
  void keep();
  void fly();
  void play(bool on);
  void dropFlown();

  QLabel *headline_, *note_, *arrived_;
  NumberField *height_, *count_;
  QPushButton *keep_, *fly_, *play_;
  ItemList* list_;
  QSlider* time_;
  QTimer timer_;
  std::optional<Ends> asked_;
  int shown_ = -1;  // id of the kept flight that is shown
  flight::Way way_;
  bool answered_ = false;  // way_ is that between the ends now
  int question_ = 0;       // counts them
  /// What ways are asked of, kept from one question to the next; used by one at a time.
  struct Guide {
    explicit Guide(std::shared_ptr<const pipeline::Air> of) : air(std::move(of)), searcher(*air->space) {}
    std::shared_ptr<const pipeline::Air> air;
    flight::Searcher searcher;
  };
  std::shared_ptr<Guide> guide_;
  LatestQuestion asking_, flying_;
  std::shared_ptr<const Flown> flown_;
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
