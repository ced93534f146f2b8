#include "core/crowd/passage.h"

#include <algorithm>

#include "core/base/plan_geometry.h"

namespace dune::crowd {

namespace {

constexpr double kBegins = 3.0;                    // m of the way in which it has to begin
constexpr double kAbreastPlay = 0.05;              // m: two pass each other with so much more than their width
constexpr double kBefore = 3.5;                    // m before its ends where one waits for a turn
constexpr double kPassagePatience = 15;            // s of waiting after which the others let one in
constexpr double kBayAside = 1.0, kBayBack = 1.2;  // m beside and before its end, where one waits
constexpr double kThrough = 2;                     // times to walk through it, on top of that
constexpr double kJustOut = 2.5;                   // m behind an end, for who came out a moment ago
constexpr double kInside = 0.5;                    // m past an end, outside of its width
constexpr double kBay = 3;                         // m of more width
constexpr double kMore = 0.5;                      // m that is looked at beyond: with no wall on one side it is not narrow
constexpr double kAtLast = 3;                      // times the patience after which one goes all the same
constexpr double kEqual = 0.1;                     // m
constexpr double kSettleAside = 0.4;               // s
constexpr double kPatientInFile = 10;              // s
constexpr double kAlong = 0.3;                     // cosine of headings that go the same way

std::optional<double> lastBend(const Passage& p) {
  constexpr double kStraight = 0.9;  // cosine
  for (double s = p.length() - Passage::kStep; s >= Passage::kStep; s -= Passage::kStep)
    if (glm::dot(p.directionAt(s - Passage::kStep), p.directionAt(s)) < kStraight) return s;
  return std::nullopt;
}

}  // namespace

std::optional<double> Passage::along(const Vec2& at) const {
  constexpr double kCorner = 0.71;  // half of a diagonal: into the outer corner of a bend
  double nearest = width * kCorner + kStep;
  std::optional<double> along;
  for (std::size_t i = 0; i < middle.size(); ++i)
    if (const double d = glm::distance(middle[i], at); d < nearest) nearest = d, along = static_cast<double>(i) * kStep;
  return along;
}

Vec2 Passage::directionAt(double along) const {
  const auto i = std::min(static_cast<std::size_t>(along / kStep), middle.size() - 2);
  const Vec2 to = middle[i + 1] - middle[i];
  const double length = glm::length(to);
  return length > 1e-9 ? to / length : Vec2{1, 0};
}

std::optional<Passage> passageAhead(const nav::NavMesh& mesh, const Body& b, const nav::Rules* rules) {
  const double single = 2 * b.who.radius + kAbreastPlay;
  WayAhead ahead(mesh, b, rules);
  Passage passage;
  std::size_t last = 0;  // of its places, after the last narrow one
  for (double s = 0; !ahead.ends() && s <= (passage.middle.empty() ? kBegins : kBegins + Passage::kLongest);
       s += Passage::kStep, ahead.go(Passage::kStep)) {
    const Vec2 to = ahead.toNext();
    if (glm::length(to) < 1e-6) continue;
    const Section section = sectionAt(mesh, ahead.at(), glm::normalize(to), single + kMore, rules);
    const bool narrow = section.width() < single;
    if (!narrow && passage.middle.empty()) continue;
    // A bay between two of them holds no crowd: they are one.
    if (!narrow && static_cast<double>(passage.middle.size() - last) * Passage::kStep > kBay) break;
    passage.middle.push_back(section.middle());
    if (narrow) last = passage.middle.size(), passage.width = std::max(passage.width, section.width());
  }
  passage.middle.resize(last);
  if (passage.middle.size() < 2) return std::nullopt;
  passage.bend = lastBend(passage);
  return passage;
}

namespace {

/// Those who go through a passage one way.
struct Stream {
  double first = -1;  // m, how far the first of those inside has come
  int firstId = 0;
  bool justOut = false;      // one has come out a moment ago
  double nearest = kBefore;  // m, of those outside
  int nearestId = 0;
  double waited = 0;  // s
  bool inside() const { return first >= 0; }
  bool outside() const { return nearest < kBefore; }
};

/// A passage, and everybody in it and before it as one of them sees it.
class Crossing {
 public:
  Crossing(const Passage& p, const Body& b, std::span<const Passer> others)
      : p_(p),
        others_(others),
        length_(p.length()),
        hasWaited_(b.inTurn),
        patience_(kPassagePatience + kThrough * p.length() / b.who.speed),
        mine_(p.along(plan(b.place.position))) {
    const double wanted = glm::length(b.wanted);
    add({plan(b.place.position), b.velocity, wanted > 0 ? b.wanted / wanted : Vec2{0}, b.who.id, std::nullopt, b.inTurn});
    for (const Passer& o : others) add(o);
  }
  PassageTurn turn() const {
    if (hasWaited_ > kAtLast * patience_) return PassageTurn::go;
    if (against_.inside()) return !mine_ ? PassageTurn::wait : meets() && !wentFarther() ? PassageTurn::back : PassageTurn::go;
    if (mine_) return PassageTurn::go;
    return isTheirs() ? PassageTurn::wait : PassageTurn::go;
  }

