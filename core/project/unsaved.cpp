#include "core/project/unsaved.h"

#include <nlohmann/json.hpp>

#include "core/base/text.h"
#include "core/project/file.h"

namespace dune::project {

namespace {

using Json = nlohmann::ordered_json;
constexpr const char* kFormat = "dune-step unsaved work";

}  // namespace

std::string unsavedToJson(const Unsaved& u) {
  const Json j{{"format", kFormat}, {"file", u.file}, {"stamp", u.stamp}, {"when", u.when}, {"project", toJson(u.project)}};
  return j.dump(-1, ' ', false, Json::error_handler_t::replace) + "\n";
}

Result<Unsaved> unsavedFromJson(const std::string& text) {
  try {
    const Json j = Json::parse(text);
    if (j.value("format", std::string()) != kFormat) return Problem{ProblemCode::notOurs, "This is no unsaved work of Dune Step.", "", ""};
    auto project = fromJson(j.at("project").get<std::string>());
    if (!project) return project.problem();
    return Unsaved{j.at("file").get<std::string>(), j.at("stamp").get<std::string>(), j.at("when").get<std::int64_t>(),
                   *std::move(project)};
  } catch (const std::exception& e) {  // the library throws on text that is no JSON, and on missing or wrong fields
    return Problem{ProblemCode::damaged, "The unsaved work cannot be read. " + sentenceOf(e.what()), "", ""};
  }
}

}  // namespace dune::project
