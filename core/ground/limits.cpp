// For every triangle of walkable ground the triangles near it are clipped to the prism over it: what stands between step
// height and agent height is an obstacle; foot lines of steep faces and the ground's own open edges are lines at which the
// ground may end. Whether it does end is asked on both sides of the line, piece by piece (line_split.h).
//
// Tried and dropped: judging on samples of a grid. It needs rounding for thin walls and cannot see a passage narrower than
// two samples; measuring the triangles costs about the same, because limits are few compared with samples.

#include "core/ground/limits.h"

#include <algorithm>
#include <array>
#include <map>

#include "core/ground/blocks.h"
#include "core/ground/bridging.h"
#include "core/ground/gap.h"
#include "core/ground/hiders.h"
#include "core/ground/line_split.h"
#include "core/ground/over_lines.h"
#include "core/ground/steps.h"
#include "core/ground/tuning.h"

namespace dune::ground {

namespace {

using level::Role;

constexpr double kShort = 0.05;  // m: lines of which three places tell enough
constexpr double kProbesAlong[] = {0.02, 0.5, 0.98};
constexpr double kSameLine = 1e-6;  // m and rad: lines nearer than this are one

/// Which side the ground is on that ends, or whether it goes on, and a step below this ground on the right.
enum Answer { nothingHere, endsOnLeft, endsOnRight, groundGoesOn, stepsDown };

/// Finds the limits around one triangle of ground.
class AroundTriangle {
 public:
  AroundTriangle(const Standing& standing, std::uint32_t number, const Box2& within, Limits& found)
      : standing_(standing),
        soup_(standing.soup()),
        agent_(standing.agent()),
        number_(number),
        ground_(soup_.triangles()[number]),
        within_(within),
        found_(found),
        hiders_(standing),
        bridging_(standing, ground_, found),
        overLines_(standing, number, within, bridging_, found) {}

  void run() {
    Box2 box = ground_.box().grown(tuning::kWeld);
    box.min = glm::max(box.min, within_.min - Vec2(tuning::kWeld)), box.max = glm::min(box.max, within_.max + Vec2(tuning::kWeld));
    const Interval own = ground_.heights();
    soup_.near(box, {own.from - tuning::kCutBelow, own.to + agent_.height}, near_);
    hiders_.find(number_, near_, slack(tuning::kBeside));
    if (hiders_.hideAll(ground_)) return;
    openEdges();
    for (const std::uint32_t other : near_)
      if (other != number_) against(other);
    askOnce(obstacleLines_, [&](const Limit& l) { obstacleAlong(l.a, l.b, l); });
    askOnce(footLines_, [&](const Limit& l) { endsAlong(lift(l.a, ground_.heightAt(l.a)), lift(l.b, ground_.heightAt(l.b))); });
  }

 private:
  void openEdges() {
    for (int e = 0; e < 3; ++e) {
      bool goesOn = false;
      for (const std::uint32_t other : soup_.across(number_, e))
        goesOn |= other != number_ && standing_.walkable(soup_.triangles()[other]) && beyond(other, e);
      for (const std::uint32_t other : soup_.across(number_, e))
        if (other > number_ && goesOn)
          overLines_.noteFold(ground_.q[static_cast<std::size_t>(e)], ground_.q[static_cast<std::size_t>((e + 1) % 3)],
                              soup_.triangles()[other]);
      if (!goesOn) endsAlong(ground_.p[static_cast<std::size_t>(e)], ground_.p[static_cast<std::size_t>((e + 1) % 3)]);
    }
  }

  /// Whether a triangle at edge e lies on the other side of it seen from above.
  bool beyond(std::uint32_t other, int e) const {
    return liesBeyond(soup_.triangles()[other], ground_.q[static_cast<std::size_t>(e)], ground_.q[static_cast<std::size_t>((e + 1) % 3)]);
  }
  static bool liesBeyond(const Triangle& t, const Vec2& a, const Vec2& b) { return cross(b - a, (t.q[0] + t.q[1] + t.q[2]) / 3.0 - a) < 0; }

