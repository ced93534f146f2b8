#include "window/scene/layers.h"

#include "window/scene/theme.h"

namespace dune::window {

DrawList cursorLayer(const ground::Explanation& e, const nav::Agent& agent) {
  DrawList list;
  list.lift = 3e-4;
  const bool fits = e.walkable();
  const QColor colour = fits ? theme().good : theme().bad;
  const Vec3 feet = raised(e.at, 0.02), crown = feet + Vec3{0, agent.height, 0};
  list.circle(feet, agent.radius, 2.5, packed(colour, 1));
  list.circle(crown, agent.radius, 1.2, packed(colour, 0.7));
  for (int i = 0; i < 4; ++i) {
    const double a = i * kPi / 2;
    const Vec3 out{agent.radius * std::cos(a), 0, agent.radius * std::sin(a)};
    list.line(feet + out, crown + out, 1.2, packed(colour, 0.7));
  }
  if (fits) {
    list.disc(feet, agent.radius, packed(colour, 0.5));
  } else {
    const double s = agent.radius * 0.7;
    list.line(feet + Vec3{-s, 0, -s}, feet + Vec3{s, 0, s}, 3, packed(colour, 1));
    list.line(feet + Vec3{-s, 0, s}, feet + Vec3{s, 0, -s}, 3, packed(colour, 1));
  }
  return list;
}

}  // namespace dune::window
