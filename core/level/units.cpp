// Levels are made for people-sized bodies: most objects are between a kerb and a house high, and a level is a room to a few kilometres
// wide. The ground is the largest flat surface of nearly every level, so the axis that it faces is up. Levels made to be seen from the side
// may break that rule, which is why nothing is changed by itself.

#include "core/level/units.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/median.h"
#include "core/base/text.h"

namespace dune::level {

namespace {

constexpr double kLeastWide = 2, kMostWide = 4000;   // metres of a level
constexpr double kLeastHigh = 0.03, kMostHigh = 40;  // metres of half of the objects
constexpr double kUsualWide = 60, kUsualHigh = 1.5;  // metres: between readings, the one nearest to these is likelier
constexpr std::size_t kFewObjects = 5;               // fewer say nothing about how high objects are
constexpr double kFacing = 0.95;                     // cosine: a surface within 18° of an axis faces it
constexpr std::size_t kStoreys = 100;                // slices of the level in which surfaces count together
constexpr double kMuchMore = 1.5, kTallerThanDeep = 1.2;

struct Unit {
  double metres;
  const char* name;
  double doubt;  // added to how far off it is, so that rare units need more evidence
};
constexpr Unit kUnits[] = {
    {0.01, "centimetres", 0}, {0.001, "millimetres", 0}, {0.0254, "inches", 0.5}, {100, "units of 100 m", 0.5}, {1000, "kilometres", 0.5}};

/// The area of the largest surface at one height, as if each axis were up, m². Surfaces that are nearly as high count together.
Vec3 largestStorey(const Level& level, const Box3& box) {
  std::array<std::array<double, kStoreys + 1>, 3> area{};
  for (const Object& object : level.objects)
    for (const auto& t : object.triangles) {
      const Vec3 &a = object.vertices[t[0]], &b = object.vertices[t[1]], &c = object.vertices[t[2]];
      const Vec3 normal = glm::cross(b - a, c - a);
      const double twice = glm::length(normal);
      for (int axis = 0; axis < 3; ++axis) {
        if (!(std::abs(normal[axis]) > kFacing * twice)) continue;
        const double extent = box.size()[axis], at = ((a + b + c) / 3.0 - box.min)[axis];
        area[static_cast<std::size_t>(axis)][extent > 0 ? static_cast<std::size_t>(at / extent * kStoreys) : 0] += twice / 2;
      }
    }
  return {std::ranges::max(area[0]), std::ranges::max(area[1]), std::ranges::max(area[2])};
}

/// Of the objects that are not flat, the middle one's extent along an axis, metres; 0 where there are too few.
double middleHeight(const Level& level, int axis) {
  std::vector<double> heights;
  for (const Object& object : level.objects)
    if (const Box3 box = object.bounds(); !box.empty() && box.size()[axis] > 0) heights.push_back(box.size()[axis]);
  if (heights.size() < kFewObjects) return 0;
  return medianOf(std::move(heights));
}

std::string metres(double value) { return text(value < 100 ? "%.3g m" : "%.0f m", value); }

bool strange(double wide, double high) {
  return wide < kLeastWide || wide > kMostWide || (high > 0 && (high < kLeastHigh || high > kMostHigh));
}

/// How far a reading is from usual, in powers of e.
double off(double wide, double high) {
  constexpr double kWideSaysLess = 0.3;  // levels differ more in width than crates in height
  const double width = std::abs(std::log(wide / kUsualWide));
  return high > 0 ? std::abs(std::log(high / kUsualHigh)) + kWideSaysLess * width : width;
}

const Unit* likelierUnit(double wide, double high) {
  const Unit* best = nullptr;
  double least = off(wide, high);
  for (const Unit& unit : kUnits)
    if (const double now = off(wide * unit.metres, high * unit.metres) + unit.doubt; now < least) least = now, best = &unit;
  return best;
}

}  // namespace

std::optional<UnitsGuess> guessUnits(const Level& file, const std::string& path, const ImportOptions& read) {
  if (isHeightMap(path) || isTileMap(path)) return std::nullopt;
  const Box3 box = file.bounds();
  if (box.empty()) return std::nullopt;
  const Vec3 size = box.size(), area = largestStorey(file, box);
  UnitsGuess guess{read, {}};
  const bool turned = area.z > kMuchMore * area.y && area.z > area.x && size.y > kTallerThanDeep * size.z;
  if (turned) {
    guess.read.up = read.up == UpAxis::y ? UpAxis::z : UpAxis::y;
    const std::string against =
        area.y > 0 ? text("is %.1f times as large as the largest that faces up", area.z / area.y) : std::string("is alone: none faces up");
    guess.reason = "Its largest flat surface faces sideways and " + against + ", and it is " + metres(size.y) + " high but " +
                   metres(size.z) + " deep: is " + (guess.read.up == UpAxis::z ? "Z" : "Y") + " up in the file?";
  }
  const double wide = std::max(size.x, turned ? size.y : size.z), high = middleHeight(file, turned ? 2 : 1);
  const Unit* unit = wide > 0 && strange(wide, high) ? likelierUnit(wide, high) : nullptr;
  if (unit) {
    guess.read.scale = read.scale * unit->metres;
    const std::string heights = high > 0 ? ", and half of its objects are higher than " + metres(high) : std::string();
    guess.reason += (guess.reason.empty() ? "It is " : " It is ") + metres(wide) + " wide" + heights + ": in " + unit->name +
                    " it would be " + metres(wide * unit->metres) + " wide.";
  }
  if (guess.reason.empty()) return std::nullopt;
  return guess;
}

std::string howToRead(const ImportOptions& now, const ImportOptions& guessed) {
  std::string how;
  if (guessed.scale != now.scale) {
    constexpr double kSame = 1e-9;
    const auto unit = std::ranges::find_if(kUnits, [&](const Unit& u) { return std::abs(guessed.scale / now.scale - u.metres) < kSame; });
    how = unit != std::end(kUnits) ? unit->name : text("scale %g", guessed.scale);
  }
  if (guessed.up != now.up) how += std::string(how.empty() ? "" : ", ") + (guessed.up == UpAxis::z ? "Z up" : "Y up");
  return "Use " + how;
}

}  // namespace dune::level