  void against(std::uint32_t number) {
    const Triangle& other = soup_.triangles()[number];
    const auto [least, most] = other.heights();
    const auto [groundLow, groundHigh] = std::minmax({ground_.p[0].y, ground_.p[1].y, ground_.p[2].y});
    const bool cuts = other.role == Role::cuts;
    if (most < groundLow - (cuts ? tuning::kCutBelow : tuning::kWeld) || least > groundHigh + agent_.height) return;
    const bool blocksAll = cuts || other.role == Role::obstacle;
    const double from = cuts ? -tuning::kCutBelow : blocksAll ? tuning::kSameHeight : agent_.stepHeight + tuning::kLimitSlack;
    // Most triangles near ground are ground themselves, and low all over.
    double over = -1, under = agent_.height;
    for (std::size_t i = 0; i < 3; ++i) {
      const double above = other.p[i].y - ground_.heightAt(other.q[i]);
      over = std::max(over, above), under = std::min(under, above);
    }
    const bool blocks = over >= from && under <= agent_.height,
               leadsDown = !blocksAll && under <= agent_.stepHeight && !standing_.walkable(other);
    if (!blocks && !leadsDown) return;
    findInner(number);
    if (inner_[0] && inner_[1] && inner_[2]) return;
    if (blocks) obstacle(other, from);
    if (leadsDown) footLines(other);
  }

  /// Which edges of a triangle over this ground have it, or its neighbour, close over the ground on both sides: nobody can stand on either,
  /// so lines along them say nothing. Of fine detail only the rim is left.
  void findInner(std::uint32_t number) {
    const Triangle& other = soup_.triangles()[number];
    const auto isOver = [&](const Triangle& t, const Vec3& a, const Vec3& b) {
      const double aside = tuning::kBeside * std::hypot(t.gu - ground_.gu, t.gv - ground_.gv);
      const auto [low, high] = std::minmax({a.y - ground_.heightAt(plan(a)), b.y - ground_.heightAt(plan(b))});
      return low > tuning::kSameHeight + aside && high < agent_.height - tuning::kLimitSlack - aside;
    };
    for (std::size_t e = 0; e < 3; ++e) {
      const Vec3 &a = other.p[e], &b = other.p[(e + 1) % 3];
      inner_[e] =
          !other.upright && isOver(other, a, b) && std::ranges::any_of(soup_.across(number, static_cast<int>(e)), [&](std::uint32_t i) {
            const Triangle& t = soup_.triangles()[i];
            return i != number && !t.upright && isOver(t, a, b) && liesBeyond(t, other.q[e], other.q[(e + 1) % 3]);
          });
    }
  }
  /// Whether a side of a part of a triangle lies on one of its inner edges.
  bool isInner(const Triangle& other, const Vec2& a, const Vec2& b) const {
    for (std::size_t e = 0; e < 3; ++e) {
      if (!inner_[e]) continue;
      const Vec2 &c = other.q[e], d = other.q[(e + 1) % 3] - c;
      const double off = 2 * tuning::kWeld * glm::length(d);
      if (std::abs(cross(d, a - c)) <= off && std::abs(cross(d, b - c)) <= off) return true;
    }
    return false;
  }

  /// The part of `other` over this ground between two heights above it.
  std::vector<Vec3> between(const Triangle& other, double from, double to) const {
    std::vector<Vec3> part(other.p.begin(), other.p.end());
    const Vec3 up{-ground_.gu, 1, ground_.gv};  // up·p is the height above the ground's plane plus y0
    clipByPlane(part, -up, -(ground_.y0 + from));
    clipByPlane(part, up, ground_.y0 + to);
    for (std::size_t e = 0; e < 3 && !part.empty(); ++e) {
      const Vec2 edge = ground_.q[(e + 1) % 3] - ground_.q[e];
      const Vec2 out = -leftOf(edge) / glm::length(edge);
      clipByPlane(part, Vec3{out.x, 0, -out.y}, glm::dot(out, ground_.q[e]) + tuning::kWeld);
    }
    return part;
  }

