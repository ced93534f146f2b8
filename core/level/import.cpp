// The import library can crash, hang or eat memory on broken files, so it runs in a process of its own; here it is started, its
// answer is checked, and whatever happened there becomes a Problem that names the file.

#include "core/level/import.h"

#include <algorithm>
#include <array>
#include <filesystem>
#include <set>

#include "core/base/file.h"
#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/level/pieces.h"
#include "core/level/wire.h"
#include "core/system/process.h"

namespace dune::level {

namespace {

namespace fs = std::filesystem;

constexpr double kMostSeconds = 600;  // five million triangles take well under a minute
constexpr const char* kProgram = "dune-step-import";

bool knownEnding(const std::string& path) {
  constexpr std::array<std::string_view, 10> kKnown{".obj", ".gltf", ".glb", ".ply", ".stl", ".dae", ".png", ".tmx", ".tmj", ".json"};
  return std::ranges::count(kKnown, endingOf(path)) > 0;
}

/// The reading program lies beside ours when installed, and in its own folder of a build.
std::string readingProgram() {
  std::error_code error;
  const fs::path folder = fs::read_symlink("/proc/self/exe", error).parent_path();
  for (const char* way : {".", "../import", "../../import"})
    if (const fs::path program = folder / way / kProgram; fs::exists(program, error)) return program.string();
  return (folder / kProgram).string();
}

std::optional<Problem> checkRequest(const std::string& path, const ImportOptions& options) {
  std::error_code error;
  if (!fs::is_regular_file(path, error))
    return Problem{ProblemCode::unreadable, "There is no such file.", path, "the full path of a level file."};
  if (!knownEnding(path))
    return Problem{ProblemCode::notOurs, "This is not a level file that can be read.", path,
                   "an .obj, .gltf, .glb, .ply, .stl, .dae, .png, .tmx or .tmj file."};
  if (!(options.scale > 0) || !std::isfinite(options.scale))
    return Problem{ProblemCode::usage, "The scale must be above zero.", path, "1 for metres, 0.01 for centimetres."};
  if (!(options.spacing > 0) || !std::isfinite(options.spacing) || !std::isfinite(options.rise))
    return Problem{ProblemCode::usage, "The size of a pixel or the height makes no sense.", path, "metres a pixel above zero."};
  return std::nullopt;
}

Result<Level> readApart(const std::string& path, const ImportOptions& options, const Job& job, const Progress& progress) {
  const std::size_t memory = job.memoryLimit();
  const std::string limit = text("%.0f MiB", static_cast<double>(memory) / 1024 / 1024);
  auto end = runProcess({readingProgram(), path, std::to_string(memory), options.solid}, {kMostSeconds, memory}, job, progress);
  if (!end) return end.problem();
  switch (end->how) {
    case ProcessEnd::How::tookTooLong:
      return Problem{ProblemCode::damaged, text("Reading the file did not end within %.0f seconds.", kMostSeconds), path,
                     "exporting it again."};
    case ProcessEnd::How::saidTooMuch:
      return Problem{ProblemCode::overLimit, "The level in the file takes more than " + limit + " of memory.", path,
                     "a higher limit, or a file in parts."};
    case ProcessEnd::How::killedBySignal:
      return Problem{ProblemCode::damaged, text("The file cannot be read: reading it crashed (signal %d).", end->number), path,
                     "exporting it again."};
    case ProcessEnd::How::exited:
      break;
  }
  auto level = fromWire(end->output);
  if (!level) return Problem{ProblemCode::damaged, "The file cannot be read: reading it ended early.", path, "exporting it again."};
  return *std::move(level);
}

/// Names are UTF-8, and still no two alike.
void nameApart(Level& level) {
  std::set<std::string> taken;
  for (Object& object : level.objects) {
    const std::string name = asUtf8(object.name);
    object.name = name;
    for (int n = 2; !taken.insert(object.name).second; ++n) object.name = name + " (" + std::to_string(n) + ")";
  }
}

void place(Level& level, const ImportOptions& options, bool pixels) {
  if (pixels) {
    for (Object& object : level.objects)
      for (Vec3& v : object.vertices.edit()) v *= Vec3{options.spacing, options.rise, options.spacing};
    return;
  }
  for (Object& object : level.objects)
    for (Vec3& v : object.vertices.edit()) v = placed(v, options);
}

std::optional<Problem> checkNumbers(const Level& level, const std::string& path) {
  for (const Object& object : level.objects)
    for (std::size_t i = 0; i < object.vertices.size(); ++i) {
      const Vec3& v = object.vertices[i];
      const std::string where = path + ", object " + object.name + ", vertex " + std::to_string(i);
      if (!isFinite(v)) return Problem{ProblemCode::damaged, "A coordinate is not a finite number.", where, "exporting the level again."};
      if (std::max({std::abs(v.x), std::abs(v.y), std::abs(v.z)}) > kFarthest)
        return Problem{ProblemCode::unusable, "A vertex lies more than 60 km from the origin.", where,
                       "another scale, or removing the stray vertex."};
    }
  return std::nullopt;
}

}  // namespace

bool isHeightMap(const std::string& path) { return endingOf(path) == ".png"; }

bool isTileMap(const std::string& path) {
  const std::string ending = endingOf(path);
  return ending == ".tmx" || ending == ".tmj" || ending == ".json";
}

ImportOptions importFor(const std::string& path) {
  ImportOptions options;
  if (isTileMap(path)) options.spacing = 1.0 / 32, options.rise = 2;
  return options;
}

Result<std::shared_ptr<const Level>> importLevel(const std::string& path, const ImportOptions& options, Job& job, double from,
                                                 double until) {
  if (auto problem = checkRequest(path, options)) return *problem;
  auto level = readApart(path, options, job, [&](double fraction) { job.advance(from + (until - from) * fraction); });
  if (!level) return level.problem();
  if (level->objects.empty()) return Problem{ProblemCode::unusable, "The file holds no triangles.", path, "exporting the meshes too."};
  nameApart(level.value());
  place(level.value(), options, isHeightMap(path) || isTileMap(path));
  if (auto problem = checkNumbers(*level, path)) return *problem;
  if (options.pieces) {
    level = inPieces(*std::move(level), path);
    if (!level) return level.problem();
    nameApart(level.value());
  }
  return std::shared_ptr<const Level>(std::make_shared<Level>(*std::move(level)));
}

}  // namespace dune::level
