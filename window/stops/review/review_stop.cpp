#include "window/stops/review/review_stop.h"

#include <algorithm>

#include "window/scene/arrow.h"
#include "window/scene/theme.h"
#include "window/stops/review/review_sheet.h"

namespace dune::window {

namespace {

/// Where the followed body came along lately, and how fast everybody wanted to go.
DrawList movementLayer(const pipeline::Run& run, std::size_t frame, int followed, bool wanted) {
  constexpr std::size_t kTail = 300, kStep = 3;  // frames
  DrawList list;
  list.lift = 2e-4;
  const trace::Trace& trace = run.trace;
  if (trace.frameCount() == 0) return list;
  const std::size_t now = std::min(trace.frameCount() - 1, frame);
  const double chest = run.ground->mesh.agent.height * 0.6;
  for (std::size_t b = 0; wanted && b < trace.bodies().size(); ++b) {
    const trace::Sample s = trace.at(now, b);
    const Vec3 at = raised(s.at, chest);
    if (glm::length(s.wanted) > 0.05) arrow(list, at, at + s.wanted * 0.7, 1.5, packed(theme().good, 1));
  }
  if (const auto b = trace.bodyOf(followed))
    for (std::size_t i = now > kTail ? now - kTail : 0; i + kStep < now; i += kStep)
      list.line(raised(trace.at(i, *b).at, 0.08), raised(trace.at(i + kStep, *b).at, 0.08), 3, packed(theme().accent, 0.8));
  return list;
}

double mostOf(const std::vector<pipeline::HeatCell>& cells) {
  return cells.empty() ? 0 : std::ranges::max(cells, {}, &pipeline::HeatCell::seconds).seconds;
}

/// Squares of the ground, the darker the longer bodies were there, by the logarithm.
DrawList heatLayer(const std::vector<pipeline::HeatCell>& cells) {
  DrawList list;
  list.lift = 3e-4;
  const double most = mostOf(cells);
  constexpr double h = pipeline::kHeatCell / 2, kLeast = 0.25, kMost = 0.95;  // m; opacity
  for (const pipeline::HeatCell& c : cells) {
    const std::uint32_t colour = packed(theme().accent, kLeast + (kMost - kLeast) * std::log1p(c.seconds) / std::log1p(most));
    const Vec3 at = raised(c.at), a = at + Vec3{-h, 0, -h}, b = at + Vec3{-h, 0, h}, d = at + Vec3{h, 0, -h}, e = at + Vec3{h, 0, h};
    list.triangle(a, b, e, colour);
    list.triangle(a, e, d, colour);
  }
  return list;
}

}  // namespace

ReviewStop::ReviewStop(Workspace& workspace, WorldView& view) : ReviewStop(workspace, view, new ReviewSheet(workspace)) {}

ReviewStop::ReviewStop(Workspace& workspace, WorldView& view, ReviewSheet* sheet)
    : TrailStop(workspace, tr("Review"), sheet), own_(*sheet), followed_(view, LayerOrder::moving), heat_(view, LayerOrder::overGround) {}

StopState ReviewStop::state() const {
  const std::size_t all = workspace_.findings().all().size(), errors = workspace_.findings().count(review::Severity::error);
  StopState s;
  s.words = all == 0      ? tr("nothing found")
            : errors == 1 ? tr("%1 found, 1 error").arg(all)
                          : tr("%1 found, %2 errors").arg(all).arg(errors);
  s.fresh = !workspace_.run() || workspace_.runFresh();
  s.trouble = errors > 0;
  return s;
}

void ReviewStop::draw(const Shown& shown, Topics changed) {
  if (!(changed & (Topic::playback | Topic::selection | Topic::run | Topic::stop | Topic::theme))) return;
  drawHeat(shown.here);
  const Playback& playback = workspace_.playback();
  const bool drawn = shown.here && playback.run();
  followed_.set(drawn ? movementLayer(*playback.run(), playback.frame(), playback.body(), own_.showWanted()) : DrawList{});
}

void ReviewStop::drawHeat(bool here) {
  const pipeline::Heat heat = here ? own_.heat() : pipeline::Heat::none;
  const Shaded now{heat != pipeline::Heat::none ? workspace_.playback().run() : nullptr, heat, theme().dark};
  if (now == shaded_) return;
  shaded_ = now;
  heat_.clear();
  own_.hideMostHeat();
  question_.drop();
  if (!now.run) return;
  question_.ask([this, now](Job& job) -> LatestQuestion::Answer {
    return [this, cells = pipeline::heatOf(*now.run, now.heat, job)] {
      heat_.set(heatLayer(cells));
      own_.showMostHeat(mostOf(cells));
    };
  });
}

void ReviewStop::showFinding(const review::Finding& f) {
  if (f.agent >= 0) workspace_.playback().follow(f.agent);
  if (f.timed()) workspace_.playback().setTime(f.time);
}

}  // namespace dune::window