  void obstacle(const Triangle& other, double from) {
    const std::vector<Vec3> part = between(other, from, agent_.height - tuning::kLimitSlack);
    if (part.size() < 3) return;
    double lowest = agent_.height;
    for (const Vec3& p : part) lowest = std::min(lowest, p.y - ground_.heightAt(plan(p)));
    const LimitKind kind = other.role == Role::cuts || lowest <= from + tuning::kSameHeight ? LimitKind::wall : LimitKind::ceiling;
    const Limit like{kind, {}, {}, 0, 0, other.object, kind == LimitKind::ceiling ? lowest : 0};
    eachSide(part, [&](const Vec2& a, const Vec2& b) {
      if (!isInner(other, a, b)) note(obstacleLines_, like, a, b);
    });
  }

  void footLines(const Triangle& other) {
    const std::vector<Vec3> part = between(other, -tuning::kWeld, agent_.stepHeight);
    if (part.size() < 3) return;
    eachSide(part, [&](const Vec2& a, const Vec2& b) {
      if (!isInner(other, a, b)) note(footLines_, {LimitKind::end, {}, {}, 0, 0, ground_.object, 0}, a, b);
    });
  }

  /// Keeps a line for later, turned so that lines along each other point the same way.
  void note(std::vector<Limit>& lines, Limit like, Vec2 a, Vec2 b) const {
    if (!cutTo(within_, a, b) || glm::distance(a, b) < tuning::kLeastEnd) return;
    const Vec2 d = b - a;
    if (d.x < 0 || (d.x == 0 && d.y < 0)) std::swap(a, b);
    like.a = a, like.b = b;
    lines.push_back(like);
  }

  /// The two triangles of a wall, or of many, give the same lines over and over; each is asked about once.
  template <class Ask>
  void askOnce(std::vector<Limit>& lines, Ask&& ask) const {
    struct Ordered {
      std::array<std::int64_t, 5> line;
      double from, to;
      std::uint32_t number;
    };
    std::vector<Ordered> ordered;
    for (std::uint32_t i = 0; i < lines.size(); ++i) {
      const Limit& l = lines[i];
      const Vec2 d = glm::normalize(l.b - l.a), origin = l.a - within_.min;
      ordered.push_back(
          {{static_cast<std::int64_t>(l.kind), static_cast<std::int64_t>(l.object), std::llround(l.measured / tuning::kSameHeight),
            std::llround(std::atan2(d.y, d.x) / kSameLine), std::llround(cross(d, origin) / kSameLine)},
           glm::dot(origin, d),
           glm::dot(l.b - within_.min, d),
           i});
    }
    std::sort(ordered.begin(), ordered.end(),
              [](const Ordered& x, const Ordered& y) { return std::tie(x.line, x.from, x.number) < std::tie(y.line, y.from, y.number); });
    for (std::size_t i = 0; i < ordered.size();) {
      Limit whole = lines[ordered[i].number];
      double reach = ordered[i].to;
      std::size_t k = i + 1;
      for (; k < ordered.size() && ordered[k].line == ordered[i].line && ordered[k].from <= reach + kSameLine; ++k)
        if (ordered[k].to > reach) reach = ordered[k].to, whole.b = lines[ordered[k].number].b;
      ask(whole);
      i = k;
    }
    lines.clear();
  }

  /// The sides, seen from above, of a convex piece of surface; one when it is upright.
  template <class Visit>
  static void eachSide(const std::vector<Vec3>& part, Visit&& visit) {
    Polygon shape;
    for (const Vec3& p : part) shape.push_back(plan(p));
    shape = convexHull(std::move(shape));
    dropThinCorners(shape);
    if (shape.size() < 2) return;
    for (std::size_t i = 0, n = shape.size() == 2 ? 1 : shape.size(); i < n; ++i) visit(shape[i], shape[(i + 1) % shape.size()]);
  }

