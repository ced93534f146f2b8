// Along a line of steepest climb the rise is the same from every place on it, so a triangle is asked about lines across it only: at its
// corners, and between them at whole multiples of a stride over the plan, so that two chunks ask about the same lines.

#include "core/ground/steps.h"

#include <algorithm>
#include <cmath>

#include "core/ground/blocks.h"
#include "core/ground/line_split.h"
#include "core/ground/tuning.h"

namespace dune::ground {

namespace {

constexpr double kStride = 0.2;       // m between the lines that are asked about
constexpr double kSmall = 0.05;       // m across: a triangle of so little is a step as a whole or not
constexpr double kInset = 2e-4;       // m inside of where a triangle begins
constexpr double kFarthest = 1;       // m
constexpr double kLeastTread = 0.02;  // m: what is narrower, a hair where corners do not meet say, is a part of the steep stretch
constexpr double kOneTread = 1e-3;    // m in height
constexpr double kGentlest = 0.017;   // rad: limits of slope below count as this one

/// The triangles that may be walked on as far as they themselves go.
struct Walkable {
  std::vector<std::uint32_t> numbers;
  BoxTree tree;

  explicit Walkable(const Standing& standing) {
    const auto& triangles = standing.soup().triangles();
    std::vector<Box3> boxes;
    for (std::uint32_t i = 0; i < triangles.size(); ++i)
      if (const Triangle& t = triangles[i]; !t.upright && standing.walkable(t))
        numbers.push_back(i), boxes.push_back(box3(t.box(), t.heights()));
    tree = BoxTree(std::move(boxes));
  }
};

/// One steep triangle.
class Steep {
 public:
  Steep(const Standing& standing, const Walkable& walkable, std::uint32_t number)
      : standing_(standing),
        walkable_(walkable),
        number_(number),
        t_(standing.soup().triangles()[number]),
        reach_(stepReach(standing.agent())),
        step_(standing.agent().stepHeight + tuning::kLimitSlack),
        up_(glm::normalize(Vec2{t_.gu, t_.gv})),
        along_(leftOf(up_)) {}

  void find(const Box2& within, std::vector<Bridge>& found) {
    const auto [from, to] = std::minmax({at(0), at(1), at(2)});
    if (to - from < tuning::kLeastEnd) return;
    const bool small = to - from < kSmall;
    if (!isGroundNear()) return;
    if (small && !standing_.standsButForSlope((t_.q[0] + t_.q[1] + t_.q[2]) / 3.0, number_)) return;
    if (small && isStep((from + to) / 2)) return cut(from, to, within, found);
    if (small) return;
    const auto answer = [&, from = from, to = to](double t) { return isStep(glm::mix(from, to, t)) ? 1 : 0; };
    for (const Piece& piece : answersAlong(
             lines(from, to), [](double) {}, answer))
      if (piece.answer == 1) cut(glm::mix(from, to, piece.from), glm::mix(from, to, piece.to), within, found);
  }

 private:
  double at(std::size_t corner) const { return glm::dot(along_, t_.q[corner]); }

  /// Whether there is ground that it may lead from, below its top, and to. Most steep triangles are parts of cliffs, roofs and furniture,
  /// far from any.
  bool isGroundNear() const {
    const auto [low, high] = t_.heights();
    const Box2 box = t_.box().grown(reach_);
    return walkable_.tree.any(box3(box, {low - step_, std::nextafter(high, low)})) &&
           walkable_.tree.any(box3(box, {std::nextafter(low, high), high + step_}));
  }

  /// The ground along a line of steepest climb. Around dense detail that is a small part of what is near.
  void findNear(double u, const Interval& own) {
    const auto [low, high] = t_.heights();
    thread_local std::vector<std::uint32_t> along;
    walkable_.tree.along(placeOf(u, own.from - reach_), placeOf(u, own.to + reach_), 0, {low - step_, high + step_}, along);
    std::ranges::sort(along);
    near_.clear();
    for (const std::uint32_t i : along)
      if (const auto part = chord(standing_.soup().triangles()[walkable_.numbers[i]], u))
        near_.push_back({walkable_.numbers[i], *part, Standing::kNothing});
  }

  /// Where lines of steepest climb are asked about, as parts of the way across.
  std::vector<double> lines(double from, double to) const {
    std::vector<double> all{from, to};
    for (std::size_t c = 0; c < 3; ++c) all.push_back(at(c));
    for (double u = std::ceil(from / kStride) * kStride; u < to; u += kStride) all.push_back(u);
    std::sort(all.begin(), all.end());
    std::vector<double> parts{0};
    for (const double u : all)
      if (const double part = (u - from) / (to - from); (part - parts.back()) * (to - from) > tuning::kLeastEnd) parts.push_back(part);
    if (parts.size() > 1)
      parts.back() = 1;
    else
      parts.push_back(1);
    return parts;
  }

  /// The part of a line of steepest climb in a triangle, metres along the climb.
  std::optional<Interval> chord(const Triangle& t, double u) const {
    Interval part{INFINITY, -INFINITY};
    for (std::size_t e = 0; e < 3; ++e) {
      const Vec2 &a = t.q[e], &b = t.q[(e + 1) % 3];
      const double ua = glm::dot(along_, a), ub = glm::dot(along_, b);
      if ((ua - u) * (ub - u) > 0 || ua == ub) continue;
      const double v = glm::dot(up_, glm::mix(a, b, (u - ua) / (ub - ua)));
      part.from = std::min(part.from, v), part.to = std::max(part.to, v);
    }
    return part.from <= part.to ? std::optional(part) : std::nullopt;
  }

