#include <cstdio>
#include <nlohmann/json.hpp>

#include "batch/flags.h"
#include "batch/flight_commands.h"
#include "core/base/file.h"
#include "core/exchange/csv.h"
#include "core/meshes/mesh_files.h"
#include "core/meshfile/space_file.h"
#include "core/system/threads.h"

namespace dune::batch {

namespace {

using Json = nlohmann::ordered_json;

struct PathFlags {
  std::string mesh, pairs, rules;
  PointFlag from, to;
  std::vector<std::string> via;
  std::optional<double> bendSpacing;
  bool json = false, faces = false, prepare = false;
};

Json end(const route::PathEnd& e) { return {{"asked", pointJson(e.asked)}, {"used", pointJson(e.used)}}; }

Json answerJson(const nav::NavMesh& mesh, const route::PathAnswer& a, bool withFaces) {
  Json points = Json::array(), faces = Json::array(), links = Json::array(), shares = Json::array();
  for (const Vec3& p : a.points) points.push_back(pointJson(p));
  if (withFaces)
    for (const nav::FaceId f : a.faces) faces.push_back(index(f));
  for (const route::LinkUse& l : a.links) links.push_back({{"id", l.id}, {"enter", l.enter}, {"leave", l.leave}});
  for (const route::AreaShare& s : a.shares) shares.push_back({{"area", mesh.kinds[s.area].name}, {"length", s.length}, {"cost", s.cost}});
  Json j{{"status", route::statusName(a.status)},
         {"length", a.length},
         {"cost", a.cost},
         {"optimalityBound", a.optimalityBound},
         {"points", points},
         {"faces", faces},
         {"links", links},
         {"start", end(a.start)},
         {"goal", end(a.goal)},
         {"areas", shares},
         {"linkCost", a.linkCost},
         {"sharpestTurn", a.sharpestTurn},
         {"steepest", a.steepest},
         {"note", a.note}};
  for (const route::Stretch& s : a.stretches) {
    Json stretch{{"from", pointJson(s.from)}, {"to", pointJson(s.to)}, {"length", s.length}, {"cost", s.cost}, {"entry", s.entry}};
    if (s.link >= 0)
      stretch["link"] = s.link;
    else
      stretch["area"] = mesh.kinds[s.kind].name;
    if (withFaces) j["stretches"].push_back(std::move(stretch));
  }
  if (!withFaces) j.erase("faces");
  for (const route::Opening& o : a.openings)
    j["openings"].push_back(
        {{"from", pointJson(o.from)}, {"to", pointJson(o.to)}, {"length", o.length}, {"sentence", route::wordsOf(o, mesh)}});
  if (std::isfinite(a.narrowest) && !a.points.empty()) j["narrowest"] = {{"width", a.narrowest}, {"at", pointJson(a.narrowestAt)}};
  return j;
}

void print(const route::PathAnswer& a) {
  std::printf("%s: length %.2f m, cost %.2f", route::statusName(a.status), a.length, a.cost);
  if (std::isfinite(a.narrowest) && !a.points.empty()) std::printf(", narrowest place %.2f m", a.narrowest);
  std::printf(", at most %.4f of the best\n", a.optimalityBound);
  if (!a.note.empty()) std::printf("%s\n", a.note.c_str());
  for (const Vec3& p : a.points) std::printf("%.3f,%.3f,%.3f\n", p.x, p.y, p.z);
}

/// Places of bodies are of their origins; the ground is looked for at their feet.
route::PathAnswer ask(const route::Field& field, route::Search& search, const Vec3& from, const Vec3& to) {
  const Vec3 feet{0, -field.mesh().agent.originHeight, 0};
  route::PathAnswer answer = route::findPath(field, search, from + feet, to + feet);
  answer.start.asked = from, answer.goal.asked = to;
  return answer;
}

route::PathAnswer askThrough(const route::Field& field, route::Search& search, std::vector<Vec3> places) {
  const Vec3 from = places.front(), to = places.back();
  for (Vec3& p : places) p -= Vec3{0, field.mesh().agent.originHeight, 0};
  route::PathAnswer answer = route::findPathThrough(field, search, places);
  answer.start.asked = from, answer.goal.asked = to;
  return answer;
}

int runPairs(const PathFlags& flags, const route::Field& field) {
  const auto text = readFile(flags.pairs);
  if (!text) return fail(text.problem());
  const auto pairs = exchange::pairsFromCsv(*text);
  if (!pairs) return fail(pairs.problem().within(flags.pairs));
  if (flags.prepare) {
    ThreadedJob job(interrupted(), progress());
    for (const route::Measure measure : {route::Measure::space, route::Measure::plan}) {
      const Outcome done = field.prepare(measure, job);
      if (!done && done.problem().code == ProblemCode::cancelled) return fail(done.problem());
      if (!done && measure == route::Measure::space) std::fprintf(stderr, "%s\n", done.problem().text().c_str());
    }
  }
  route::Search search(field, route::Answers::prepared);
  bool all = true;
  for (const exchange::Pair& pair : *pairs) {
    const route::PathAnswer answer = ask(field, search, pair.from, pair.to);
    all &= answer.status == route::PathStatus::complete;
    if (flags.json)
      printJson(answerJson(field.mesh(), answer, flags.faces), -1);
    else
      std::printf("%s %.3f %.3f\n", route::statusName(answer.status), answer.length, answer.cost);
  }
  return all ? 0 : 1;
}

Problem noSuchRules(const meshes::Content& content, const std::string& name) {
  std::string all;
  for (const meshfile::NamedRules& n : content.named) all += (all.empty() ? "'" : ", '") + n.name + "'";
  return {ProblemCode::usage, "The mesh holds no rules named '" + name + "'.", "--rules",
          all.empty() ? "leaving --rules out: each area's own costs apply." : "one of " + all + "."};
}

int runInSpace(const PathFlags& flags, bool one) {
  if (!flags.via.empty() || !flags.rules.empty() || flags.faces || flags.bendSpacing || flags.prepare)
    return fail({ProblemCode::usage, "Free space knows no --via, no --rules, no --faces, no --bend-spacing and no --prepare.", "path",
                 "leaving them out."});
  if (!one) return pathInSpace(flags.mesh, std::nullopt, flags.pairs, flags.json);
  const auto from = flags.from.value(), to = flags.to.value();
  if (!from) return fail(from.problem());
  if (!to) return fail(to.problem());
  return pathInSpace(flags.mesh, std::pair{*from, *to}, {}, flags.json);
}

int run(const PathFlags& flags) {
  const bool one = !flags.from.text.empty() && !flags.to.text.empty();
  if (one == !flags.pairs.empty())
    return fail({ProblemCode::usage, "Either --from and --to, or --pairs is needed.", "path", "--from X,Y,Z --to X,Y,Z"});
  if (meshfile::isSpaceFile(flags.mesh)) return runInSpace(flags, one);
  const auto content = meshes::readMesh(flags.mesh);
  if (!content) return fail(content.problem());
  const nav::Rules* rules = flags.rules.empty() ? &content->rules : content->rulesNamed(flags.rules);
  if (!rules) return fail(noSuchRules(*content, flags.rules));
  const route::Field field(content->mesh, *rules, flags.bendSpacing.value_or(route::Field::kBendSpacing));
  if (!one) return runPairs(flags, field);
  const auto from = flags.from.value(), to = flags.to.value();
  if (!from) return fail(from.problem());
  if (!to) return fail(to.problem());
  route::Search search(field);
  std::vector<Vec3> places{*from};
  for (const std::string& text : flags.via) {
    const auto place = parsePoint(text, "--via");
    if (!place) return fail(place.problem());
    places.push_back(*place);
  }
  places.push_back(*to);
  route::PathAnswer answer = flags.via.empty() ? ask(field, search, *from, *to) : askThrough(field, search, places);
  ThreadedJob job(interrupted(), progress());
  route::findOpenings(field, answer, job);
  if (flags.json)
    printJson(answerJson(content->mesh, answer, true));
  else
    print(answer);
  return answer.status == route::PathStatus::complete ? 0 : 1;
}

}  // namespace

std::function<int()> setUpPath(CLI::App& app) {
  auto flags = std::make_shared<PathFlags>();
  app.add_option("mesh", flags->mesh, "A .dsmesh or .json mesh, or a .dsfly")->required();
  flags->from.add(app, "--from", "Where the path starts");
  flags->to.add(app, "--to", "Where it should end");
  app.add_option("--via", flags->via, "A place to go over on the way; may be given several times, in order");
  app.add_option("--pairs", flags->pairs, "A CSV file, x0,y0,z0,x1,y1,z1 a line, no header");
  app.add_option("--rules", flags->rules, "The name of the rules to ask by");
  app.add_option("--bend-spacing", flags->bendSpacing,
                 "Metres between the places where a way may bend into ground of another cost, 0.15 without it; less: slower, and nearer to "
                 "the best")
      ->check(CLI::Range(0.005, 10.0));
  app.add_flag("--json", flags->json, "One JSON document; with --pairs one a line");
  app.add_flag("--prepare", flags->prepare,
               "With --pairs: prepares the ground first where it can, so that very many questions take less; the ways are as short")
      ->needs(app.get_option("--pairs"));
  app.add_flag("--faces", flags->faces, "With --pairs and --json: also the faces that each path crosses");
  return [flags] { return run(*flags); };
}

std::function<int()> setUpLocate(CLI::App& app) {
  struct LocateFlags {
    std::string mesh;
    PointFlag at;
    bool json = false;
  };
  auto flags = std::make_shared<LocateFlags>();
  app.add_option("mesh", flags->mesh, "A .dsmesh or .json mesh")->required();
  flags->at.add(app, "--at", "The place")->required();
  app.add_flag("--json", flags->json, "One JSON document");
  return [flags]() -> int {
    const auto at = flags->at.value();
    if (!at) return fail(at.problem());
    const auto content = meshes::readMesh(flags->mesh);
    if (!content) return fail(content.problem());
    const nav::NavMesh* mesh = &content->mesh;
    const nav::Place place = nav::Locator(*mesh).nearest(*at, 1e6);
    const double distance = place.valid() ? glm::distance(place.position, *at) : 0;
    if (flags->json) {
      Json j{{"found", place.valid()}};
      if (place.valid())
        j.update({{"position", pointJson(place.position)},
                  {"face", index(place.face)},
                  {"distance", distance},
                  {"area", mesh->kindOf(place.face).name},
                  {"forbidden", !content->rules.passable(*mesh, place.face)},
                  {"island", mesh->island[index(place.face)]}});
      printJson(j);
    } else if (place.valid()) {
      std::printf("%.4f,%.4f,%.4f  face %u, %.3f m away, %s%s\n", place.position.x, place.position.y, place.position.z, index(place.face),
                  distance, mesh->kindOf(place.face).name.c_str(), content->rules.passable(*mesh, place.face) ? "" : ", forbidden");
    } else {
      std::printf("The mesh is empty.\n");
    }
    return place.valid() ? 0 : 1;
  };
}

}  // namespace dune::batch