  /// A line limits on the sides on which this very ground can be stood on right beside it. Obstacles over ground that cannot be
  /// stood on anyway (hidden plates under terrain, insides of buildings) limit nothing.
  void obstacleAlong(const Vec2& a, const Vec2& b, const Limit& like) {
    const double length = glm::distance(a, b);
    const Vec2 aside = leftOf(b - a) / length * tuning::kBeside;
    const double own = slack(tuning::kBeside);
    if (hiders_.hideLine(a, b, aside)) return;
    auto sides = [&](double t) {
      const Vec2 q = glm::mix(a, b, t);
      if (hiders_.hide(q, aside)) return 0;
      lookUp(aside);
      const double y = ground_.heightAt(q);
      return (std::isnan(standing_.nearest(left_, q + aside, y, own)) ? 0 : 1) +
             (std::isnan(standing_.nearest(right_, q - aside, y, own)) ? 0 : 2);
    };
    asked_ = askedFor(ground_.heightAt(a), ground_.heightAt(b), own);
    if (nowhere(a, b, sides)) return;
    const auto splits =
        splitParameters(soup_, a, b, tuning::kBeside, tuning::kLeastEnd, heightsThatMatter(ground_.heightAt(a), ground_.heightAt(b)));
    for (const Piece& piece : answersAlong(
             splits, [&](double t) { enter(glm::mix(a, b, t)); }, sides))
      addSides(like, glm::mix(a, b, piece.from), glm::mix(a, b, piece.to), piece.answer & 1, piece.answer & 2);
  }

  /// Whether a short line says nothing at its ends and in its middle. Most lines of fine detail lie where nobody can stand anyway.
  template <class Ask>
  bool nowhere(const Vec2& a, const Vec2& b, Ask&& ask) {
    return glm::distance(a, b) < kShort &&
           std::ranges::all_of(kProbesAlong, [&](double t) { return enter(glm::mix(a, b, t)), ask(t) == 0; });
  }

  /// The place on a line whose triangles on both sides answer for the next questions; they are looked up when they are needed.
  void enter(const Vec2& q) { entered_ = q, lookedUp_ = false; }
  void lookUp(const Vec2& aside) {
    if (lookedUp_) return;
    standing_.stackAt(entered_ + aside, asked_, left_);
    standing_.stackAt(entered_ - aside, asked_, right_);
    lookedUp_ = true;
  }

  void addSides(Limit limit, const Vec2& a, const Vec2& b, bool left, bool right) {
    if (glm::distance(a, b) < tuning::kLeastEnd) return;
    limit.a = a, limit.b = b;
    limit.ya = ground_.heightAt(a), limit.yb = ground_.heightAt(b);
    if (left) found_.limits.push_back(limit);
    std::swap(limit.a, limit.b), std::swap(limit.ya, limit.yb);
    if (right) found_.limits.push_back(limit);
  }

  /// Clipping leaves corners a hair apart; a shape that is thin within the weld is a segment.
  static void dropThinCorners(Polygon& shape) {
    Polygon apart;
    for (const Vec2& p : shape)
      if (apart.empty() || glm::distance(apart.back(), p) > 2 * tuning::kWeld) apart.push_back(p);
    while (apart.size() > 1 && glm::distance(apart.back(), apart.front()) <= 2 * tuning::kWeld) apart.pop_back();
    if (apart.size() > 2) {
      std::size_t a = 0, b = 1;
      for (std::size_t i = 0; i < apart.size(); ++i)
        for (std::size_t j = i + 1; j < apart.size(); ++j)
          if (glm::distance(apart[i], apart[j]) > glm::distance(apart[a], apart[b])) a = i, b = j;
      const double width = std::abs(doubleArea(apart)) / glm::distance(apart[a], apart[b]);
      if (width < 4 * tuning::kWeld) apart = {apart[a], apart[b]};
    }
    shape = std::move(apart);
  }

  double slack(double beside) const { return bridging_.slack(beside); }

