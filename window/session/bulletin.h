#pragma once
// What is another than it was: told once a turn of the event loop, however much happened in it.

#include <QFlags>
#include <QObject>

#include "core/project/project.h"

namespace dune::window {

enum class Topic : std::uint32_t {
  levelSection = 1 << 0,  ///< sections of the document
  agents = 1 << 1,
  areas = 1 << 2,
  links = 1 << 3,
  routes = 1 << 4,
  cards = 1 << 5,
  crowd = 1 << 6,
  file = 1 << 7,       ///< where the document is kept, and whether all of it is there
  agent = 1 << 8,      ///< which kind is worked on
  level = 1 << 9,      ///< the level as it was read
  ground = 1 << 10,    ///< of any kind of agent
  compared = 1 << 11,  ///< what is different between two grounds
  answers = 1 << 12,   ///< to kept routes and cards
  run = 1 << 13,
  findings = 1 << 14,
  trials = 1 << 15,
  work = 1 << 16,  ///< what is on its way, and how far
  selection = 1 << 17,
  playback = 1 << 18,
  tool = 1 << 19,     ///< what the left mouse button does, or what it holds
  theme = 1 << 20,    ///< colours
  stop = 1 << 21,     ///< which stop is open
  camera = 1 << 22,   ///< the eye has come to rest elsewhere
  insight = 1 << 23,  ///< what the body that is followed decides from
  places = 1 << 24,   ///< sections of the document
  review = 1 << 25,
  byHand = 1 << 26,
  flight = 1 << 27,  ///< section of the document
  air = 1 << 28,     ///< free space of any kind that flies; the last, see kEverything
};
Q_DECLARE_FLAGS(Topics, Topic)
Q_DECLARE_OPERATORS_FOR_FLAGS(Topics)

constexpr Topics kDocument{Topic::levelSection, Topic::agents, Topic::areas,  Topic::links,  Topic::routes,
                           Topic::cards,        Topic::crowd,  Topic::places, Topic::review, Topic::byHand, Topic::flight};
constexpr Topics kEverything = Topics::fromInt(2 * static_cast<int>(Topic::air) - 1);  // the last of them

/// The sections that are not the same, told by their pointers.
Topics differences(const project::Project& before, const project::Project& now);

class Bulletin : public QObject {
  Q_OBJECT

 public:
  explicit Bulletin(QObject* parent = nullptr) : QObject(parent) {}
  /// Something of these is another; it is issued before the event loop waits again.
  void add(Topics topics);
  /// A sentence for the person, at once.
  void say(const QString& sentence) { emit said(sentence); }

 signals:
  void issued(dune::window::Topics topics);
  void said(const QString& sentence);

 private:
  void issue();

  Topics gathered_;
};

}  // namespace dune::window
