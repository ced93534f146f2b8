#include "core/pipeline/answers.h"

#include <algorithm>

namespace dune::pipeline {

namespace {

std::vector<KeptAnswer> askRoutes(const project::Project& project, const Ground& ground, const Answers& before, bool same) {
  std::vector<KeptAnswer> answers;
  route::Search search(*ground.field);
  for (const project::KeptRoute& r : project.routes->routes) {
    const auto old = std::ranges::find_if(before.routes, [&](const KeptAnswer& k) {
      return same && k.id == r.id && k.answer.start.asked == r.from && k.answer.goal.asked == r.to;
    });
    answers.push_back(
        old != before.routes.end() ? *old : KeptAnswer{r.id, route::findPath(*ground.field, search, r.from, r.to, {.bound = false})});
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

Answers ask(const project::Project& project, std::shared_ptr<const Ground> ground, const Answers& before) {
  const bool same = before.ground == ground;
  Answers answers;
  answers.routes = askRoutes(project, *ground, before, same);
  answers.cards = askCards(project, *ground, before, same);
  answers.ground = std::move(ground);
  return answers;
}

}  // namespace dune::pipeline
