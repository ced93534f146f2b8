#include "window/scene/layers.h"

#include <algorithm>
#include <array>
#include <tuple>

#include "window/shell/theme.h"

namespace dune::window {

namespace {

using mesh::FaceId;

constexpr double kLift = 1.6e-4;  // of depth: ground over the level it lies on
constexpr double kAbove = 0.03;   // m: lines over the ground
Vec3 raised(const Vec3& p, double by = kAbove) { return p + Vec3{0, by, 0}; }

const level::AreaKind* kindNamed(const project::AreasSection& areas, const std::string& name) {
  for (const level::AreaKind& k : areas.kinds)
    if (k.name == name) return &k;
  return nullptr;
}

/// Chevrons along a flight where it is one way, lozenges where both.
void marks(DrawList& list, const std::vector<Vec3>& flight, bool oneWay, std::uint32_t colour) {
  for (const double t : {0.3, 0.55, 0.8}) {
    const double at = t * static_cast<double>(flight.size() - 1);
    const auto i = std::min(static_cast<std::size_t>(at), flight.size() - 2);
    const Vec3 p = glm::mix(flight[i], flight[i + 1], at - static_cast<double>(i)), d = flight[i + 1] - flight[i];
    if (glm::length(d) < 1e-6) continue;
    const Vec3 ahead = glm::normalize(d);
    Vec3 side = glm::cross(ahead, Vec3{0, 1, 0});
    side = glm::length(side) < 0.05 ? Vec3{1, 0, 0} : glm::normalize(side);
    const double s = 0.2;
    if (oneWay) {
      list.line(p + ahead * s, p - ahead * s + side * s, 2.5, colour);
      list.line(p + ahead * s, p - ahead * s - side * s, 2.5, colour);
    } else {
      list.triangle(p + ahead * s, p + side * (0.6 * s), p - ahead * s, colour);
      list.triangle(p + ahead * s, p - ahead * s, p - side * (0.6 * s), colour);
    }
  }
}

void arrow(DrawList& list, const Vec3& from, const Vec3& to, double width, std::uint32_t colour) {
  const Vec3 d = to - from;
  const double length = glm::length(d);
  list.line(from, to, width, colour);
  if (length < 1e-6) return;
  const Vec3 ahead = d / length, side = glm::normalize(glm::cross(ahead, Vec3{0, 1, 0.001}));
  const double s = std::min(0.35, length * 0.4);
  list.line(to, to - ahead * s + side * (s * 0.6), width, colour);
  list.line(to, to - ahead * s - side * (s * 0.6), width, colour);
}

/// Edges at which an object folds or ends, so that its shape can be read where the light makes no difference.
void featureEdges(const level::Object& object, DrawList& list, std::uint32_t colour) {
  constexpr double kFold = 0.9;  // cosine between neighbours
  auto key = [&](std::uint32_t v) {
    const Vec3& p = object.vertices[v];
    return std::array<std::int64_t, 3>{std::llround(p.x * 1e4), std::llround(p.y * 1e4), std::llround(p.z * 1e4)};
  };
  struct Side {
    std::array<std::int64_t, 3> a, b;
    std::uint32_t from, to;
    Vec3 normal;
  };
  std::vector<Side> sides;
  for (const auto& t : object.triangles) {
    const Vec3 n = glm::cross(object.vertices[t[1]] - object.vertices[t[0]], object.vertices[t[2]] - object.vertices[t[0]]);
    if (glm::length(n) < 1e-12) continue;
    for (std::size_t e = 0; e < 3; ++e) {
      Side s{key(t[e]), key(t[(e + 1) % 3]), t[e], t[(e + 1) % 3], glm::normalize(n)};
      if (s.b < s.a) std::swap(s.a, s.b);
      sides.push_back(s);
    }
  }
  std::stable_sort(sides.begin(), sides.end(), [](const Side& x, const Side& y) { return std::tie(x.a, x.b) < std::tie(y.a, y.b); });
  for (std::size_t i = 0; i < sides.size();) {
    std::size_t j = i + 1;
    while (j < sides.size() && sides[j].a == sides[i].a && sides[j].b == sides[i].b) ++j;
    if (j - i != 2 || std::abs(glm::dot(sides[i].normal, sides[i + 1].normal)) < kFold)
      list.line(object.vertices[sides[i].from], object.vertices[sides[i].to], 1.1, colour);
    i = j;
  }
}

}  // namespace

QColor kindColour(const level::AreaKind& kind) {
  QColor colour(QString::fromStdString(kind.colour));
  return colour.isValid() ? colour : theme().ground;
}

namespace {

/// What an object is filled with; nothing where it is an outline only.
std::optional<std::uint32_t> fillOf(const level::Object& object, level::Role role, const std::set<std::string>& chosen, bool byRole) {
  // What is not there is an outline only, but where its role is what one looks at.
  if (role == level::Role::ignored && !byRole) return std::nullopt;
  QColor colour = theme().level;
  if (byRole && role == level::Role::obstacle) colour = theme().obstacle;
  if (byRole && role == level::Role::cuts) colour = theme().cuts;
  if (role == level::Role::ignored) colour = theme().ignored;
  if (chosen.count(object.name)) colour = theme().chosen;
  return packed(colour, role == level::Role::ignored ? 0.35 : 1);
}

void addTriangle(const level::Object& object, std::size_t number, std::uint32_t colour, DrawList& list) {
  const auto& t = object.triangles[number];
  list.triangle(object.vertices[t[0]], object.vertices[t[1]], object.vertices[t[2]], colour);
}

}  // namespace

DrawList levelLayer(const level::Level& level, const std::vector<level::Role>& roles, const std::set<std::string>& chosen, bool byRole) {
  DrawList list;
  list.lit = true;
  constexpr std::size_t kMostWithEdges = 200000;
  const bool edges = level.triangleCount() <= kMostWithEdges;
  for (std::size_t o = 0; o < level.objects.size(); ++o) {
    const level::Object& object = level.objects[o];
    if (edges) featureEdges(object, list, packed(theme().text, roles[o] == level::Role::ignored ? 0.15 : 0.32));
    const auto fill = fillOf(object, roles[o], chosen, byRole);
    for (std::size_t t = 0; fill && t < object.triangles.size(); ++t) addTriangle(object, t, *fill, list);
  }
  return list;
}

DrawList detailLayer(const level::Level& level, std::span<const PickTree::Item> items, const std::vector<level::Role>& roles, const std::set<std::string>& chosen,
                     bool byRole) {
  DrawList list;
  list.lit = true;
  for (const PickTree::Item& item : items) {
    const level::Object& object = level.objects[item.object];
    if (const auto fill = fillOf(object, roles[item.object], chosen, byRole)) addTriangle(object, item.triangle, *fill, list);
  }
  return list;
}

DrawList figureLayer(const level::Level& level, const Box3& box, const level::Agent& agent, std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lit = true;
  // Beside the level, at the corner that looks at a new view, on the height of the nearest ground there.
  double ground = box.min.y;
  const Vec3 corner{box.max.x, 0, box.max.z};
  double nearest = 1e300;
  for (const level::Object& o : level.objects) {
    const Box3 b = o.bounds();
    const Vec3 p{std::clamp(corner.x, b.min.x, b.max.x), 0, std::clamp(corner.z, b.min.z, b.max.z)};
    const double d = glm::distance(p, corner);
    if (d < nearest) nearest = d, ground = b.size().y > 2 && b.min.y > -0.5 ? b.min.y : b.max.y;
  }
  const double gap = 1.2;
  const Vec3 person{box.max.x + gap, ground, box.max.z - 1.5}, kind{box.max.x + gap, ground, box.max.z - 7};
  list.body(person, 0.28, 1.8, packed(theme().quiet, 1));
  list.body(kind, agent.radius, agent.height, packed(theme().agent[0], 1));
  labels.push_back({person + Vec3{0, 1.9, 0}, QStringLiteral("1.8 m"), theme().quiet});
  labels.push_back({kind + Vec3{0, agent.height + 0.1, 0}, QString::fromStdString(agent.name), theme().agent[0]});
  return list;
}

DrawList sketchGrid(const Box3& box) {
  DrawList list;
  constexpr double kBeyond = 10;  // metres
  const Vec2 low = glm::floor(Vec2{box.min.x, box.min.z} - kBeyond), high = glm::ceil(Vec2{box.max.x, box.max.z} + kBeyond);
  auto ink = [&](double at) { return packed(theme().quiet, std::fmod(std::abs(at), 5) < 0.5 ? 0.5 : 0.16); };
  for (double x = low.x; x <= high.x; ++x) list.line({x, 0, low.y}, {x, 0, high.y}, 1, ink(x));
  for (double z = low.y; z <= high.y; ++z) list.line({low.x, 0, z}, {high.x, 0, z}, 1, ink(z));
  return list;
}

DrawList groundLayer(const mesh::NavMesh& mesh, bool fresh) {
  DrawList list;
  list.lift = kLift;
  const double alpha = (theme().dark ? 0.45 : 0.55) * (fresh ? 1 : 0.55);
  const std::uint32_t edge = packed(theme().faceEdge, fresh ? 0.45 : 0.25), border = packed(theme().border, fresh ? 1 : 0.5);
  for (std::uint32_t n = 0; n < mesh.faceCount(); ++n) {
    const FaceId f{n};
    const level::AreaKind& kind = mesh.kindOf(f);
    const std::uint32_t colour = packed(mesh.area[n] == 0 ? QColor(theme().ground.rgb()) : kindColour(kind), alpha);
    for (std::size_t i = 1, count = mesh.cornerCount(f); i + 1 < count; ++i)
      list.triangle(mesh.cornerAt(f, 0), mesh.cornerAt(f, i), mesh.cornerAt(f, i + 1), colour);
    for (std::size_t i = 0, count = mesh.cornerCount(f); i < count; ++i) {
      const FaceId g = mesh.acrossOf(f)[i];
      const Vec3 a = raised(mesh.cornerAt(f, i), 0.01), b = raised(mesh.cornerAt(f, (i + 1) % count), 0.01);
      if (g == mesh::kNoFace)
        list.line(a, b, 2.2, border);
      else if (index(f) < index(g))
        list.line(a, b, mesh.area[n] == mesh.area[index(g)] ? 0.8 : 1.8, edge);
    }
    // Forbidden ground is crossed out, so that it is not told by colour alone.
    if (!kind.forbidden || mesh::faceArea(mesh, f) < 0.4) continue;
    Vec3 centre{0};
    for (const std::uint32_t v : mesh.cornersOf(f)) centre += mesh.vertices[v];
    centre = raised(centre / static_cast<double>(mesh.cornerCount(f)), 0.02);
    const double s = 0.4;
    const std::uint32_t ink = packed(theme().border, 0.8);
    list.line(centre + Vec3{-s, 0, -s}, centre + Vec3{s, 0, s}, 2.5, ink);
    list.line(centre + Vec3{-s, 0, s}, centre + Vec3{s, 0, -s}, 2.5, ink);
  }
  return list;
}

namespace {

/// Lines over a patch at a fixed distance, so that patches beside each other are hatched as one.
void hatch(DrawList& list, const mesh::Patch& patch, const Vec2& along, double spacing, double width, std::uint32_t ink) {
  const Vec2 across = leftOf(along);
  double low = 1e300, high = -1e300;
  for (const Vec3& c : patch.corners) low = std::min(low, glm::dot(plan(c), across)), high = std::max(high, glm::dot(plan(c), across));
  for (double at = std::ceil(low / spacing) * spacing; at <= high; at += spacing) {
    std::vector<Vec3> ends;
    for (std::size_t i = 0; i < patch.corners.size(); ++i) {
      const Vec3 &a = patch.corners[i], &b = patch.corners[(i + 1) % patch.corners.size()];
      const double sa = glm::dot(plan(a), across) - at, sb = glm::dot(plan(b), across) - at;
      if ((sa < 0) != (sb < 0)) ends.push_back(glm::mix(a, b, sa / (sa - sb)));
    }
    if (ends.size() == 2) list.line(raised(ends[0]), raised(ends[1]), width, ink);
  }
}

}  // namespace

DrawList comparedLayer(const mesh::NavMesh& mesh) {
  DrawList list;
  list.lift = 1.5 * kLift;
  const std::uint32_t veil = packed(theme().agent[1], 0.16), border = packed(theme().agent[1], 1);
  for (std::uint32_t n = 0; n < mesh.faceCount(); ++n) {
    const FaceId f{n};
    for (std::size_t i = 0, count = mesh.cornerCount(f); i < count; ++i) {
      if (i > 0 && i + 1 < count) list.triangle(mesh.cornerAt(f, 0), mesh.cornerAt(f, i), mesh.cornerAt(f, i + 1), veil);
      if (mesh.acrossOf(f)[i] == mesh::kNoFace) list.line(raised(mesh.cornerAt(f, i)), raised(mesh.cornerAt(f, (i + 1) % count)), 2, border);
    }
  }
  return list;
}

DrawList changeLayer(const pipeline::Change& change, int chosen, std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lift = 3e-4;
  constexpr double kSpacing = 0.28, kLeastLabel = 0.5;  // m; m²
  constexpr std::size_t kMostLabels = 8;
  for (std::size_t i = 0; i < change.places.size(); ++i) {
    const pipeline::ChangedPlace& place = change.places[i];
    const bool picked = static_cast<int>(i) == chosen;
    const QColor colour = place.gained ? theme().good : theme().bad;
    for (const mesh::Patch& patch : place.ground.patches) {
      for (std::size_t k = 1; k + 1 < patch.corners.size(); ++k)
        list.triangle(raised(patch.corners[0], 0.015), raised(patch.corners[k], 0.015), raised(patch.corners[k + 1], 0.015), packed(colour, 0.32));
      hatch(list, patch, glm::normalize(Vec2{1, 1}), kSpacing, picked ? 3 : 1.8, packed(colour, 0.95));
      if (place.gained) hatch(list, patch, glm::normalize(Vec2{1, -1}), kSpacing, picked ? 3 : 1.8, packed(colour, 0.95));
    }
    if (labels.size() < kMostLabels && (picked || place.ground.area >= kLeastLabel))
      labels.push_back({raised(place.ground.at, 0.1),
                        QStringLiteral("%1%2 m²").arg(place.gained ? QStringLiteral("+") : QStringLiteral("–")).arg(place.ground.area, 0, 'f', 1), colour});
  }
  return list;
}

DrawList cardsLayer(const project::CardsSection& cards, const std::vector<pipeline::CardAnswer>& answers, int chosen, std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lift = 3e-4;
  for (const project::Card& card : cards.cards) {
    const auto answer = std::ranges::find(answers, card.id, &pipeline::CardAnswer::id);
    const bool known = answer != answers.end();
    const QColor colour = card.id == chosen ? theme().accent : !known ? theme().quiet : answer->explanation.walkable() ? theme().good : theme().bad;
    const Vec3 foot = raised(card.at), head = foot + Vec3{0, 1.1, 0};
    list.line(foot, head, 2.5, packed(colour, 1));
    list.disc(foot, 0.14, packed(colour, 1));
    if (!known) continue;
    const bool walkable = answer->explanation.walkable();
    QString text = QString::fromStdString(answer->explanation.decides.clause);
    if (walkable) text = text.section(QObject::tr(" around"), 0, 0);  // the mark says that there is enough
    constexpr int kMost = 46;  // letters; the whole sentence is in the sheet
    if (text.size() > kMost) text = text.left(kMost - 1).trimmed() + QStringLiteral("…");
    labels.push_back({head, QStringLiteral("%1 %2 %3").arg(card.id).arg(walkable ? QStringLiteral("✓") : QStringLiteral("✕"), text) +
                                (answer->before.empty() ? QString() : QObject::tr(" – changed")),
                      colour});
  }
  return list;
}

DrawList areasLayer(const project::AreasSection& areas, int chosen, std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lift = 2e-4;
  for (const level::AreaVolume& v : areas.volumes) {
    const level::AreaKind* kind = kindNamed(areas, v.kind);
    const QColor colour = v.id == chosen ? theme().accent : kind ? kindColour(*kind).darker(theme().dark ? 90 : 130) : theme().bad;
    Vec2 middle{0};
    const double base = std::max(v.bottom, std::min(0.0, v.top));
    for (std::size_t i = 0, n = v.outline.size(); i < n; ++i) {
      const Vec2 &a = v.outline[i], &b = v.outline[(i + 1) % n];
      for (const double y : {base + kAbove, v.top})
        list.line(lift(a, y), lift(b, y), v.id == chosen ? 3 : 1.8, packed(colour, y == v.top ? 0.55 : 1));
      list.line(lift(a, base), lift(a, v.top), 1, packed(colour, 0.55));
      middle += a / static_cast<double>(n);
    }
    labels.push_back({lift(middle, base + 0.1), QString::fromStdString(v.kind), colour});
  }
  return list;
}

DrawList linksLayer(const pipeline::Ground* ground, const project::LinksSection& links, int chosen, std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lift = 2e-4;
  for (const links::HandLink& l : links.links) {
    bool broken = false;
    if (ground)
      for (const links::Broken& b : ground->broken) broken |= b.id == l.id;
    const QColor colour = l.id == chosen ? theme().accent : broken ? theme().brokenLink : theme().link;
    const std::uint32_t ink = packed(colour, 1);
    const std::vector<Vec3> flight = links::flight(l.kind, raised(l.from, 0.08), raised(l.to, 0.08));
    for (std::size_t i = 0; i + 1 < flight.size(); ++i) list.dashed(flight[i], flight[i + 1], 0.12, l.id == chosen ? 4 : 3, ink);
    marks(list, flight, l.oneWay, ink);
    list.circle(raised(l.from), 0.25, 2, ink);
    list.circle(raised(l.to), 0.25, 2, ink);
    if (broken) labels.push_back({raised(l.to, 0.4), QStringLiteral("broken"), theme().brokenLink});
  }
  return list;
}

DrawList routeLayer(const route::PathAnswer& answer, std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lift = 4e-4;
  if (answer.points.empty()) return list;
  std::vector<Vec3> points;
  for (const Vec3& p : answer.points) points.push_back(raised(p, 0.06));
  std::size_t link = 0;
  for (std::size_t i = 0; i + 1 < points.size(); ++i) {
    while (link < answer.links.size() && answer.links[link].enter < i) ++link;
    if (link < answer.links.size() && answer.links[link].enter == i) {
      list.dashed(points[i], points[i + 1], 0.25, 5, packed(theme().route, 1));
      continue;
    }
    list.line(points[i], points[i + 1], 9, packed(theme().casing, 0.9));
  }
  link = 0;
  for (std::size_t i = 0; i + 1 < points.size(); ++i) {
    while (link < answer.links.size() && answer.links[link].enter < i) ++link;
    if (!(link < answer.links.size() && answer.links[link].enter == i))
      list.line(raised(points[i], 0.005), raised(points[i + 1], 0.005), 5, packed(theme().route, 1));
  }
  const std::uint32_t ink = packed(theme().route, 1);
  list.disc(points.front(), 0.3, ink);
  list.circle(points.back(), 0.4, 4, ink);
  list.disc(points.back(), 0.18, ink);
  if (answer.goal.moved() > 0.02 || answer.status != route::PathStatus::complete) {
    list.dashed(raised(answer.goal.asked, 0.06), points.back(), 0.2, 2.5, packed(theme().bad, 1));
    list.circle(raised(answer.goal.asked, 0.06), 0.4, 3, packed(theme().bad, 1));
  }
  labels.push_back({points.front(), QStringLiteral("start"), theme().route});
  labels.push_back({points.back(), answer.status == route::PathStatus::complete ? QStringLiteral("goal") : QStringLiteral("nearest place"),
                    theme().route});
  if (std::isfinite(answer.narrowest) && answer.narrowest < 3)
    labels.push_back({answer.narrowestAt, QStringLiteral("narrowest %1 m").arg(answer.narrowest, 0, 'f', 2), theme().warning});
  return list;
}

DrawList crowdLayer(const project::CrowdSection& crowd, const pipeline::Run* run, double frame, double agentHeight, int chosenAgent,
                    bool groups, bool wanted) {
  DrawList list;
  list.lit = true;
  list.lift = 2e-4;
  if (groups)
    for (const project::CrowdGroup& g : crowd.groups) {
      const std::uint32_t ink = packed(theme().agent[static_cast<std::size_t>(g.id - 1) % 6], 0.9);
      list.circle(raised(g.start), 0.35 + 0.12 * std::sqrt(g.count), 2.5, ink);
      list.circle(raised(g.goal), 0.3, 2.5, ink);
      list.circle(raised(g.goal), 0.12, 2.5, ink);
      const Vec3 from = raised(g.start, 0.1), to = raised(g.goal, 0.1);
      list.dashed(from, to, 0.4, 1.5, ink);
    }
  if (!run || run->trace.frameCount() == 0) return list;
  const crowd::Trace& trace = run->trace;
  const auto last = trace.frameCount() - 1;
  const auto f = std::min(last, static_cast<std::size_t>(std::max(0.0, frame)));
  for (std::size_t b = 0; b < trace.ids.size(); ++b) {
    const crowd::Sample& s = trace.at(f, b);
    const bool chosen = s.id == chosenAgent;
    const double radius = trace.radii[b] > 0 ? trace.radii[b] : 0.3;
    std::size_t group = 0, first = 0;
    for (; group < crowd.groups.size() && b >= first + static_cast<std::size_t>(crowd.groups[group].count); ++group)
      first += static_cast<std::size_t>(crowd.groups[group].count);
    QColor colour = chosen ? theme().accent : theme().agent[group % 6];
    if (s.state == crowd::State::arrived) colour = colour.lighter(theme().dark ? 80 : 135);
    list.body(s.at, radius, agentHeight * 0.92, packed(colour, 1));
    if (s.state == crowd::State::stuck) list.circle(raised(s.at, agentHeight + 0.1), radius * 1.2, 3, packed(theme().bad, 1));
    const Vec3 chest = raised(s.at, agentHeight * 0.6);
    if (glm::length(s.velocity) > 0.05) arrow(list, chest, chest + s.velocity * 0.7, 2.5, packed(theme().border, 1));
    if (wanted && glm::length(s.wanted) > 0.05) arrow(list, chest, chest + s.wanted * 0.7, 1.5, packed(theme().good, 1));
    if (!chosen) continue;
    const std::size_t from = f > 300 ? f - 300 : 0;
    for (std::size_t i = from; i + 3 < f; i += 3)
      list.line(raised(trace.at(i, b).at, 0.08), raised(trace.at(i + 3, b).at, 0.08), 3, packed(theme().accent, 0.8));
    list.circle(raised(s.at), radius * 1.5, 3, packed(theme().accent, 1));
  }
  return list;
}

DrawList cursorLayer(const ground::Explanation& e, const level::Agent& agent) {
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