  /// Adds an end for every piece of the line on which ground stands on one side and does not go on on the other.
  void endsAlong(Vec3 a, Vec3 b) {
    Vec2 qa = plan(a), qb = plan(b);
    innerA_ = qa, innerB_ = qb;
    if (!cutTo(within_, innerA_, innerB_)) return;
    // What is said near a side of the chunk may depend on how the line goes on beyond it.
    const auto part = cutTo(within_.grown(standing_.world().joinDistance), qa, qb);
    const double from = a.y, to = b.y;
    a = lift(qa, glm::mix(from, to, part->from)), b = lift(qb, glm::mix(from, to, part->to));
    const double length = glm::distance(qa, qb);
    if (length < tuning::kLeastEnd) return;
    const Vec2 left = leftOf(qb - qa) / length, aside = left * tuning::kBeside;
    if (hiders_.hideLine(qa, qb, aside)) return;
    auto ask = [&](double t) { return static_cast<int>(answerAt(glm::mix(qa, qb, t), glm::mix(a.y, b.y, t), aside)); };
    asked_ = askedFor(a.y, b.y, agent_.stepHeight + 2 * slack(tuning::kBeside));
    if (nowhere(qa, qb, ask)) return;
    const auto splits = splitParameters(soup_, qa, qb, tuning::kBeside, tuning::kLeastEnd, heightsThatMatter(a.y, b.y));
    const std::vector<Piece> pieces = answersAlong(
        splits, [&](double t) { enter(glm::mix(qa, qb, t)); }, ask);
    for (std::size_t i = 0; i < pieces.size(); ++i) {
      const Piece& piece = pieces[i];
      const Vec3 p = lift(glm::mix(qa, qb, piece.from), glm::mix(a.y, b.y, piece.from)),
                 q = lift(glm::mix(qa, qb, piece.to), glm::mix(a.y, b.y, piece.to));
      const bool ends = piece.answer == endsOnLeft || piece.answer == endsOnRight;
      if (ends && !crackAt(pieces, i, length))
        endOrBridge(p, q, piece.answer == endsOnRight ? -left : left);
      else if (goesOn(piece))
        goesOverInParts(piece, splits, {qa, qb, a.y, b.y}, left);
    }
  }

  /// A line with its heights.
  struct Line {
    Vec2 a, b;
    double ya, yb;
    Vec2 at(double t) const { return glm::mix(a, b, t); }
  };

  /// A step down to ground that has a step of its own is another one from there on.
  void goesOverInParts(const Piece& piece, const std::vector<double>& splits, const Line& line, const Vec2& left) {
    const double beside = 2 * tuning::kBeside / glm::distance(line.a, line.b), reach = agent_.stepHeight + slack(tuning::kBeside);
    const auto below = [&](double t) {
      return standing_.nearest(line.at(t) - left * tuning::kBeside, glm::mix(line.ya, line.yb, t), reach);
    };
    double from = piece.from;
    const auto until = [&](double to) {
      if (const auto [s, e] = inner(line.at(from), line.at(to)); s != e) overLines_.note(s, e, left);
      from = to;
    };
    if (piece.answer == stepsDown)
      for (const double t : splits)
        if (t > from + 2 * beside && t < piece.to - 2 * beside && std::abs(below(t - beside) - below(t + beside)) >= tuning::kLeastStep)
          until(t);
    until(piece.to);
  }

  /// The part within the chunk of a piece of the line in hand, which both chunks cut at the very same point.
  std::pair<Vec2, Vec2> inner(Vec2 a, Vec2 b) const {
    const Vec2 way = innerB_ - innerA_;
    const auto past = [&](const Vec2& q, const Vec2& end) { return glm::dot(q - end, way) > 0; };
    if (!past(a, innerA_)) a = innerA_;
    if (past(b, innerB_)) b = innerB_;
    return past(b, a) ? std::pair(a, b) : std::pair(a, a);
  }

  static bool goesOn(const Piece& piece) { return piece.answer == groundGoesOn || piece.answer == stepsDown; }