 private:
  void add(const Passer& o) {
    if (const auto s = p_.along(o.at)) {
      const double way = glm::dot(o.heading, p_.directionAt(*s));
      if (std::abs(way) <= kAlong) return;
      Stream& stream = way > 0 ? with_ : against_;
      const double come = way > 0 ? *s : length_ - *s;
      if (come > stream.first) stream.first = come, stream.firstId = o.id;
      return;
    }
    outside(with_, o, p_.middle.front(), p_.directionAt(0), p_.middle.back(), p_.directionAt(length_));
    outside(against_, o, p_.middle.back(), -p_.directionAt(length_), p_.middle.front(), -p_.directionAt(0));
  }
  static void outside(Stream& stream, const Passer& o, const Vec2& end, const Vec2& in, const Vec2& exit, const Vec2& out) {
    const double far = glm::distance(o.at, end), past = glm::dot(o.at - exit, out);
    stream.justOut |=
        past > 0 && glm::distance(o.at, exit) < kJustOut && glm::dot(o.velocity, out) > 0 && glm::dot(o.heading, out) > -kAlong;
    const double towards = far > 1e-6 ? glm::dot(o.heading, (end - o.at) / far) : 1;
    const bool comes = far < kBefore && glm::dot(o.at - end, in) <= kInside && std::max(glm::dot(o.heading, in), towards) >= kAlong;
    if (!comes) return;
    stream.waited = std::max(stream.waited, o.waited);
    if (far < stream.nearest) stream.nearest = far, stream.nearestId = o.id;
  }
  /// Those that it has passed, or that go out ahead of it, are not in its way.
  bool meets() const {
    return std::ranges::any_of(others_, [&](const Passer& o) {
      const auto s = p_.along(o.at);
      return s && *s > *mine_ && glm::dot(o.heading, p_.directionAt(*s)) < -kAlong;
    });
  }
  bool wentFarther() const { return with_.first != against_.first ? with_.first > against_.first : with_.firstId < against_.firstId; }
  bool isTheirs() const {
    if (std::max(with_.waited, against_.waited) > patience_ && against_.outside()) return against_.waited > with_.waited;
    if (with_.inside() || !against_.outside()) return false;
    if (with_.justOut != against_.justOut) return against_.justOut;
    return with_.nearest != against_.nearest ? against_.nearest < with_.nearest : against_.nearestId < with_.nearestId;
  }

