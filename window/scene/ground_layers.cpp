#include <algorithm>
#include <cmath>

#include "window/scene/layers.h"
#include "window/scene/theme.h"

namespace dune::window {

namespace {

using nav::FaceId;

constexpr double kLift = 1.6e-4;  // of depth: ground over the level it lies on

}  // namespace

QColor kindColour(const std::string& colour) {
  const QColor read(QString::fromStdString(colour));
  return read.isValid() ? read : theme().ground;
}

namespace {

void addFace(DrawList& list, const nav::NavMesh& mesh, FaceId f, const GroundColours& colours, bool edges) {
  const std::uint32_t colour = colours.of(mesh.area[index(f)]), edge = packed(theme().faceEdge, colours.fresh() ? 0.45 : 0.25),
                      border = packed(theme().border, colours.fresh() ? 1 : 0.5);
  const std::size_t count = mesh.cornerCount(f);
  for (std::size_t i = 1; i + 1 < count; ++i) list.triangle(mesh.cornerAt(f, 0), mesh.cornerAt(f, i), mesh.cornerAt(f, i + 1), colour);
  for (std::size_t i = 0; i < count; ++i) {
    const FaceId g = mesh.acrossOf(f)[i];
    const Vec3 a = raised(mesh.cornerAt(f, i), 0.01), b = raised(mesh.cornerAt(f, (i + 1) % count), 0.01);
    if (g == nav::kNoFace)
      list.line(a, b, 2.2, border);
    else if (edges && index(f) < index(g))
      list.line(a, b, mesh.area[index(f)] == mesh.area[index(g)] ? 0.8 : 1.8, edge);
  }
}

/// A metre of it for a quarter is as far from plain ground as one for sixteen.
QColor costColour(const nav::KindRule& rule) {
  constexpr double kCheapest = 2, kDearest = 4;  // powers of two
  const QColor plain(theme().ground.rgb());
  const auto between = [&](const QColor& far, double share) {
    const double s = std::clamp(share, 0.0, 1.0);
    return QColor::fromRgbF(static_cast<float>(plain.redF() + (far.redF() - plain.redF()) * s),
                            static_cast<float>(plain.greenF() + (far.greenF() - plain.greenF()) * s),
                            static_cast<float>(plain.blueF() + (far.blueF() - plain.blueF()) * s));
  };
  if (rule.forbidden) return theme().bad;
  const double power = std::log2(rule.cost);
  return power < 0 ? between(theme().good, -power / kCheapest) : between(QColor(0x2b, 0x14, 0x04), power / kDearest);
}

/// Forbidden ground is crossed out, so that it is not told by colour alone.
void crossOut(DrawList& list, const nav::NavMesh& mesh, FaceId f) {
  const Vec3 centre = raised(nav::middleOf(mesh, f), 0.02);
  const double s = 0.4;
  const std::uint32_t ink = packed(theme().border, 0.8);
  list.line(centre + Vec3{-s, 0, -s}, centre + Vec3{s, 0, s}, 2.5, ink);
  list.line(centre + Vec3{-s, 0, s}, centre + Vec3{s, 0, -s}, 2.5, ink);
}

template <class ColourOf>
void addStandIn(DrawList& list, const level::Level& standIn, ColourOf&& colourOf) {
  for (std::size_t kind = 0; kind < standIn.objects.size(); ++kind) {
    const level::Object& object = standIn.objects[kind];
    for (const auto& t : object.triangles)
      list.triangle(object.vertices[t[0]], object.vertices[t[1]], object.vertices[t[2]], colourOf(kind));
  }
}

}  // namespace

GroundColours::GroundColours(const nav::NavMesh& mesh, const nav::Rules& rules, bool fresh, bool costs) : fresh_(fresh) {
  const double alpha = (theme().dark ? 0.45 : 0.55) * (fresh ? 1 : 0.55);
  for (std::size_t kind = 0; kind < mesh.kinds.size(); ++kind) {
    const QColor plain(theme().ground.rgb());
    const QColor colour = costs ? costColour(rules.of(kind)) : kind == 0 ? plain : kindColour(mesh.kinds[kind].colour);
    kinds_.push_back(packed(colour, costs ? std::min(1.0, alpha * 1.35) : alpha));
  }
}

DrawList groundLayer(const nav::NavMesh& mesh, const nav::Rules& rules, const GroundColours& colours,
                     const std::optional<std::vector<std::uint32_t>>& faces, bool edges) {
  constexpr double kLeastCross = 0.4;  // m²
  DrawList list;
  list.lift = kLift;
  for (std::size_t i = 0, count = faces ? faces->size() : mesh.faceCount(); i < count; ++i) {
    const FaceId f{faces ? (*faces)[i] : static_cast<std::uint32_t>(i)};
    addFace(list, mesh, f, colours, edges);
    if (!rules.passable(mesh, f) && nav::faceArea(mesh, f) >= kLeastCross) crossOut(list, mesh, f);
  }
  return list;
}

DrawList coarseGroundLayer(const level::Level& standIn, const level::Level* sketch, const GroundColours& colours) {
  DrawList list;
  list.lift = kLift;
  addStandIn(list, standIn, [&](std::size_t kind) { return colours.of(kind); });
  if (sketch) list.sketch = coarseGroundLayer(*sketch, nullptr, colours).triangles;
  return list;
}

namespace {

/// Lines over a patch at a fixed distance, so that patches beside each other are hatched as one.
void hatch(DrawList& list, const pipeline::Patch& patch, const Vec2& along, double spacing, double width, std::uint32_t ink) {
  const Vec2 across = leftOf(along);
  double low = 1e300, high = -1e300;
  for (const Vec3& c : patch.corners) low = std::min(low, glm::dot(plan(c), across)), high = std::max(high, glm::dot(plan(c), across));
  // Counted over the whole plan, so that lines of patches beside each other meet exactly.
  for (auto line = static_cast<std::int64_t>(std::ceil(low / spacing)); static_cast<double>(line) * spacing <= high; ++line) {
    const double at = static_cast<double>(line) * spacing;
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

DrawList comparedLayer(const nav::NavMesh& mesh, const level::Level* standIn) {
  DrawList list;
  list.lift = 1.5 * kLift;
  const std::uint32_t veil = packed(theme().agent[1], 0.16), border = packed(theme().agent[1], 1);
  if (standIn) addStandIn(list, *standIn, [&](std::size_t) { return veil; });
  for (std::uint32_t n = 0; n < mesh.faceCount(); ++n) {
    const FaceId f{n};
    for (std::size_t i = 0, count = mesh.cornerCount(f); i < count; ++i) {
      if (!standIn && i > 0 && i + 1 < count) list.triangle(mesh.cornerAt(f, 0), mesh.cornerAt(f, i), mesh.cornerAt(f, i + 1), veil);
      if (mesh.acrossOf(f)[i] == nav::kNoFace) list.line(raised(mesh.cornerAt(f, i)), raised(mesh.cornerAt(f, (i + 1) % count)), 2, border);
    }
  }
  return list;
}

namespace {

/// Distance between lines of the hatching, in metres: wider where so much ground changed that the lines could not be told apart any more.
double hatchSpacing(const pipeline::Change& change) {
  constexpr double kSpacing = 0.28, kMostLines = 20'000;
  double widths = 0;
  for (const pipeline::ChangedPlace& place : change.places)
    for (const pipeline::Patch& patch : place.ground.patches) {
      Box2 box;
      for (const Vec3& c : patch.corners) box.add(plan(c));
      widths += (box.max.x - box.min.x + box.max.y - box.min.y) * (place.gained ? 1.4 : 0.7);
    }
  return std::max(kSpacing, widths / kMostLines);
}

}  // namespace

DrawList changeLayer(const pipeline::Change& change, int chosen, std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lift = 3e-4;
  constexpr double kLeastLabel = 0.5;  // m²
  const double spacing = hatchSpacing(change);
  constexpr std::size_t kMostLabels = 8;
  for (std::size_t i = 0; i < change.places.size(); ++i) {
    const pipeline::ChangedPlace& place = change.places[i];
    const bool picked = static_cast<int>(i) == chosen;
    const QColor colour = place.gained ? theme().good : theme().bad;
    list.picks.push_back({thing(ThingKind::change, static_cast<int>(i)), {raised(place.ground.at)}});
    for (const pipeline::Patch& patch : place.ground.patches) {
      for (std::size_t k = 1; k + 1 < patch.corners.size(); ++k)
        list.triangle(raised(patch.corners[0], 0.015), raised(patch.corners[k], 0.015), raised(patch.corners[k + 1], 0.015),
                      packed(colour, 0.32));
      hatch(list, patch, glm::normalize(Vec2{1, 1}), spacing, picked ? 3 : 1.8, packed(colour, 0.95));
      if (place.gained) hatch(list, patch, glm::normalize(Vec2{1, -1}), spacing, picked ? 3 : 1.8, packed(colour, 0.95));
    }
    if (labels.size() < kMostLabels && (picked || place.ground.area >= kLeastLabel))
      labels.push_back(
          {raised(place.ground.at, 0.1),
           QStringLiteral("%1%2 m²").arg(place.gained ? QStringLiteral("+") : QStringLiteral("–")).arg(place.ground.area, 0, 'f', 1),
           colour});
  }
  return list;
}

}  // namespace dune::window
