#include "core/links/border_runs.h"

#include <algorithm>

#include "core/route/layout.h"

namespace dune::links {

namespace {

using nav::FaceId;
using nav::index;

const double kStraight = std::cos(radians(3));  // edges that turn less from the first are of its run
const double kSharp = std::cos(radians(20));    // of corners that turn less the runs at both sides are enough
constexpr double kFan = 20;                     // degrees between two ways out at a corner
constexpr double kInset = 0.01;                 // m from the ends of a run to its first and last place
constexpr double kShortest = 0.05;              // m: a shorter run is left out
constexpr std::uint32_t kNone = 0xffffffffu;

class Runs {
 public:
  Runs(const nav::NavMesh& mesh, double spacing) : mesh_(mesh), adjacency_(mesh), spacing_(spacing) { chain(); }

  std::vector<BorderRun> find() {
    std::vector<char> done(mesh_.corners.size(), 0);
    for (std::uint32_t c = 0; c < mesh_.corners.size(); ++c) {
      if (mesh_.across[c] != nav::kNoFace || done[c]) continue;
      loop(startOf(c), done);
    }
    return std::move(runs_);
  }

 private:
  std::uint32_t after(std::uint32_t c) const {
    const std::uint32_t f = faceOf_[c];
    return c + 1 == mesh_.start[f + 1] ? mesh_.start[f] : c + 1;
  }
  const Vec3& at(std::uint32_t c) const { return mesh_.vertices[mesh_.corners[c]]; }
  Vec2 direction(std::uint32_t c) const { return glm::normalize(plan(at(after(c))) - plan(at(c))); }

  /// Which edge of the border goes on where one ends: around the corner there, from face to face.
  void chain() {
    faceOf_.resize(mesh_.corners.size());
    for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f)
      for (std::uint32_t c = mesh_.start[f]; c < mesh_.start[f + 1]; ++c) faceOf_[c] = f;
    next_.assign(mesh_.corners.size(), kNone), before_.assign(mesh_.corners.size(), kNone);
    for (std::uint32_t c = 0; c < mesh_.corners.size(); ++c) {
      if (mesh_.across[c] != nav::kNoFace) continue;
      std::uint32_t on = after(c);
      for (std::size_t turns = 0; mesh_.across[on] != nav::kNoFace && turns < mesh_.corners.size(); ++turns)
        on = after(mesh_.start[index(mesh_.across[on])] + adjacency_.edgeBeyond(on));
      if (mesh_.across[on] == nav::kNoFace) next_[c] = on, before_[on] = c;
    }
  }
  /// Where the run of an edge begins: back to where the border turns.
  std::uint32_t startOf(std::uint32_t c) const {
    for (std::uint32_t at = c; before_[at] != kNone;) {
      if (glm::dot(direction(before_[at]), direction(at)) < kStraight) return at;
      at = before_[at];
      if (at == c) break;
    }
    return c;
  }

  void loop(std::uint32_t start, std::vector<char>& done) {
    std::vector<std::uint32_t> run;
    for (std::uint32_t c = start; c != kNone && !done[c]; c = next_[c]) {
      if (!run.empty() && glm::dot(direction(run.front()), direction(c)) < kStraight) {
        add(run);
        addCorner(run.back(), c);
        run.clear();
      }
      run.push_back(c), done[c] = 1;
    }
    add(run);
    if (!run.empty() && next_[run.back()] == start && run.back() != start) addCorner(run.back(), start);
  }

  void add(const std::vector<std::uint32_t>& run) {
    if (run.empty()) return;
    const Vec2 from = plan(at(run.front())), to = plan(at(after(run.back())));
    if (glm::distance(from, to) < kShortest) return;
    double length = 0;
    for (const std::uint32_t c : run) length += glm::distance(plan(at(c)), plan(at(after(c))));
    BorderRun made;
    const double inset = std::min(kInset, length / 4), along = length - 2 * inset;
    const auto steps = static_cast<std::size_t>(std::max(1.0, std::ceil(along / spacing_)));
    const Vec2 out = outOver(from, to);
    std::size_t edge = 0;
    double begun = 0;
    for (std::size_t i = 0; i <= steps; ++i) {
      const double want = inset + along * static_cast<double>(i) / static_cast<double>(steps);
      double edgeLength = glm::distance(plan(at(run[edge])), plan(at(after(run[edge]))));
      while (edge + 1 < run.size() && begun + edgeLength < want)
        begun += edgeLength, ++edge, edgeLength = glm::distance(plan(at(run[edge])), plan(at(after(run[edge]))));
      const Vec3 place = glm::mix(at(run[edge]), at(after(run[edge])), std::clamp((want - begun) / edgeLength, 0.0, 1.0));
      made.places.push_back({{FaceId{faceOf_[run[edge]]}, place}, out, mesh_.agent.radius});
    }
    runs_.push_back(std::move(made));
  }

  /// Where the border turns left the ground sticks out.
  void addCorner(std::uint32_t in, std::uint32_t on) {
    const Vec2 a = direction(in), b = direction(on);
    if (cross(a, b) <= 0 || glm::dot(a, b) > kSharp) return;
    const Vec2 outA = -leftOf(a), outB = -leftOf(b);
    const double turn = std::acos(std::clamp(glm::dot(a, b), -1.0, 1.0));
    const int parts = std::max(2, static_cast<int>(std::ceil(degrees(turn) / kFan)));
    BorderRun made;
    made.corner = true;
    for (int i = 1; i < parts; ++i) {
      const double angle = std::atan2(outA.y, outA.x) + turn * i / parts;
      const Vec2 out{std::cos(angle), std::sin(angle)};
      const double slant = std::max({glm::dot(out, outA), glm::dot(out, outB), 0.1});
      made.places.push_back({{FaceId{faceOf_[on]}, at(on)}, out, mesh_.agent.radius / slant});
    }
    runs_.push_back(std::move(made));
  }

  const nav::NavMesh& mesh_;
  route::Adjacency adjacency_;
  double spacing_;
  std::vector<std::uint32_t> faceOf_, next_, before_;
  std::vector<BorderRun> runs_;
};

}  // namespace

std::vector<BorderRun> borderRuns(const nav::NavMesh& mesh, double spacing) { return Runs(mesh, spacing).find(); }

}  // namespace dune::links
