#include "core/meshes/given_project.h"

#include "core/meshes/mesh_files.h"
#include "core/meshes/raw_mesh_files.h"

namespace dune::meshes {

namespace {

using project::edit;

void takeKinds(const Content& content, project::AreasSection& areas) {
  areas.kinds.clear();
  for (std::size_t k = 0; k < content.mesh.kinds.size(); ++k) {
    const nav::KindRule& rule = content.rules.of(k);
    areas.kinds.push_back({content.mesh.kinds[k].name, content.mesh.kinds[k].colour, rule.cost, rule.entryCost, rule.forbidden});
  }
  areas.rules.clear(), areas.noLinks.clear(), areas.volumes.clear();
}

/// A mesh of ours says for whom it is.
void takeContent(const Content& content, project::Project& project) {
  edit(project.agents, [&](project::AgentsSection& s) { s.agents = {project::AgentKind(content.mesh.agent, 1)}; });
  edit(project.areas, [&](project::AreasSection& s) { takeKinds(content, s); });
  edit(project.links, [&](project::LinksSection& s) {
    s = {};
    for (const nav::Link& link : content.mesh.links) s.links.push_back(links::drawnLike(link, static_cast<int>(s.links.size()) + 1));
  });
}

}  // namespace

Result<project::Project> withGivenMesh(project::Project project, const std::string& path, const std::string& storedPath,
                                       const level::ImportOptions& import) {
  if (isOurMesh(path)) {
    const auto content = readMesh(path);
    if (!content) return content.problem();
    const bool fresh = project.level->files.empty() && project.level->blockers.empty() && project.level->given.empty();
    if (fresh) takeContent(*content, project);
  }
  edit(project.level, [&](project::LevelSection& s) { s.given = {{0, storedPath, import, {}}}; });
  return project;
}

}  // namespace dune::meshes