  /// Whether ground ends on a piece of a line only because a crack runs away from it there; where the gap along the line is too narrow to
  /// be seen, nothing else would join it.
  bool crackAt(const std::vector<Piece>& pieces, std::size_t i, double length) const {
    const bool after = i > 0 && goesOn(pieces[i - 1]), before = i + 1 < pieces.size() && goesOn(pieces[i + 1]);
    return isCrack((pieces[i].to - pieces[i].from) * length, after, before);
  }
  /// Whether what does not go on is no wider than a gap that is joined: beside a part that does. At an end of the line that is a corner,
  /// from which the next line has limits of its own, or where gaps meet.
  bool isCrack(double wide, bool after, bool before) const { return (after || before) && wide <= standing_.world().joinDistance; }

  /// Ground stands beside a line, towards `here`, and does not go on beyond it: within the joining distance it may yet.
  void endOrBridge(const Vec3& a, const Vec3& b, const Vec2& here) {
    const Vec2 qa = plan(a), qb = plan(b);
    const double length = glm::distance(qa, qb), join = standing_.world().joinDistance;
    if (length < tuning::kLeastEnd) return;
    const bool onLeft = glm::dot(leftOf(qb - qa), here) > 0;
    if (join <= tuning::kBeside) {
      const auto [s, e] = inner(qa, qb);
      return addSides({LimitKind::end, s, e, 0, 0, ground_.object, 0}, s, e, onLeft, !onLeft);
    }
    const double own = slack(tuning::kBeside), step = agent_.stepHeight + own;
    const Gap gap(standing_, qa, qb, here, join, heightsThatMatter(a.y, b.y));
    auto joined = [&](double t) {
      const Vec2 q = glm::mix(qa, qb, t);
      const double from = standing_.nearest(q + here * tuning::kBeside, glm::mix(a.y, b.y, t), own);
      return std::isnan(from) || !gap.beyond(q, from, step) ? 0 : 1;
    };
    for (const Span& span : spansOf(answersAlong(
                                        gap.splits(), [](double) {}, joined),
                                    length)) {
      const auto [p, q] = inner(glm::mix(qa, qb, span.from), glm::mix(qa, qb, span.to));
      if (p == q) continue;
      const auto asked = inner(glm::mix(qa, qb, span.firstAsked), glm::mix(qa, qb, span.lastAsked));
      if (span.joined)
        bridging_.overGap(p, q, here, {asked.first, asked.second}, gap, gap.placesBetween(asked.first, asked.second));
      else
        addSides({LimitKind::end, p, q, 0, 0, ground_.object, 0}, p, q, onLeft, !onLeft);
    }
  }

  /// A part of a line that is joined to what lies beyond, or is not.
  struct Span {
    double from, to;
    bool joined;
    double firstAsked, lastAsked;  ///< the ends of what was found to be joined
  };

  /// A line may face the end of a crack that runs away from it, as between bricks; it belongs to what is joined beside it.
  std::vector<Span> spansOf(const std::vector<Piece>& pieces, double length) const {
    std::vector<Span> spans;
    for (std::size_t i = 0; i < pieces.size(); ++i) {
      const Piece& piece = pieces[i];
      const double wide = (piece.to - piece.from) * length;
      const bool after = !spans.empty() && spans.back().joined, before = i + 1 < pieces.size() && pieces[i + 1].answer == 1;
      if (piece.answer == 1) {
        if (after && spans.back().to == piece.from)
          spans.back().to = piece.to, spans.back().lastAsked = piece.to;
        else
          spans.push_back({piece.from, piece.to, true, piece.from, piece.to});
      } else if (!isCrack(wide, after, before)) {
        spans.push_back({piece.from, piece.to, false, 0, 0});
      } else if (after) {
        spans.back().to = piece.to;
      } else {
        spans.push_back({piece.from, piece.to, true, piece.to, piece.to});
      }
    }
    return spans;
  }

  Interval heightsThatMatter(double a, double b) const { return bridging_.heightsThatMatter(a, b); }

