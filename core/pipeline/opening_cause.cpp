#include "core/pipeline/opening_cause.h"

#include <algorithm>
#include <cctype>

#include "core/base/text.h"

namespace dune::pipeline {

namespace {

constexpr int kPlaces = 9;  // asked along a gap

/// What forbids most along a gap: of what is found out at several places, what is found most often, the first of them where they tie.
std::optional<ground::Hindrance> hindranceIn(Explainer& explainer, const Ground& ground, const route::Opening& gap) {
  struct Said {
    ground::Hindrance hindrance;
    int times = 0;
  };
  std::vector<Said> all;
  for (int i = 1; i <= kPlaces; ++i) {
    const ground::Explanation e = explainer.at(ground, glm::mix(gap.from, gap.to, static_cast<double>(i) / (kPlaces + 1)));
    if (e.walkable()) continue;
    const auto same = std::ranges::find(all, e.decides.verdict, [](const Said& s) { return s.hindrance.verdict; });
    if (same == all.end())
      all.push_back({e.decides, 1});
    else
      ++same->times;
  }
  const auto most = std::ranges::max_element(all, {}, &Said::times);
  return most == all.end() ? std::nullopt : std::optional(most->hindrance);
}

}  // namespace

std::string causesOf(Explainer& explainer, const Ground& ground, const route::PathAnswer& answer) {
  std::string causes;
  for (const route::Opening& o : answer.openings) {
    std::string cause;
    const double rise = o.to.y - o.from.y, step = ground.mesh.agent.stepHeight;
    if (o.gap && std::abs(rise) > step) {
      cause = text(rise > 0 ? "it rises %.2f m there, more than the step height of %.2f m; "
                            : "it falls %.2f m there, more than the step height of %.2f m; ",
                   std::abs(rise), step);
      constexpr double kStep = 0.6;  // m: higher ones nobody would call a step
      cause += std::abs(rise) <= kStep ? text("a step height of %.2f m, or a link would open it", std::abs(rise))
                                       : std::string("a link would open it");
    } else if (!o.gap) {
      cause = ground.mesh.kinds[o.kind].name + " is forbidden to " + ground.mesh.agent.name + "; allowing it there would open the way";
    } else if (const auto h = hindranceIn(explainer, ground, o)) {
      cause = h->clause();
      if (!h->change.empty()) cause += "; " + h->change + " would open it";
    } else {
      cause = "nothing to stand on; a link there would open it";
    }
    if (causes.empty()) cause[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(cause[0])));
    causes += (causes.empty() ? "" : " Then: ") + cause + ".";
  }
  return causes;
}

void explainClosed(Explainer& explainer, const Ground& ground, route::PathAnswer& answer, Job& job, double reach) {
  route::findOpenings(*ground.field, answer, job, reach);
  if (!answer.openings.empty()) answer.note += " " + causesOf(explainer, ground, answer);
}

}  // namespace dune::pipeline
