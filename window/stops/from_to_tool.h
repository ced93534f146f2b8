#pragma once
// A tool that drags from one place of the world to another.

#include <functional>
#include <utility>

#include "window/scene/theme.h"
#include "window/scene/tool.h"

namespace dune::window {

class FromToTool : public Tool {
 public:
  struct Words {
    QString begin, end;  ///< what to do before and while dragging
  };
  using Draw = std::function<void(DrawList&, const Vec3& from, const Vec3& to)>;
  using Done = std::function<void(const Vec3& from, const Vec3& to)>;
  /// `least`: shorter drags are slips and do nothing, metres.
  FromToTool(Words words, double least, Draw draw, Done done)
      : words_(std::move(words)), least_(least), draw_(std::move(draw)), done_(std::move(done)) {}

  QString hint() const override { return from_ ? words_.end : words_.begin; }
  void press(const Pointer& p) override {
    if (p.hit) from_ = to_ = p.hit->at;
  }
  void move(const Pointer& p, bool pressed) override {
    if (pressed && from_ && p.hit) to_ = p.hit->at;
  }
  void release(const Pointer& p) override {
    move(p, true);
    const auto from = std::exchange(from_, std::nullopt);
    if (from && glm::distance(*from, to_) > least_) done_(*from, to_);
  }
  bool giveUp() override { return std::exchange(from_, std::nullopt).has_value(); }
  void draw(DrawList& list) const override {
    if (from_) draw_(list, *from_, to_);
  }

 private:
  Words words_;
  double least_;
  Draw draw_;
  Done done_;
  std::optional<Vec3> from_;
  Vec3 to_{};
};

}  // namespace dune::window
