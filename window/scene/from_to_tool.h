#pragma once
// A tool that drags from one place of the world to another.

#include <functional>
#include <utility>

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
  bool press(const Pointer& p) override {
    if (p.hit) from_ = to_ = p.hit->at;
    return true;
  }
  void drag(const Pointer& p) override {
    if (from_ && p.hit) to_ = p.hit->at;
  }
  void drop(const Pointer& p) override {
    drag(p);
    const auto from = std::exchange(from_, std::nullopt);
    if (from && glm::distance(*from, to_) > least_) done_(*from, to_);
  }
  bool giveUp() override { return std::exchange(from_, std::nullopt).has_value(); }
  void draw(DrawList& list, const Camera&) const override {
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