  /// The heights of surfaces that are asked about along a line from height a to height b.
  static Interval askedFor(double a, double b, double reach) { return {std::min(a, b) - reach, std::max(a, b) + reach}; }

  /// This ground must stand on one side of the line at its own height; the other side is then asked within a step of it.
  Answer answerAt(const Vec2& q, double y, const Vec2& aside) {
    if (hiders_.hide(q, aside)) return nothingHere;
    lookUp(aside);
    const double own = slack(tuning::kBeside), step = agent_.stepHeight + own;
    const double here = standing_.nearest(left_, q + aside, y, own), there = standing_.nearest(right_, q - aside, y, own);
    if (std::isnan(here) && std::isnan(there)) return nothingHere;
    if (!std::isnan(here) && !std::isnan(there)) return groundGoesOn;
    if (std::isnan(here)) return std::isnan(standing_.nearest(left_, q + aside, there, step)) ? endsOnRight : groundGoesOn;
    const double beyond = standing_.nearest(right_, q - aside, here, step);
    return std::isnan(beyond) ? endsOnLeft : here - beyond < tuning::kLeastStep ? groundGoesOn : stepsDown;
  }

  const Standing& standing_;
  const Soup& soup_;
  const nav::Agent& agent_;
  std::uint32_t number_;
  const Triangle& ground_;
  const Box2& within_;
  Limits& found_;
  std::vector<Limit> obstacleLines_, footLines_;
  std::vector<std::uint32_t> near_;
  Hiders hiders_;
  Bridging bridging_;
  OverLines overLines_;
  Vec2 entered_{0};  // the place on a line that the stacks are of, once they are looked up
  bool lookedUp_ = false;
  std::array<bool, 3> inner_{};   // of the triangle in hand, its edges that say nothing
  Vec2 innerA_{0}, innerB_{0};    // of the line in hand, within the chunk
  Interval asked_{0, 0};          // heights that are asked about along it
  Standing::Stack left_, right_;  // triangles on both sides of the piece of line that is asked about
};

/// Lines that continue each other on level ground become one: a wall of a hundred triangles is one limit.
void mergeLines(std::vector<Limit>& limits) {
  constexpr double kAngle = 1e-5, kOffset = 1e-4, kHeight = 1e-3, kTouch = 1e-4;
  using Key = std::array<std::int64_t, 6>;
  std::map<Key, std::vector<std::size_t>> lines;
  for (std::size_t i = 0; i < limits.size(); ++i) {
    const Limit& l = limits[i];
    if (l.kind == LimitKind::bounds || std::abs(l.yb - l.ya) > kHeight) continue;
    const Vec2 d = glm::normalize(l.b - l.a);
    lines[{std::llround(std::atan2(d.y, d.x) / kAngle), std::llround(cross(d, l.a) / kOffset), std::llround(l.ya / kHeight),
           static_cast<std::int64_t>(l.kind), static_cast<std::int64_t>(l.object), std::llround(l.measured / kHeight)}]
        .push_back(i);
  }
  std::vector<char> gone(limits.size(), 0);
  for (auto& [key, members] : lines) {
    const Vec2 origin = limits[members[0]].a, d = glm::normalize(limits[members[0]].b - origin);
    auto start = [&](std::size_t i) { return glm::dot(limits[i].a - origin, d); };
    std::sort(members.begin(), members.end(), [&](auto a, auto b) { return start(a) < start(b) || (start(a) == start(b) && a < b); });
    std::size_t into = members[0];
    for (std::size_t k = 1; k < members.size(); ++k) {
      Limit &first = limits[into], &next = limits[members[k]];
      const double reach = glm::dot(first.b - origin, d);
      if (start(members[k]) > reach + kTouch) {
        into = members[k];
        continue;
      }
      if (glm::dot(next.b - origin, d) > reach) first.b = next.b;
      gone[members[k]] = 1;
    }
  }
  std::size_t kept = 0;
  for (std::size_t i = 0; i < limits.size(); ++i)
    if (!gone[i]) limits[kept++] = limits[i];
  limits.resize(kept);
}

void addBounds(const level::World& world, const Box2& within, std::vector<Limit>& limits) {
  if (!world.bounds) return;
  const Box3& b = *world.bounds;
  // Counter-clockwise, so that the inside is on the left.
  const Vec2 c[4] = {plan({b.min.x, 0, b.min.z}), plan({b.min.x, 0, b.max.z}), plan({b.max.x, 0, b.max.z}), plan({b.max.x, 0, b.min.z})};
  for (std::size_t i = 0; i < 4; ++i) {
    const Vec2 p = c[i], q = c[(i + 1) % 4];
    if (const auto part = clipToBox(p, q, within))
      if (const Vec2 a = glm::mix(p, q, part->from), e = glm::mix(p, q, part->to); glm::distance(a, e) >= tuning::kLeastEnd)
        limits.push_back({LimitKind::bounds, a, e, 0, 0, 0, 0});
  }
}

}  // namespace

namespace {

/// How far around a box ground itself is looked at, metres.
double besideFor(const level::World& world) { return 0.1 + 2 * world.joinDistance; }

/// The soup with steps on it, or the same one where there are none.
class WithSteps {
 public:
  WithSteps(const Soup& soup, std::span<const Bridge> steps) : soup_(&soup) {
    if (steps.empty()) return;
    more_.emplace(soup);
    more_->addBridges(steps), more_->weld();
    soup_ = &*more_;
  }
  const Soup& soup() const { return *soup_; }

