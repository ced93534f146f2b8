// Assimp reads the formats; this file turns its scene into plain objects and refuses what cannot be used. Exceptions of
// the library stop here. A node that holds meshes becomes one object, named after the node (in OBJ: the group or object).

#include "core/level/import.h"

#include <assimp/importerdesc.h>
#include <assimp/postprocess.h>
#include <assimp/scene.h>

#include <algorithm>
#include <assimp/Importer.hpp>
#include <filesystem>
#include <map>

namespace dune::level {

namespace {

constexpr double kFarthest = 60000;  // metres; beyond it the plan lattice would overflow

Problem unreadable(const std::string& path, const std::string& what, const std::string& advice) {
  return {ProblemCode::unreadable, what, path, advice};
}

Vec3 place(const aiVector3D& p, const aiMatrix4x4& m, const ImportOptions& options) {
  const double x = p.x, y = p.y, z = p.z;
  const Vec3 q{m.a1 * x + m.a2 * y + m.a3 * z + m.a4, m.b1 * x + m.b2 * y + m.b3 * z + m.b4, m.c1 * x + m.c2 * y + m.c3 * z + m.c4};
  const Vec3 s = q * options.scale;
  return options.up == UpAxis::y ? s : Vec3{s.x, s.z, -s.y};
}

/// Walks the node tree, gathering an object a node.
class Gatherer {
 public:
  Gatherer(const aiScene& scene, const ImportOptions& options, Level& level) : scene_(scene), options_(options), level_(level) {}

  void visit(const aiNode& node, const aiMatrix4x4& above) {
    const aiMatrix4x4 here = above * node.mTransformation;
    if (node.mNumMeshes > 0) {
      Object object;
      object.name = uniqueName(node.mName.C_Str());
      for (unsigned i = 0; i < node.mNumMeshes; ++i) append(object, *scene_.mMeshes[node.mMeshes[i]], here);
      if (!object.triangles.empty()) level_.objects.push_back(std::move(object));
    }
    for (unsigned i = 0; i < node.mNumChildren; ++i) visit(*node.mChildren[i], here);
  }

 private:
  std::string uniqueName(std::string name) {
    if (name.empty()) name = "object";
    const int count = ++used_[name];
    return count == 1 ? name : name + " (" + std::to_string(count) + ")";
  }

  void append(Object& object, const aiMesh& mesh, const aiMatrix4x4& here) {
    const auto base = static_cast<std::uint32_t>(object.vertices.size());
    for (unsigned i = 0; i < mesh.mNumVertices; ++i) object.vertices.push_back(place(mesh.mVertices[i], here, options_));
    for (unsigned i = 0; i < mesh.mNumFaces; ++i) {
      const aiFace& face = mesh.mFaces[i];
      if (face.mNumIndices == 3) object.triangles.push_back({base + face.mIndices[0], base + face.mIndices[1], base + face.mIndices[2]});
    }
  }

  const aiScene& scene_;
  const ImportOptions& options_;
  Level& level_;
  std::map<std::string, int> used_;
};

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

bool knownEnding(const std::string& path) {
  std::string ending = std::filesystem::path(path).extension().string();
  std::transform(ending.begin(), ending.end(), ending.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return ending == ".obj" || ending == ".gltf" || ending == ".glb";
}

}  // namespace

Result<std::shared_ptr<const Level>> importLevel(const std::string& path, const ImportOptions& options, Job& job) {
  std::error_code error;
  if (!std::filesystem::is_regular_file(path, error)) return unreadable(path, "There is no such file.", "the full path of a level file.");
  if (!knownEnding(path))
    return Problem{ProblemCode::notOurs, "This is not a level file that can be read.", path, "an .obj, .gltf or .glb file."};
  if (!(options.scale > 0) || !std::isfinite(options.scale))
    return Problem{ProblemCode::usage, "The scale must be above zero.", path, "1 for metres, 0.01 for centimetres."};
  auto level = std::make_shared<Level>();
  try {
    Assimp::Importer importer;
    importer.SetPropertyInteger(AI_CONFIG_PP_SBP_REMOVE, aiPrimitiveType_POINT | aiPrimitiveType_LINE);
    const aiScene* scene = importer.ReadFile(path, aiProcess_Triangulate | aiProcess_SortByPType);
    if (job.cancelled()) return Job::cancelledProblem();
    if (!scene || !scene->mRootNode || (scene->mFlags & AI_SCENE_FLAGS_INCOMPLETE))
      return Problem{ProblemCode::damaged, std::string("The file cannot be read: ") + importer.GetErrorString(), path,
                     "exporting it again."};
    Gatherer(*scene, options, *level).visit(*scene->mRootNode, aiMatrix4x4());
  } catch (const std::exception& e) {
    return Problem{ProblemCode::damaged, std::string("The file cannot be read: ") + e.what(), path, "exporting it again."};
  }
  if (level->objects.empty()) return Problem{ProblemCode::unusable, "The file holds no triangles.", path, "exporting the meshes too."};
  if (auto problem = checkNumbers(*level, path)) return *problem;
  return std::shared_ptr<const Level>(std::move(level));
}

}  // namespace dune::level
