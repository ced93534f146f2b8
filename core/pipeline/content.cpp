#include "core/pipeline/content.h"

#include "core/project/rules.h"

namespace dune::pipeline {

meshfile::Content contentOf(const Ground& ground) {
  meshfile::Content content{ground.mesh, ground.rules};
  for (const project::AgentKind& other : ground.from.agents->agents)
    content.named.push_back({other.name, project::rulesOn(content.mesh, *ground.from.areas, other)});
  return content;
}

}  // namespace dune::pipeline
