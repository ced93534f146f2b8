#include "core/exchange/findings_files.h"

#include <map>
#include <nlohmann/json.hpp>

#include "core/exchange/junit.h"
#include "core/review/kinds.h"
#include "core/review/subject.h"

namespace dune::exchange {

namespace {

using Json = nlohmann::ordered_json;
using review::Finding;
using review::Severity;

Json json(const Finding& f) {
  Json j{{"code", f.code},         {"severity", review::severityName(f.severity)},
         {"sentence", f.sentence}, {"why", f.why},
         {"advice", f.advice},     {"at", {f.at.x, f.at.y, f.at.z}},
         {"measured", f.measured}, {"limit", f.limit}};
  if (f.timed()) j["time"] = f.time, j["from"] = f.from, j["until"] = f.until;
  if (f.agent >= 0) j["agent"] = f.agent;
  if (!f.others.empty()) j["others"] = f.others;
  return j;
}

}  // namespace

Json findingsJson(const std::vector<Finding>& findings, std::size_t muted) {
  Json list = Json::array();
  for (const Finding& f : findings) list.push_back(json(f));
  Json j{{"findings", list}};
  if (muted > 0) j["muted"] = muted;
  return j;
}

Json findingsSarif(const std::vector<Finding>& findings, const std::string& input, const std::string& version) {
  Json results = Json::array();
  for (const Finding& f : findings) {
    results.push_back({{"ruleId", f.code},
                       {"level", f.severity == Severity::hint ? "note" : review::severityName(f.severity)},
                       {"message", {{"text", f.sentence + " " + f.why}}},
                       {"locations", {{{"physicalLocation", {{"artifactLocation", {{"uri", input}}}}}}}},
                       {"properties", json(f)}});
    if (!f.muted.empty()) results.back()["suppressions"] = {{{"kind", "external"}, {"justification", f.muted}}};
  }
  Json rules = Json::array();
  for (const review::FindingKind& k : review::findingKinds())
    rules.push_back({{"id", k.code}, {"shortDescription", {{"text", k.title}}}, {"help", {{"text", k.remedy}}}});
  return {{"version", "2.1.0"},
          {"$schema", "https://json.schemastore.org/sarif-2.1.0.json"},
          {"runs", {{{"tool", {{"driver", {{"name", "Dune Step"}, {"version", version}, {"rules", rules}}}}}, {"results", results}}}}};
}

std::string findingsJunit(const std::vector<Finding>& findings) {
  std::vector<TestCase> cases;
  for (const review::FindingKind& k : review::findingKinds()) {
    TestCase test{"findings", k.title, {}};
    for (const Finding& f : findings)
      if (f.code == k.code && f.severity != Severity::hint) test.failures.push_back(f.sentence + " " + f.why);
    cases.push_back(std::move(test));
  }
  return junit("Dune Step findings", cases);
}

Result<std::multiset<std::string>> subjectsFromJson(const std::string& text) {
  const Problem none{ProblemCode::damaged, "The file has no findings.", "", "what inspect writes with --format json."};
  const auto parsed = nlohmann::json::parse(text, nullptr, false);
  if (!parsed.is_object() || !parsed.contains("findings") || !parsed["findings"].is_array()) return none;
  std::multiset<std::string> subjects;
  for (const auto& f : parsed["findings"]) {
    if (!f.is_object() || !f.contains("code") || !f["code"].is_string()) return none;
    Vec3 at(std::numeric_limits<double>::quiet_NaN());  // not a number is written as null
    if (f.contains("at") && f["at"].is_array() && f["at"].size() == 3)
      for (int axis = 0; axis < 3; ++axis)
        if (const auto& v = f["at"][static_cast<std::size_t>(axis)]; v.is_number()) at[axis] = v.get<double>();
    const bool agent = f.contains("agent") && f["agent"].is_number_integer();
    subjects.insert(review::subjectOf(f["code"].get<std::string>(), agent ? f["agent"].get<int>() : -1, at));
  }
  return subjects;
}

std::vector<Finding> without(std::vector<Finding> findings, std::multiset<std::string> known) {
  std::erase_if(findings, [&](const Finding& f) {
    const auto there = known.find(review::subjectOf(f));
    if (there == known.end()) return false;
    known.erase(there);
    return true;
  });
  return findings;
}

}  // namespace dune::exchange
