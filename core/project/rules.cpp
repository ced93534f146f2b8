#include "core/project/rules.h"

#include <algorithm>

namespace dune::project {

bool mayTake(const AreasSection& areas, int agent, nav::LinkKind kind) {
  return std::ranges::count(areas.noLinks, LinkRule{agent, kind}) == 0;
}

void setMayTake(AreasSection& areas, int agent, nav::LinkKind kind, bool may) {
  std::erase(areas.noLinks, LinkRule{agent, kind});
  if (!may) areas.noLinks.push_back({agent, kind});
  std::ranges::sort(areas.noLinks, {}, [](const LinkRule& r) { return std::pair(r.agent, r.kind); });
}

void dropRules(AreasSection& areas, const AgentsSection& agents) {
  const auto gone = [&](int agent) { return std::ranges::count(agents.agents, agent, &AgentKind::id) == 0; };
  std::erase_if(areas.rules,
                [&](const AgentRule& r) { return gone(r.agent) || std::ranges::count(areas.kinds, r.kind, &level::AreaKind::name) == 0; });
  std::erase_if(areas.noLinks, [&](const LinkRule& r) { return gone(r.agent); });
}

namespace {

void repaint(Project& project, const std::string& from, const std::string& to) {
  if (!project.hand->any()) return;
  edit(project.hand, [&](hand::Work& work) {
    for (hand::Patch& patch : work.patches)
      for (hand::Face& face : patch.faces)
        if (face.kind == from) face.kind = to;
  });
}

}  // namespace

void renameKind(Project& project, const std::string& from, const std::string& to) {
  edit(project.areas, [&](AreasSection& s) {
    for (level::AreaKind& k : s.kinds)
      if (k.name == from) k.name = to;
    for (level::AreaVolume& v : s.volumes)
      if (v.kind == from) v.kind = to;
    for (level::GroundRule& r : s.byName)
      if (r.kind == from) r.kind = to;
    for (AgentRule& r : s.rules)
      if (r.kind == from) r.kind = to;
  });
  edit(project.flight, [&](FlightSection& s) {
    for (FlightVolume& v : s.volumes)
      if (v.air == from) v.air = to;
    for (AgentRule& r : s.rules)
      if (r.kind == from) r.kind = to;
  });
  edit(project.routes, [&](RoutesSection& s) {
    for (KeptRoute& route : s.routes)
      for (Touch& touch : route.expected.touches)
        if (touch.what == Touch::What::kind && touch.kind == from) touch.kind = to;
  });
  repaint(project, from, to);
}

void removeKind(Project& project, const std::string& kind) {
  edit(project.areas, [&](AreasSection& s) {
    std::erase_if(s.kinds, [&](const level::AreaKind& k) { return k.name == kind; });
    std::erase_if(s.volumes, [&](const level::AreaVolume& v) { return v.kind == kind && v.tags.empty(); });
    for (level::AreaVolume& v : s.volumes)
      if (v.kind == kind) v.kind.clear();  // what it is tagged with stays
    std::erase_if(s.byName, [&](const level::GroundRule& r) { return r.kind == kind; });
    dropRules(s, *project.agents);
  });
  edit(project.flight, [&](FlightSection& s) {
    std::erase_if(s.volumes, [&](const FlightVolume& v) { return v.air == kind; });
    std::erase_if(s.rules, [&](const AgentRule& r) { return r.kind == kind; });
  });
  repaint(project, kind, {});
}

nav::KindRule airRule(const Project& project, int flyer, const std::string& kind) {
  if (const AgentRule* own = ruleOf(project.flight->rules, flyer, kind)) return own->rule;
  const auto& kinds = project.areas->kinds;
  const auto said = std::ranges::find(kinds, kind, &level::AreaKind::name);
  return said == kinds.end() ? nav::KindRule{} : said->rule();
}

nav::Rules rulesFor(const AreasSection& areas, const AgentKind& agent) {
  nav::Rules rules = level::rulesFor(areas.kinds, agent);
  for (std::size_t k = 0; k < areas.kinds.size(); ++k)
    if (const AgentRule* own = ruleOf(areas.rules, agent.id, areas.kinds[k].name)) rules.kinds[k] = own->rule;
  for (std::size_t k = 0; k < nav::kLinkKinds; ++k) rules.links[k] = mayTake(areas, agent.id, static_cast<nav::LinkKind>(k));
  return rules;
}

nav::Rules rulesOn(const nav::NavMesh& mesh, const AreasSection& areas, const AgentKind& agent) {
  nav::Rules rules = rulesFor(areas, agent);
  rules.kinds.resize(std::min(rules.kinds.size(), mesh.kinds.size()));
  while (rules.kinds.size() < mesh.kinds.size()) rules.kinds.push_back({1, 0, true});
  return rules;
}

}  // namespace dune::project
