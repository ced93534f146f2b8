#pragma once
// Moves the two ends of a chosen thing that leads from one place to another.

#include <functional>

#include "window/scene/handle_tool.h"

namespace dune::window {

class EndsTool : public HandleTool {
 public:
  struct Words {
    QString from, to;      ///< what dragging the ends changes
    QString choose, move;  ///< what to do without and with something chosen
  };
  struct Ends {
    Vec3 from, to;
  };
  /// `chosen` gives the ends of what is chosen, if anything is; `move` puts them elsewhere.
  EndsTool(Words words, std::function<std::optional<Ends>()> chosen, std::function<void(const Ends&)> move)
      : words_(std::move(words)), chosen_(std::move(chosen)), move_(std::move(move)) {}

  QString hint() const override {
    if (const QString tip = this->tip(); !tip.isEmpty()) return QObject::tr("Drag to change %1.").arg(tip);
    return chosen_() ? words_.move : words_.choose;
  }

 protected:
  std::vector<Handle> handles() const override {
    const auto ends = chosen_();
    if (!ends) return {};
    return {{kFrom, ends->from, words_.from}, {kTo, ends->to, words_.to}};
  }
  void begin(int, const Pointer&) override { before_ = *chosen_(); }
  void dragHandle(int end, const Pointer& p) override {
    if (!p.hit) return;
    Ends ends = before_;
    (end == kFrom ? ends.from : ends.to) = p.hit->at;
    move_(ends);
  }

 private:
  static constexpr int kFrom = 0, kTo = 1;
  Words words_;
  std::function<std::optional<Ends>()> chosen_;
  std::function<void(const Ends&)> move_;
  Ends before_{};
};

}  // namespace dune::window
