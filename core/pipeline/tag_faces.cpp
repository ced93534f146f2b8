#include "core/pipeline/tag_faces.h"

#include "core/hand/tag_volumes.h"

namespace dune::pipeline {

Result<project::Project> withTag(project::Project project, const nav::NavMesh& mesh, std::span<const nav::FaceId> faces,
                                 const std::string& tag) {
  if (tag.empty() || faces.empty())
    return Problem{ProblemCode::usage, tag.empty() ? "The tag is empty." : "No faces are picked.", {}, "a word, and faces to give it to."};
  project::edit(project.areas, [&](project::AreasSection& s) {
    for (level::AreaVolume& volume : hand::volumesOver(mesh, faces, tag)) {
      volume.id = project::nextId(s.volumes);
      s.volumes.push_back(std::move(volume));
    }
  });
  if (level::tagNames(project.areas->volumes).size() > nav::kMostTags)
    return Problem{ProblemCode::unusable, "A mesh has at most " + std::to_string(nav::kMostTags) + " different tags.", tag,
                   "one of those that there are, under Areas."};
  return project;
}

}  // namespace dune::pipeline
