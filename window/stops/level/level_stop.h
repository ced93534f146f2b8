#pragma once
// The Level stop: draws the level and its blockers, and at this stop what they count as, seeds and bounds.

#include "window/scene/near_layer.h"
#include "window/stops/trail_stop.h"

namespace dune::window {

class LevelSheet;

class LevelStop : public TrailStop {
  Q_OBJECT

 public:
  LevelStop(Workspace& workspace, WorldView& view);
  StopState state() const override;
  Backdrop backdrop() const override;
  void draw(const Shown& shown, Topics changed) override;
  void addToMenu(QMenu& menu, const Pointer& p) override;
  bool beginByHand() override;
  bool looksAt(review::Part part) const override { return part == review::Part::level; }

 private:
  LevelStop(Workspace& workspace, WorldView& view, LevelSheet* sheet);
  void drawLevel(bool here);
  void drawDetail();
  void drawMarks(bool here);
  void drawNames();
  void invite(bool drawing);
  void addObjectTo(QMenu& menu, const level::Object& object);
  void addBlockerTo(QMenu& menu, const level::Blocker& blocker);

  WorldView& view_;
  LevelSheet& own_;
  Layer level_, blockerLayer_, marks_, names_;
  NearLayer detail_;
  /// What the level was last drawn from; it is large, and most changes do not touch it.
  struct Drawn {
    std::shared_ptr<const level::Level> level;
    std::vector<level::Role> roles;
    std::set<std::string> chosen;
    bool byRole = false, dark = false;
    bool operator==(const Drawn&) const = default;
  };
  std::optional<Drawn> drawn_;
};

}  // namespace dune::window
