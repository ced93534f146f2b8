#include "core/project/ready_scenes.h"

namespace dune::project {

namespace {

/// Makes groups whose numbers go on from those that are there.
class Adder {
 public:
  Adder(Project& project, const Vec3& at, double radius, const std::string& name)
      : project_(project), at_(at), apart_(2.3 * radius), radius_(radius), name_(name) {}

  CrowdGroup group(const Vec3& from, const Vec3& to, int count) const {
    CrowdGroup g;
    g.start = at_ + from, g.goal = at_ + to, g.count = count, g.scene = name_;
    return g;
  }
  CrowdGroup ring(double radius, int count) const {
    CrowdGroup g = group({}, {}, count);
    g.startForm = StartForm::ring, g.startRadius = radius;
    return g;
  }
  void add(CrowdGroup g) {
    g.id = nextId(project_.crowd->groups);
    edit(project_.crowd, [&](CrowdSection& s) { s.groups.push_back(g); });
  }
  void wall(const Vec3& middle, const Vec3& size) {
    level::Blocker b;
    b.id = nextId(project_.level->blockers);
    b.shape = level::BlockerShape::box, b.at = at_ + middle, b.size = size;
    edit(project_.level, [&](LevelSection& s) { s.blockers.push_back(b); });
  }
  double apart() const { return apart_; }
  double radius() const { return radius_; }

 private:
  Project& project_;
  Vec3 at_;
  double apart_, radius_;
  const std::string& name_;
};

void addRingSwap(Adder& adder) {
  constexpr int kBodies = 16;
  CrowdGroup g = adder.ring(std::max(4.0, kBodies * adder.apart() / kPi), kBodies);
  g.goalKind = GoalKind::across;
  adder.add(g);
}

void addMeeting(Adder& adder) {
  const double far = 9 + 2 * adder.radius();
  adder.add(adder.group({-far, 0, 0}, {far, 0, 0}, 12));
  adder.add(adder.group({far, 0, 0}, {-far, 0, 0}, 12));
}

void addDoor(Adder& adder) {
  const double half = 2 * adder.radius(), wide = 6;  // of the door, and of the wall on each side of it; metres
  adder.wall({0, 0, -half - wide / 2}, {0.3, 2.5, wide});
  adder.wall({0, 0, half + wide / 2}, {0.3, 2.5, wide});
  adder.add(adder.group({-6, 0, 0}, {6, 0, 0}, 20));
}

void addTarget(Adder& adder) { adder.add(adder.ring(10, 30)); }

void addThousands(Adder& adder) {
  CrowdGroup g = adder.group({}, {}, 2000);
  g.goalKind = GoalKind::across;
  adder.add(g);
}

}  // namespace

const char* readySceneName(ReadyScene scene) {
  constexpr const char* kNames[kReadyScenes] = {"Ring that swaps places", "Two groups that meet", "A door", "A crowd round a target",
                                                "Two thousand"};
  return kNames[static_cast<std::size_t>(scene)];
}

void addReadyScene(Project& project, ReadyScene scene, const Vec3& at, double radius, const std::string& name) {
  Adder adder(project, at, radius, name);
  switch (scene) {
    case ReadyScene::ringSwap:
      return addRingSwap(adder);
    case ReadyScene::meeting:
      return addMeeting(adder);
    case ReadyScene::door:
      return addDoor(adder);
    case ReadyScene::target:
      return addTarget(adder);
    case ReadyScene::thousands:
      return addThousands(adder);
  }
}

}  // namespace dune::project
