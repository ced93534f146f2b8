// Assimp reads the formats; this file turns its scene into plain objects. Exceptions of the library stop here. A node that holds meshes
// becomes one object, named after the node (in OBJ: the group or object).

#include "import/scene.h"

#include <assimp/DefaultIOSystem.h>
#include <assimp/importerdesc.h>
#include <assimp/material.h>
#include <assimp/postprocess.h>
#include <assimp/scene.h>

#include <assimp/Importer.hpp>
#include <assimp/ProgressHandler.hpp>
#include <filesystem>
#include <map>
#include <set>

#include "core/base/text.h"
#include "import/uri.h"

namespace dune::import {

namespace {

using level::Level;
using level::Object;

Vec3 place(const aiVector3D& p, const aiMatrix4x4& m) {
  const double x = p.x, y = p.y, z = p.z;
  return {m.a1 * x + m.a2 * y + m.a3 * z + m.a4, m.b1 * x + m.b2 * y + m.b3 * z + m.b4, m.c1 * x + m.c2 * y + m.c3 * z + m.c4};
}

/// Walks the node tree, gathering an object a node.
class Gatherer {
 public:
  /// `file` names what has no name of its own.
  Gatherer(const aiScene& scene, Level& level, std::string file) : scene_(scene), level_(level), file_(std::move(file)) {}

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
    // Formats without names give none, or one of the library's own in angle brackets.
    if (name.empty() || name.starts_with('<')) name = file_;
    const int count = ++used_[name];
    return count == 1 ? name : name + " (" + std::to_string(count) + ")";
  }

  /// Formats without materials give one of the library's own.
  std::string materialOf(const aiMesh& mesh) const {
    if (mesh.mMaterialIndex >= scene_.mNumMaterials) return {};
    const std::string name = scene_.mMaterials[mesh.mMaterialIndex]->GetName().C_Str();
    return name == AI_DEFAULT_MATERIAL_NAME ? std::string() : name;
  }

  void append(Object& object, const aiMesh& mesh, const aiMatrix4x4& here) {
    const auto base = static_cast<std::uint32_t>(object.vertices.size());
    const std::string material = materialOf(mesh);
    if (object.materials.empty() || object.materials.back().name != material)
      object.materials.push_back({material, object.triangles.size()});
    const bool mirrored = here.Determinant() < 0;
    for (unsigned i = 0; i < mesh.mNumVertices; ++i) object.vertices.edit().push_back(place(mesh.mVertices[i], here));
    for (unsigned i = 0; i < mesh.mNumFaces; ++i) {
      const aiFace& face = mesh.mFaces[i];
      if (face.mNumIndices != 3) continue;
      // What is mirrored faces the other way (glTF 2.0, section 3.7.4).
      const unsigned second = mirrored ? 2 : 1;
      object.triangles.edit().push_back({base + face.mIndices[0], base + face.mIndices[second], base + face.mIndices[3 - second]});
    }
  }

  const aiScene& scene_;
  Level& level_;
  std::string file_;
  std::map<std::string, int> used_;
};

/// Cutting a polygon into triangles takes time that grows with the square of its corners.
std::optional<Problem> tooManyCorners(const aiScene& scene, const std::string& path) {
  constexpr unsigned kMostCorners = 10000;
  for (unsigned m = 0; m < scene.mNumMeshes; ++m)
    for (unsigned f = 0; f < scene.mMeshes[m]->mNumFaces; ++f)
      if (const unsigned corners = scene.mMeshes[m]->mFaces[f].mNumIndices; corners > kMostCorners)
        return Problem{ProblemCode::unusable, text("A face has %u corners; the most that are read are %u.", corners, kMostCorners),
                       path + ", " + scene.mMeshes[m]->mName.C_Str(), "exporting the level as triangles."};
  return std::nullopt;
}

constexpr double kReadByLibrary = 0.8;  // of the work

/// What the library says of its progress; it goes back to nothing between its own steps, and we do not.
class Listener : public Assimp::ProgressHandler {
 public:
  explicit Listener(const Progress& progress) : progress_(progress) {}
  bool Update(float fraction) override {
    if (progress_ && fraction > 0) progress_(std::min(1.0, static_cast<double>(fraction)) * kReadByLibrary);
    return true;
  }

 private:
  Progress progress_;
};

/// Opens the level and what it names, which may be written with escapes, as the library does not know; and remembers what it names.
class Files : public Assimp::DefaultIOSystem {
 public:
  Files(std::string level, std::set<std::string>& besides) : level_(std::move(level)), besides_(besides) {}
  bool Exists(const char* name) const override { return DefaultIOSystem::Exists(name) || DefaultIOSystem::Exists(unescaped(name).c_str()); }
  Assimp::IOStream* Open(const char* name, const char* mode) override {
    const std::string there = DefaultIOSystem::Exists(name) ? name : unescaped(name);
    Assimp::IOStream* stream = DefaultIOSystem::Open(there.c_str(), mode);
    if (stream && there != level_) besides_.insert(std::filesystem::path(there).lexically_normal().string());
    return stream;
  }

 private:
  std::string level_;
  std::set<std::string>& besides_;
};

}  // namespace

Result<Level> readScene(const std::string& path, const Progress& progress) {
  auto damaged = [&](const std::string& why) {
    return Problem{ProblemCode::damaged, "The file cannot be read: " + why, path, "exporting it again."};
  };
  try {
    std::set<std::string> besides;
    Assimp::Importer importer;
    importer.SetPropertyInteger(AI_CONFIG_PP_SBP_REMOVE, aiPrimitiveType_POINT | aiPrimitiveType_LINE);
    importer.SetIOHandler(new Files(path, besides));
    importer.SetProgressHandler(new Listener(progress));  // the importer deletes both
    const aiScene* scene = importer.ReadFile(path, 0);
    if (scene)
      if (auto problem = tooManyCorners(*scene, path)) return *problem;
    if (scene) scene = importer.ApplyPostProcessing(aiProcess_Triangulate | aiProcess_SortByPType);
    if (!scene || !scene->mRootNode || (scene->mFlags & AI_SCENE_FLAGS_INCOMPLETE)) return damaged(importer.GetErrorString());
    Level level;
    Gatherer(*scene, level, std::filesystem::path(path).stem().string()).visit(*scene->mRootNode, aiMatrix4x4());
    level.besides.assign(besides.begin(), besides.end());
    return level;
  } catch (const std::bad_alloc&) {
    return Problem{ProblemCode::overLimit, "Reading the file takes more memory than is allowed.", path,
                   "a higher limit, or a file in parts."};
  } catch (const std::exception& e) {
    return damaged(e.what());
  }
}

}  // namespace dune::import
