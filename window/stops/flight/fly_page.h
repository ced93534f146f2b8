#pragma once
// The page of the Flight stop on which one asks for a way through the air and sees it flown.

#include <QCheckBox>
#include <QSlider>
#include <QTimer>

#include "core/flight/path.h"
#include "window/session/flown.h"
#include "window/session/latest_question.h"
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
  std::vector<ThingKind> removable() const override { return {ThingKind::flight, ThingKind::flyerGroup}; }

  void ask(const Vec3& from, const Vec3& to);
  const std::optional<Ends>& asked() const { return asked_; }
  /// What was answered last, maybe while the next is looked for.
  const flight::Way& way() const { return way_; }
  bool answered() const { return answered_; }
  double height() const { return height_->value(); }
  void setHeight(double height) { height_->restore(height); }
  /// What is flown now; null: nothing.
  const Flown* flown() const { return workspace_.airs().flown().get(); }
  /// The id of the body that a finding was about; -1: none.
  int followed() const { return followed_; }
  /// One of what was flown.
  void showFinding(const review::Finding& finding);
  std::size_t frame() const { return static_cast<std::size_t>(time_->value()); }

 signals:
  /// Bodies are elsewhere now.
  void moved();

 private:
  void askAgain();
  void show();
  void keep();
  void keepGroup();
  /// The kept flight or the group that is chosen becomes what is asked.
  bool takeChosen();
  std::vector<project::FlyerGroup> wanted() const;
  void fly();
  void take(const std::shared_ptr<const Flown>& flown);
  void setCount(int count);
  void makeLists();
  void makePlayer();
  void refreshLists();
  void play(bool on);
  void dropFlown();

  QLabel *headline_, *note_, *arrived_;
  NumberField *height_, *count_;
  QCheckBox* shape_;
  QCheckBox* among_;
  QPushButton *keep_, *keepGroup_, *fly_, *play_, *save_;
  ItemList *list_, *groups_;
  QSlider* time_;
  QTimer timer_;
  std::optional<Ends> asked_;
  int shown_ = -1, shownGroup_ = -1;  // ids of the kept flight and of the group that is shown
  int followed_ = -1;
  int project_ = 0;     // its number
  bool waits_ = false;  // for free space, to fly then
  /// What was flown, and among whom: where that is another now, it does not hold.
  struct Source {
    std::vector<project::FlyerGroup> groups;
    std::vector<project::FlyerKind> kinds;
    std::map<int, std::shared_ptr<const pipeline::Air>> airs;  // by the ids of kinds
    std::shared_ptr<const pipeline::Run> among;
    bool operator==(const Source&) const = default;
  } source_{};
  Source sourceNow() const;
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
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
