// Mesh files: whatever is read goes on into everything that believes a mesh.

#include "core/crowd/crowd.h"
#include "core/hand/take_over.h"
#include "core/meshes/mesh_files.h"
#include "core/meshes/raw_mesh_files.h"
#include "core/nav/structure.h"
#include "core/review/shape_review.h"

namespace {

using namespace dune;

void use(const meshes::Content& content) {
  const nav::NavMesh& mesh = content.mesh;
  if (!nav::checkStructure(mesh).empty()) __builtin_trap();  // the readers promise it
  (void)meshfile::toBytes(content);
  (void)review::reviewMesh(mesh, {});
  if (mesh.faceCount() == 0 || mesh.faceCount() > 2000) return;
  const route::Field field(mesh, content.rules);
  route::Search search(field);
  std::vector<crowd::Walker> walkers;
  for (std::uint32_t i = 0; i < 3; ++i) {
    const auto middle = [&](std::size_t f) {
      const nav::FaceId face{static_cast<std::uint32_t>(f % mesh.faceCount())};
      return (mesh.cornerAt(face, 0) + mesh.cornerAt(face, 1) + mesh.cornerAt(face, 2)) / 3.0;
    };
    const Vec3 from = middle(i * 7), to = middle(mesh.faceCount() - 1 - i);
    const route::PathAnswer answer = route::findPath(field, search, from, to);
    if (answer.status != route::PathStatus::none && answer.points.empty()) __builtin_trap();
    crowd::Walker w;
    w.id = static_cast<int>(i), w.start = from, w.goal = to;
    walkers.push_back(w);
  }
  auto crowd = crowd::Crowd::make(field, walkers, {});
  if (!crowd) return;
  Job job;
  for (int i = 0; i < 20; ++i) crowd->step(job);
}

/// What is taken over keeps every promise, mended or not.
void takeOver(const level::RawMesh& raw) {
  using What = hand::Mend::What;
  for (const Vec3& p : raw.corners)
    if (!(std::max({std::abs(p.x), std::abs(p.y), std::abs(p.z)}) < 60000)) return;  // the reader of files refuses them
  const std::vector<nav::Kind> kinds{nav::Kind{}};
  for (const std::vector<hand::Mend>& mends : {std::vector<hand::Mend>{}, {{What::turn}, {What::close}, {What::thin}, {What::join}}})
    if (!nav::checkStructure(hand::takeOver(raw, {}, kinds, mends).mesh).empty()) __builtin_trap();
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string bytes(reinterpret_cast<const char*>(data), size);
  for (const auto& content : {meshfile::fromBytes(bytes), meshes::meshFromJson(bytes)})
    if (content) use(*content);
  if (const auto raw = meshes::rawFromObj(bytes); raw && raw->faces.size() < 2000) (void)review::reviewShape(*raw), takeOver(*raw);
  return 0;
}
