#include "core/pipeline/level_review.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/ground/triangle.h"

namespace dune::pipeline {

namespace {

using level::Role;
using review::Finding;
using review::Severity;

constexpr double kNearGround = 0.25;  // m above or below ground: an object whose foot is there stands on it
constexpr double kMatters = 0.3;      // m: smaller things than this nobody misses
constexpr double kFloorSlope = 45;    // degrees: what is steeper is no floor
constexpr double kFloorShare = 0.2;   // of the largest floor's area: smaller ones are tables and crates

Finding finding(std::string code, Severity severity, std::string sentence, std::string why, std::string advice) {
  Finding f;
  f.code = std::move(code), f.severity = severity;
  f.at = Vec3(std::numeric_limits<double>::quiet_NaN());  // about the whole level, unless said otherwise
  f.sentence = std::move(sentence), f.why = std::move(why), f.advice = std::move(advice);
  return f;
}

/// An object of ground under the foot of another, or null. Asked at the foot's middle and its corners pulled in a little.
const level::Object* groundUnder(const level::Level& level, const std::vector<Role>& roles, const Box3& box) {
  const Vec3 middle{(box.min.x + box.max.x) / 2, box.min.y, (box.min.z + box.max.z) / 2};
  std::vector<Vec2> feet{plan(middle)};
  for (const double x : {box.min.x, box.max.x})
    for (const double z : {box.min.z, box.max.z}) feet.push_back(plan(glm::mix(middle, Vec3{x, box.min.y, z}, 0.8)));
  for (std::size_t o = 0; o < level.objects.size(); ++o) {
    if (roles[o] != Role::ground) continue;
    const level::Object& object = level.objects[o];
    const Box3 b = object.bounds();
    if (b.max.y < box.min.y - kNearGround || b.min.y > box.min.y + kNearGround || b.max.x < box.min.x || b.min.x > box.max.x ||
        b.max.z < box.min.z || b.min.z > box.max.z)
      continue;
    for (std::uint32_t t = 0; t < object.triangles.size(); ++t) {
      const auto triangle = ground::makeTriangle(object, t);
      if (!triangle || triangle->upright || triangle->slope > radians(60)) continue;
      for (const Vec2& q : feet)
        if (triangle->covers(q) && std::abs(triangle->heightAt(q) - box.min.y) <= kNearGround) return &object;
    }
  }
  return nullptr;
}

void ignoredOnGround(const level::Level& level, const std::vector<Role>& roles, std::vector<Finding>& findings) {
  for (std::size_t o = 0; o < level.objects.size(); ++o) {
    if (roles[o] != Role::ignored) continue;
    const Box3 box = level.objects[o].bounds();
    const Vec3 size = box.size();
    if (size.y < kMatters || std::max(size.x, size.z) < kMatters) continue;
    const level::Object* ground = groundUnder(level, roles, box);
    if (!ground) continue;
    const std::string& name = level.objects[o].name;
    Finding f =
        finding("ignored-on-ground", Severity::warning,
                text("%s is ignored, but stands %.1f m high on %s: agents walk through it.", name.c_str(), size.y, ground->name.c_str()),
                "It was marked as ignored, or a rule fits its name.", "marking it as an obstacle.");
    f.at = {box.centre().x, box.min.y, box.centre().z};
    f.measured = size.y;
    f.remedy = review::Remedy{"Mark as obstacle", review::GiveRole{{name}, Role::obstacle}};
    findings.push_back(std::move(f));
  }
}

void marksWithoutObject(const project::LevelSection& section, const level::Level& level, std::vector<Finding>& findings) {
  auto known = [&](auto&& fits) { return std::ranges::any_of(level.objects, fits); };
  for (const auto& [name, role] : section.roles) {
    if (known([&, name = name](const level::Object& o) { return o.name == name; })) continue;
    Finding f = finding("mark-without-object", Severity::hint,
                        text("%s is marked as %s, but is not in the level.", name.c_str(), level::roleName(role)),
                        "It was renamed or taken out in the program that the level comes from. The mark counts again when it is back.",
                        "removing the mark when it will not come back.");
    f.remedy = review::Remedy{"Remove the mark", review::RemoveMark{name}};
    findings.push_back(std::move(f));
  }
  for (const level::RoleRule& rule : section.rules) {
    if (known([&](const level::Object& o) { return level::fits(rule, o); })) continue;
    Finding f =
        finding("rule-without-object", Severity::hint, text("The rule %s fits no object of the level.", rule.pattern.c_str()),
                "The names in the level are other ones, or the objects are not there yet.", "another pattern, or removing the rule.");
    f.remedy = review::Remedy{"Remove the rule", review::RemoveRule{rule.pattern}};
    findings.push_back(std::move(f));
  }
}

void kindsWithoutObject(const project::AreasSection& areas, const level::Level& level, std::vector<Finding>& findings) {
  for (const level::GroundRule& rule : areas.byName) {
    const auto fits = [&](const level::Object& o) { return !level::kindRuns(o, std::span(&rule, 1), areas.kinds).empty(); };
    if (std::ranges::any_of(level.objects, fits)) continue;
    Finding f =
        finding("rule-without-object", Severity::hint,
                text("No object and no material of the level is named %s, which would be %s.", rule.pattern.c_str(), rule.kind.c_str()),
                "The names in the level are other ones, or the objects are not there yet.", "another name under Areas, By name.");
    f.remedy = review::Remedy{"Remove the name", review::RemoveRule{rule.pattern, true}};
    findings.push_back(std::move(f));
  }
}

/// Area on which one could stand were it ground, seen from above, m².
double flatArea(const level::Object& object) {
  double area = 0;
  for (std::uint32_t t = 0; t < object.triangles.size(); ++t)
    if (const auto triangle = ground::makeTriangle(object, t); triangle && !triangle->upright && triangle->slope < radians(kFloorSlope))
      area += std::abs(cross(triangle->q[1] - triangle->q[0], triangle->q[2] - triangle->q[0])) / 2;
  return area;
}

/// The objects that are most likely floors: the largest flat ones.
std::vector<std::string> floorsOf(const level::Level& level) {
  std::vector<double> areas;
  for (const level::Object& o : level.objects) areas.push_back(flatArea(o));
  const double least = std::ranges::max(areas) * kFloorShare;
  std::vector<std::string> names;
  for (std::size_t o = 0; o < areas.size(); ++o)
    if (areas[o] > 0 && areas[o] >= least) names.push_back(level.objects[o].name);
  return names;
}

void nothingIsGround(const level::Level& level, std::vector<Finding>& findings) {
  Finding f = finding("no-ground", Severity::error,
                      text("None of the %zu objects counts as ground: there is nothing to walk on.", level.objects.size()),
                      "All objects are marked as something else, or a rule fits them all.", "marking the floors as ground.");
  if (const auto floors = floorsOf(level); !floors.empty())
    f.remedy = review::Remedy{
        floors.size() == 1 ? "Mark " + floors[0] + " as ground" : text("Mark the %zu largest floors as ground", floors.size()),
        review::GiveRole{floors, Role::ground}};
  findings.push_back(std::move(f));
}

}  // namespace

std::vector<Finding> levelFindings(const project::Project& project, const level::Level& level) {
  const project::LevelSection& section = *project.level;
  std::vector<Role> roles;
  for (const level::Object& o : level.objects) roles.push_back(level::roleOf(o, section.roles, section.rules));
  std::vector<Finding> findings;
  const bool blocks = std::ranges::any_of(section.blockers, [](const level::Blocker& b) { return b.role == Role::ground; });
  if (!level.objects.empty() && !blocks && std::ranges::count(roles, Role::ground) == 0) nothingIsGround(level, findings);
  ignoredOnGround(level, roles, findings);
  marksWithoutObject(section, level, findings);
  kindsWithoutObject(*project.areas, level, findings);
  return findings;
}

std::vector<Finding> levelFindings(const project::Project& project, const LoadedLevel& level) {
  std::vector<Finding> findings = levelFindings(project, *level.level);
  for (std::size_t i = 0; i < level.files.size(); ++i) {
    const level::UnitsGuess* guess = guessOf(level, *project.level, i);
    if (!guess) continue;
    const std::string& name = project.level->files[i].path;
    Finding f = finding("units", Severity::hint, name + ": " + guess->reason,
                        "The program that the file comes from counts in other units, or has another axis up.",
                        "another scale or up axis of the file under Level; or leaving it, if it is as it should be.");
    f.remedy = review::Remedy{level::howToRead(level.files[i].import, guess->read), review::ReadFile{name, guess->read}};
    findings.push_back(std::move(f));
  }
  return findings;
}

LevelNews levelNews(const level::Level& before, const level::Level& now) {
  std::map<std::string, const level::Object*> then;
  for (const level::Object& o : before.objects) then[o.name] = &o;
  LevelNews news;
  for (const level::Object& o : now.objects) {
    const auto old = then.find(o.name);
    if (old == then.end()) {
      news.fresh.push_back(o.name);
      continue;
    }
    if (old->second->vertices != o.vertices || old->second->triangles != o.triangles) news.changed.push_back(o.name);
    then.erase(old);
  }
  for (const auto& [name, object] : then) news.gone.push_back(name);
  return news;
}

std::string LevelNews::sentence() const {
  if (empty()) return {};
  auto named = [](const std::vector<std::string>& names) {
    std::string list = names[0];
    constexpr std::size_t kMost = 3;
    for (std::size_t i = 1; i < std::min(names.size(), kMost); ++i) list += ", " + names[i];
    return names.size() > kMost ? list + text(" and %zu more", names.size() - kMost) : list;
  };
  std::string news = "The level was read again";
  for (const auto& [word, names] : {std::pair("changed", &changed), std::pair("new", &fresh), std::pair("gone", &gone)})
    if (!names->empty()) news += text("; %zu %s: ", names->size(), word) + named(*names);
  return news + ".";
}

}  // namespace dune::pipeline