  bool isStep(double u) {
    const auto own = chord(t_, u);
    if (!own) return false;
    findNear(u, *own);
    const auto below = groundFrom(u, own->from, -1);
    if (!below) return false;
    const auto above = groundFrom(u, own->to, 1);
    return above && *above - *below <= step_;
  }

  /// The height at which ground begins that is nearest along a line of steepest climb, up it or down it from an end of the chord.
  std::optional<double> groundFrom(double u, double v, int way) {
    thread_local std::vector<Begin> begins;
    begins.clear();
    const double y = t_.heightAt(placeOf(u, v));
    const auto& triangles = standing_.soup().triangles();
    for (std::size_t i = 0; i < near_.size(); ++i) {
      const Interval& part = near_[i].part;
      const double far = std::max(0.0, way > 0 ? part.from - v : v - part.to), to = way > 0 ? part.to - v : v - part.from;
      if (std::min(reach_, to) - far > tuning::kLeastEnd / 2 && far <= reach_) begins.push_back({far, to, i});
    }
    std::sort(begins.begin(), begins.end(),
              [](const Begin& a, const Begin& b) { return std::tie(a.far, a.near) < std::tie(b.far, b.near); });
    for (const Begin& b : begins) {
      const double height = triangles[near_[b.near].triangle].heightAt(placeOf(u, v + way * b.far));
      if (std::abs(height - y) > step_ || treadFrom(b, begins, u, v, way) < kLeastTread) continue;
      const double until = std::min(reach_, b.to);
      // What is overhead may cover a part of it.
      for (const double part : {0.0, 0.5, 1.0}) {
        const Vec2 q = placeOf(u, v + way * glm::clamp(glm::mix(b.far, until, part), b.far + kInset, until - kInset));
        if (standing_.stands(q, near_[b.near].triangle, near_[b.near].over)) return height;
      }
    }
    return std::nullopt;
  }

  /// Ground along a line of steepest climb, metres from where it was looked for.
  struct Begin {
    double far, to;
    std::size_t near;
  };

  /// How far ground goes on along the line, over all triangles that follow each other at one height, over gaps that join too; `all` by
  /// where they begin.
  double treadFrom(const Begin& first, const std::vector<Begin>& all, double u, double v, int way) const {
    const auto& triangles = standing_.soup().triangles();
    const auto heightAt = [&](const Begin& b, double d) { return triangles[near_[b.near].triangle].heightAt(placeOf(u, v + way * d)); };
    const Begin* last = &first;
    for (const Begin& next : all) {
      if (last->to - first.far >= kLeastTread || next.far > last->to + std::max(kOneTread, standing_.world().joinDistance)) break;
      if (next.to > last->to && std::abs(heightAt(next, last->to) - heightAt(*last, last->to)) <= kOneTread) last = &next;
    }
    return last->to - first.far;
  }
  Vec2 placeOf(double u, double v) const { return along_ * u + up_ * v; }

  /// The part of the triangle between two lines of steepest climb.
  void cut(double from, double to, const Box2& within, std::vector<Bridge>& found) const {
    std::vector<Vec3> part(t_.p.begin(), t_.p.end());
    const auto below = [&](const Vec2& n, double offset) { clipByPlane(part, Vec3{n.x, 0, -n.y}, offset); };
    below(-along_, -from), below(along_, to);
    clipToBox(part, within);
    for (std::size_t i = 1; i + 1 < part.size(); ++i) found.push_back({{part[0], part[i], part[i + 1], part[i + 1]}, t_.object});
  }

  const Standing& standing_;
  const Walkable& walkable_;
  std::uint32_t number_;
  const Triangle& t_;
  double reach_, step_;
  Vec2 up_, along_;
  /// Ground along the line that is asked about.
  struct Near {
    std::uint32_t triangle;
    Interval part;
    std::uint32_t over;  // what was overhead last
  };
  std::vector<Near> near_;
};

}  // namespace

double stepReach(const nav::Agent& agent) {
  return std::min(agent.stepHeight / std::tan(std::clamp(radians(agent.maxSlope), kGentlest, 1.5)), kFarthest);
}

std::vector<Bridge> findSteps(const Soup& soup, const level::World& world, const nav::Agent& agent, const Box2& within, const Job& job) {
  std::vector<Bridge> found;
  if (agent.stepHeight <= 0) return found;
  const Standing standing(soup, world, agent);
  const auto& triangles = soup.triangles();
  const auto steep = [&](const Triangle& t) {
    return t.role == level::Role::ground && !t.upright && !t.underside && !standing.walkable(t) && t.box().overlaps(within);
  };
  if (std::ranges::none_of(triangles, steep)) return found;
  const Walkable walkable(standing);
  std::vector<std::uint32_t> numbers;
  for (std::uint32_t i = 0; i < triangles.size(); ++i)
    if (steep(triangles[i])) numbers.push_back(i);
  soup.prepare();
  const auto one = [&](std::size_t i, std::vector<Bridge>& into) { Steep(standing, walkable, numbers[i]).find(within, into); };
  if (const auto blocks = findInBlocks<std::vector<Bridge>>(job, numbers.size(), one))
    for (const std::vector<Bridge>& block : *blocks) found.insert(found.end(), block.begin(), block.end());
  return found;
}

}  // namespace dune::ground