 private:
  std::optional<Soup> more_;
  const Soup* soup_;
};

/// The part of a step within a box; its neighbour keeps the rest.
void keepWithin(const Bridge& step, const Box2& within, std::vector<Bridge>& kept) {
  std::vector<Vec3> part(step.corner.begin(), step.corner.begin() + 3);
  clipToBox(part, within);
  for (std::size_t i = 1; i + 1 < part.size(); ++i) kept.push_back({{part[0], part[i], part[i + 1], part[i + 1]}, step.object});
}

}  // namespace

void Limits::append(const Limits& more) {
  limits.insert(limits.end(), more.limits.begin(), more.limits.end());
  steps.insert(steps.end(), more.steps.begin(), more.steps.end());
  folds.insert(folds.end(), more.folds.begin(), more.folds.end());
  bridges.insert(bridges.end(), more.bridges.begin(), more.bridges.end());
}

double Limit::heightNear(const Vec2& q) const {
  const double length = glm::distance(a, b);
  return length > 0 ? glm::mix(ya, yb, glm::distance(a, nearestOnSegment(a, b, q)) / length) : ya;
}

double haloFor(const level::World& world, const nav::Agent& agent) { return besideFor(world) + stepReach(agent); }

Result<Limits> findLimits(const Soup& soup, const level::World& world, const nav::Agent& agent, const Box2& within, const Job& job) {
  const std::vector<Bridge> steps = findSteps(soup, world, agent, within.grown(besideFor(world)), job);
  const WithSteps with(soup, steps);
  const Standing standing(with.soup(), world, agent);
  Limits found;
  for (const Bridge& step : steps) keepWithin(step, within, found.bridges);
  const auto& triangles = with.soup().triangles();
  std::vector<std::uint32_t> numbers;
  for (std::uint32_t i = 0; i < triangles.size(); ++i)
    if (const Triangle& t = triangles[i]; !t.upright && standing.walkable(t) && t.box().overlaps(within)) numbers.push_back(i);
  with.soup().prepare();
  const auto one = [&](std::size_t i, Limits& into) { AroundTriangle(standing, numbers[i], within, into).run(); };
  const auto blocks = findInBlocks<Limits>(job, numbers.size(), one);
  if (!blocks) return Job::cancelledProblem();
  for (const Limits& block : *blocks) found.append(block);
  addBounds(world, within, found.limits);
  mergeLines(found.limits);
  return found;
}

}  // namespace dune::ground