  const Passage& p_;
  std::span<const Passer> others_;
  double length_, hasWaited_, patience_;
  std::optional<double> mine_;  // m from its begin, of the one whose turn it may be
  Stream with_, against_;
};

}  // namespace

PassageTurn passageTurn(const Passage& passage, const Body& body, std::span<const Passer> others) {
  return Crossing(passage, body, others).turn();
}

namespace {

/// Where somebody is in a passage: at which place of its middle, and exactly, both in metres from its begin.
struct InPassage {
  double place, exactly;
};

std::optional<InPassage> inPassage(const Passage& p, const Vec2& at) {
  const auto place = p.along(at);
  if (!place) return std::nullopt;
  double nearest = INFINITY, exactly = 0, length = 0;
  for (std::size_t i = 0; i + 1 < p.middle.size(); ++i) {
    const Vec2 from = p.middle[i], way = p.middle[i + 1] - from;
    const double far = glm::length(way), s = far > 1e-9 ? std::clamp(glm::dot(at - from, way) / (far * far), 0.0, 1.0) : 0;
    if (const double off = glm::distance(at, from + way * s); off < nearest) nearest = off, exactly = length + s * far;
    length += far;
  }
  return InPassage{*place, exactly};
}

/// The nearest one ahead of a body that goes the same way: how many metres, and how fast it goes.
struct OneAhead {
  double far = INFINITY, goes = 0;
};

OneAhead aheadInFile(const Passage& p, const Body& b, const InPassage& mine, double turn, double room, std::span<const Passer> others) {
  constexpr double kIncoming = 1;  // m before the bend
  OneAhead nearest;
  for (const Passer& o : others) {
    const auto theirs = inPassage(p, o.at);
    if (!theirs || o.heading == Vec2{0}) continue;
    double far = theirs->exactly - mine.exactly;
    // Beside each other before it, he is ahead who could not go back past the other.
    if (std::abs(far) < room && std::max(mine.exactly, theirs->exactly) <= turn)
      far = glm::dot(o.at - plan(b.place.position), p.directionAt(std::max(0.0, std::min(theirs->place, mine.place) - kIncoming)));
    const Vec2 along = p.directionAt(theirs->place);
    const bool isAhead = far > 0 || (far == 0 && o.id < b.who.id);
    if (isAhead && far < nearest.far && glm::dot(o.heading, along) > -kAlong) nearest = {far, glm::dot(o.velocity, along)};
  }
  return nearest;
}

}  // namespace

std::optional<Vec2> inFile(const Passage& p, const Body& b, std::span<const Passer> others) {
  constexpr double kRetreat = 0.2, kRoom = 0.05, kTooNear = 0.02, kBehind = 1;  // m/s, m
  const auto mine = p.bend ? inPassage(p, plan(b.place.position)) : std::nullopt;
  if (!mine || mine->place > *p.bend + kBehind) return std::nullopt;
  // Each knows the passage from where it came in: where two wait for each other, one of them goes.
  if (b.progress.stalled > kPatientInFile * (0.5 + ownNumber(b.who.id))) return b.wanted;
  const double turn = inPassage(p, p.middle[static_cast<std::size_t>(*p.bend / Passage::kStep)])->exactly;
  const double room = 2 * b.who.radius + kRoom;
  const OneAhead one = aheadInFile(p, b, *mine, turn, room, others);
  // Who has passed the bend stands in nobody's way there by waiting.
  const double most = speedBehind(one.far, one.goes, room, mine->exactly <= turn ? kTooNear : INFINITY, kRetreat);
  const double speed = glm::length(b.wanted);
  if (speed <= most || speed < 1e-9) return b.wanted;
  return most > 0 ? b.wanted * (most / speed) : p.directionAt(mine->place) * most;
}

Vec2 clearOfEnd(const Passage& p, const Body& b) {
  const Vec2 in = p.directionAt(0), off = plan(b.place.position) - p.middle.front();
  const double before = -glm::dot(off, in), aside = cross(in, off), least = kBayAside + b.who.radius;
  if (std::abs(aside) >= least && before > b.who.radius) return Vec2{0};
  const double side = aside > -kEqual ? 1 : -1;
  const Vec2 to = leftOf(in) * (side * least - aside) - in * std::max(0.0, kBayBack - before);
  const double far = glm::length(to);
  return far < kEqual ? Vec2{0} : to / far * std::min(b.who.speed, far / kSettleAside);
}

}  // namespace dune::crowd
