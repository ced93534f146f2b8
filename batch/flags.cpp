#include "batch/flags.h"

#include <cstdio>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "batch/kind_flag.h"
#include "core/base/file.h"
#include "core/base/number_text.h"
#include "core/level/units.h"

namespace dune::batch {

namespace {

Result<std::vector<double>> numbers(const std::string& text, std::size_t count, const std::string& flag) {
  std::vector<double> values;
  std::size_t at = 0;
  while (at <= text.size()) {
    const std::size_t comma = std::min(text.find(',', at), text.size());
    const std::string cell = text.substr(at, comma - at);
    const auto x = numberFrom(cell);
    if (!x) return Problem{ProblemCode::usage, "'" + cell + "' is not a number.", flag + " " + text, "numbers with commas between them."};
    values.push_back(*x);
    at = comma + 1;
  }
  if (values.size() != count)
    return Problem{ProblemCode::usage, std::to_string(count) + " numbers are needed, " + std::to_string(values.size()) + " are given.",
                   flag + " " + text, ""};
  return values;
}

Result<level::RoleRule> parseRule(const std::string& text) {
  const std::size_t equals = text.rfind('=');
  const std::string word = equals == std::string::npos ? "" : text.substr(equals + 1);
  const std::pair<const char*, level::Role> kWords[] = {
      {"ground", level::Role::ground}, {"obstacle", level::Role::obstacle}, {"cut", level::Role::cuts}, {"ignore", level::Role::ignored}};
  for (const auto& [name, role] : kWords)
    if (word == name && equals > 0) return level::RoleRule{text.substr(0, equals), role};
  return Problem{ProblemCode::usage, "'" + text + "' is not a pattern and a role.", "--role", "'crate*=obstacle'."};
}

}  // namespace

Result<Vec3> parsePoint(const std::string& text, const std::string& flag) {
  const auto v = numbers(text, 3, flag);
  if (!v) return v.problem();
  return Vec3{(*v)[0], (*v)[1], (*v)[2]};
}

Result<Box2> parsePlanBox(const std::string& text, const std::string& flag) {
  const auto v = numbers(text, 4, flag);
  if (!v) return v.problem();
  if (!((*v)[0] < (*v)[2] && (*v)[1] < (*v)[3]))
    return Problem{ProblemCode::usage, "The box is empty.", flag + " " + text, "the lower x and z first, then the higher ones."};
  Box2 box;
  box.add(plan({(*v)[0], 0, (*v)[1]})), box.add(plan({(*v)[2], 0, (*v)[3]}));
  return box;
}

CLI::Option* PointFlag::add(CLI::App& app, const std::string& name, const std::string& help) {
  flag = name;
  return app.add_option(name, text, help)->type_name("X,Y,Z");
}

Result<Box3> parseBox(const std::string& text, const std::string& flag) {
  const auto v = numbers(text, 6, flag);
  if (!v) return v.problem();
  const Box3 box{{(*v)[0], (*v)[1], (*v)[2]}, {(*v)[3], (*v)[4], (*v)[5]}};
  if (!(box.min.x < box.max.x && box.min.y < box.max.y && box.min.z < box.max.z))
    return Problem{ProblemCode::usage, "The box is empty.", flag + " " + text, "the low corner first, then the high one."};
  return box;
}

void addMaxMemory(CLI::App& app, std::uint64_t& bytes) {
  app.add_option("--max-memory", bytes, "Memory that reading and building may take: bytes, or with k, m, g")
      ->transform(CLI::AsSizeValue(false))
      ->check(CLI::PositiveNumber)
      ->default_str("4g");
}

void BuildFlags::add(CLI::App& app) {
  app.add_option("--agent-radius", agent.radius, "Radius of the agent, metres")->capture_default_str();
  app.add_option("--agent-height", agent.height, "Headroom it needs, metres")->capture_default_str();
  app.add_option("--crouch-height", agent.crouchHeight, "Headroom it needs crouching, metres; 0: it never crouches")->capture_default_str();
  app.add_option("--crouch-cost", agent.crouchCost, "Cost of a metre where it must crouch")->capture_default_str();
  app.add_option("--max-slope", agent.maxSlope, "Steepest ground, degrees")->capture_default_str();
  app.add_option("--step-height", agent.stepHeight, "Highest step, metres")->capture_default_str();
  app.add_option("--max-drop", agent.maxDrop, "Deepest drop, metres; drops are found where the border is; 0: none")->capture_default_str();
  app.add_option("--max-jump", agent.maxJump, "Widest gap that it jumps, metres; jumps are found; 0: none")->capture_default_str();
  app.add_option("--max-rise", agent.maxRise, "How much higher it may land than where it jumps from, metres")->capture_default_str();
  app.add_option("--link-spacing", linkSpacing, "Between the places of the border at which a drop or jump is tried, metres")
      ->capture_default_str();
  app.add_option("--spacing", spacing, "Accepted for scripts; ground is measured on the triangles, without samples")->capture_default_str();
  app.add_option("--bounds", bounds, "Playable volume")->type_name("X0,Y0,Z0,X1,Y1,Z1");
  app.add_option("--seed", seeds, "Keep only ground that can be reached from here; may be repeated")
      ->type_name("X,Y,Z")
      ->allow_extra_args(false);
  app.add_option(
         "--role", roles,
         "What objects count as whose name fits a pattern: ground, obstacle, cut or ignore; may be repeated, the last one that fits counts")
      ->type_name("PATTERN=ROLE")
      ->allow_extra_args(false);
  app.add_option(
         "--kind", kinds,
         "Of what kind ground is on objects, or of materials, whose name fits a pattern, and what it costs a metre and to enter; may be "
         "repeated, the last one that fits counts")
      ->type_name("PATTERN=NAME[:COST[:ENTRY]|:forbidden]")
      ->allow_extra_args(false);
  app.add_option("--join", join, "Ground parted by a smaller gap is one ground, metres")->capture_default_str();
  app.add_option("--least-island", leastIsland.area, "Islands of less area go, m²; 0: none")->capture_default_str();
  app.add_option("--least-island-width", leastIsland.width, "Islands that are narrower go, metres; 0: none")->capture_default_str();
  app.add_option("--up", up, "The axis that points up in the file: y or z")->check(CLI::IsMember({"y", "z"}))->capture_default_str();
  app.add_option("--scale", scale, "Multiplies every coordinate")->capture_default_str();
  app.add_flag("--pieces", pieces,
               "Split objects into what hangs together, named by material and place: for files that come as one object");
  app.add_option("--pixel-size", pixelSize, "Of a height map or a tile map: metres a pixel; 1 and 1/32");
  app.add_option("--rise", rise, "Of a height map: metres from black to white, 20. Of a tile map: how high what is solid stands, 2");
  app.add_option("--solid", solid, "Of a tile map: the yes-or-no property that says what stands in the way")->capture_default_str();
  addMaxMemory(app, maxMemory);
  app.add_option("--agent", agentName, "The project's agent to use");
}

level::ImportOptions BuildFlags::importOf(const std::string& file) const {
  level::ImportOptions options = level::importFor(file);
  options.up = up == "z" ? level::UpAxis::z : level::UpAxis::y;
  options.scale = scale;
  options.pieces = pieces;
  options.spacing = pixelSize.value_or(options.spacing);
  options.rise = rise.value_or(options.rise);
  options.solid = solid;
  return options;
}

Result<level::World> BuildFlags::world(const std::vector<std::string>& files, Job& job) const {
  if (!(join >= 0 && join < 10))
    return Problem{ProblemCode::usage, "The joining distance makes no sense.", "--join", "a value from 0 to 10 m."};
  for (const double least : {leastIsland.area, leastIsland.width})
    if (!(least >= 0 && least <= level::kMostIsland))
      return Problem{ProblemCode::usage, "The least size of islands makes no sense.", "--least-island",
                     "0 for all islands, or up to 10 000."};
  if (!(spacing > 0 && spacing < 100))
    return Problem{ProblemCode::usage, "The spacing makes no sense.", "--spacing", "a value above 0 and below 100 m."};
  if (!(linkSpacing >= 0.01 && linkSpacing <= 10))
    return Problem{ProblemCode::usage, "The spacing of links makes no sense.", "--link-spacing", "a value from 0.01 to 10 m."};
  if (!(scale > 0) || !std::isfinite(scale))
    return Problem{ProblemCode::usage, "The scale must be above zero.", "--scale", "1 for metres, 0.01 for centimetres."};
  std::optional<Box3> box;
  if (!bounds.empty()) {
    const auto parsed = parseBox(bounds, "--bounds");
    if (!parsed) return parsed.problem();
    box = *parsed;
  }
  auto all = std::make_shared<level::Level>();
  for (const std::string& file : files) {
    auto level = level::importLevel(file, importOf(file), job);
    if (!level) return level.problem();
    if (const auto guess = level::guessUnits(**level, file, importOf(file)))
      std::fprintf(stderr, "%s: %s\n", file.c_str(), guess->reason.c_str());
    for (level::Object object : (*level)->objects) {
      if (files.size() > 1) object.file = std::filesystem::path(file).stem().string();
      all->objects.push_back(std::move(object));
    }
  }
  level::World world = level::plainWorld(std::move(all));
  world.bounds = box;
  world.joinDistance = join;
  world.leastIsland = leastIsland;
  world.linkSpacing = linkSpacing;
  std::vector<level::RoleRule> rules;
  for (const std::string& role : roles) {
    const auto rule = parseRule(role);
    if (!rule) return rule.problem();
    rules.push_back(*rule);
  }
  for (const level::RoleRule& rule : rules)
    if (std::ranges::none_of(world.level->objects, [&](const level::Object& o) { return level::fits(rule, o); }))
      std::fprintf(stderr, "--role: no object and no material has a name that fits '%s'.\n", rule.pattern.c_str());
  for (std::size_t i = 0; i < world.roles.size(); ++i) world.roles[i] = level::roleOf(world.level->objects[i], {}, rules);
  if (const auto problem = addKinds(kinds, world)) return *problem;
  for (const std::string& seed : seeds) {
    const auto p = parsePoint(seed, "--seed");
    if (!p) return p.problem();
    world.seeds.push_back(*p);
  }
  return world;
}

nlohmann::ordered_json pointJson(const Vec3& p) { return nlohmann::ordered_json::array({p.x, p.y, p.z}); }

void printJson(const nlohmann::ordered_json& json, int indent) {
  std::printf("%s\n", json.dump(indent, ' ', false, nlohmann::ordered_json::error_handler_t::replace).c_str());
}

bool isProject(const std::string& path) { return endingOf(path) == ".dunestep"; }

Result<std::size_t> agentNamed(const project::Project& project, const std::string& name) {
  const auto& agents = project.agents->agents;
  if (name.empty()) return std::size_t{0};
  if (const project::AgentKind* agent = project::agentNamed(*project.agents, name)) return static_cast<std::size_t>(agent - agents.data());
  return Problem{ProblemCode::usage, "The project has no agent named '" + name + "'.", "--agent", "'" + agents[0].name + "'."};
}

}  // namespace dune::batch
