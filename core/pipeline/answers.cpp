#include "core/pipeline/answers.h"

#include <algorithm>
#include <cctype>

#include "core/base/text.h"
#include "core/pipeline/opening_cause.h"

namespace dune::pipeline {

namespace {

std::vector<KeptAnswer> askRoutes(const project::Project& project, const Ground& ground, int kind, const Answers& before, bool same,
                                  Job* job) {
  std::vector<KeptAnswer> answers;
  route::Search search(*ground.field);
  Explainer explainer;
  for (const project::KeptRoute& r : project.routes->routes) {
    if (!isAsked(r, kind)) continue;
    const Ends ends = endsOf(project, *ground.source, r);
    const auto old = std::ranges::find(before.routes, r.id, &KeptAnswer::id);
    const bool known = old != before.routes.end() && old->ends == ends;
    KeptAnswer& now = answers.emplace_back(KeptAnswer{r.id, ends, {}, false, {}, {}});
    if (known && same)
      now.answer = old->answer, now.explained = old->explained, now.before = old->before;
    else
      now.answer = route::findPath(*ground.field, search, ends.from, ends.to, {.bound = false});
    if (known && !same && !changeOf(old->answer, now.answer).empty()) now.before = old->answer;
    now.explained |= now.answer.status != route::PathStatus::partial;
    if (job && !now.explained) explainClosed(explainer, ground, now.answer, *job), now.explained = true;
    now.unmet = unmetOf(r, ends, now.answer, ground.mesh);
  }
  return answers;
}

std::vector<CardAnswer> askCards(const project::Project& project, const Ground& ground, const Answers& before, bool same) {
  std::vector<CardAnswer> answers;
  Explainer explainer;
  for (const project::Card& card : project.cards->cards) {
    const auto old = std::ranges::find_if(before.cards, [&](const CardAnswer& c) { return c.id == card.id && c.at == card.at; });
    const bool known = old != before.cards.end();
    if (known && same) {
      answers.push_back(*old);
      continue;
    }
    CardAnswer& answer = answers.emplace_back(CardAnswer{card.id, card.at, explainer.at(ground, card.at), {}});
    if (known && old->explanation.sentence != answer.explanation.sentence) answer.before = old->explanation.sentence;
  }
  return answers;
}

}  // namespace

Answers ask(const project::Project& project, std::shared_ptr<const Ground> ground, int kind, const Answers& before, Job* job) {
  const bool same = before.ground == ground;
  Answers answers;
  answers.routes = askRoutes(project, *ground, kind, before, same, job);
  answers.cards = askCards(project, *ground, before, same);
  answers.ground = std::move(ground), answers.from = project;
  return answers;
}

std::string changeOf(const route::PathAnswer& before, const route::PathAnswer& now) {
  constexpr double kLonger = 0.01, kAside = 0.25;  // metres
  if (before.status != now.status) return text("%s → %s", route::statusName(before.status), route::statusName(now.status));
  if (now.status == route::PathStatus::none) return {};
  if (std::abs(before.length - now.length) > kLonger) return text("%.1f m → %.1f m", before.length, now.length);
  return waysApart(before.points, now.points) > kAside ? "another way of the same length" : "";
}

std::vector<review::Finding> routeFindings(const project::Project& project, const std::vector<KeptAnswer>& routes) {
  std::vector<review::Finding> findings;
  for (const project::KeptRoute& r : project.routes->routes)
    if (r.agent != 0 && std::ranges::count(project.agents->agents, r.agent, &project::AgentKind::id) == 0)
      findings.push_back({"route-broken", review::Severity::error,
                          "Kept route \"" + r.name + "\": its kind of agent is not there any more.", "Nobody is asked.",
                          "choosing another kind of agent for it.", r.from});
  for (const KeptAnswer& kept : routes) {
    const auto route = std::ranges::find(project.routes->routes, kept.id, &project::KeptRoute::id);
    if (route == project.routes->routes.end()) continue;
    for (const Unmet& u : kept.unmet) {
      // What closes the way is long: it stands as the reason, not in the line of a list.
      const std::string_view mark = " is expected: ";
      const auto cut = u.sentence.find(mark);
      std::string said = u.sentence.substr(0, cut == std::string::npos ? cut : cut + mark.size() - 2), why;
      if (cut != std::string::npos) {
        why = u.sentence.substr(cut + mark.size()) + ".";
        why[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(why[0])));
      }
      if (kept.before) why += (why.empty() ? "" : " ") + ("Since the build before: " + changeOf(*kept.before, kept.answer) + ".");
      if (why.empty()) why = "The ground, or what is expected, was changed.";
      findings.push_back({"route-broken", review::Severity::error, "Kept route \"" + route->name + "\": " + said + ".", why,
                          "looking at the route, then mending the ground or what is expected of it.", u.at});
      findings.back().measured = u.measured, findings.back().limit = u.limit;
    }
  }
  return findings;
}

}  // namespace dune::pipeline
