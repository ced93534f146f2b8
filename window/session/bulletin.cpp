#include "window/session/bulletin.h"

#include <utility>

namespace dune::window {

Topics differences(const project::Project& before, const project::Project& now) {
  Topics topics;
  topics.setFlag(Topic::levelSection, before.level != now.level);
  topics.setFlag(Topic::agents, before.agents != now.agents);
  topics.setFlag(Topic::areas, before.areas != now.areas);
  topics.setFlag(Topic::links, before.links != now.links);
  topics.setFlag(Topic::routes, before.routes != now.routes);
  topics.setFlag(Topic::cards, before.cards != now.cards);
  topics.setFlag(Topic::crowd, before.crowd != now.crowd);
  topics.setFlag(Topic::places, before.places != now.places);
  topics.setFlag(Topic::review, before.review != now.review);
  topics.setFlag(Topic::byHand, before.hand != now.hand);
  topics.setFlag(Topic::flight, before.flight != now.flight);
  return topics;
}

void Bulletin::add(Topics topics) {
  if (!topics) return;
  if (!gathered_) QMetaObject::invokeMethod(this, &Bulletin::issue, Qt::QueuedConnection);
  gathered_ |= topics;
}

void Bulletin::issue() { emit issued(std::exchange(gathered_, Topics())); }

}  // namespace dune::window
