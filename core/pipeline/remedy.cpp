#include "core/pipeline/remedy.h"

#include <algorithm>

namespace dune::pipeline {

namespace {

using project::edit;
using project::LevelSection;

void make(const review::GiveRole& change, project::Project& p) {
  edit(p.level, [&](LevelSection& s) {
    for (const std::string& object : change.objects) s.roles[object] = change.role;
  });
}

void make(const review::RemoveMark& change, project::Project& p) {
  edit(p.level, [&](LevelSection& s) { s.roles.erase(change.object); });
}

void make(const review::RemoveRule& change, project::Project& p) {
  if (change.ofKind)
    return edit(p.areas, [&](project::AreasSection& s) {
      std::erase_if(s.byName, [&](const level::GroundRule& r) { return r.pattern == change.pattern; });
    });
  edit(p.level, [&](LevelSection& s) { std::erase_if(s.rules, [&](const level::RoleRule& r) { return r.pattern == change.pattern; }); });
}

void make(const review::ReadFile& change, project::Project& p) {
  edit(p.level, [&](LevelSection& s) {
    for (project::LevelFile& f : s.files)
      if (f.path == change.file) f.import = change.read;
  });
}

void make(const review::Enable& change, project::Project& p) {
  edit(p.agents, [&](project::AgentsSection& s) {
    for (nav::Agent& a : s.agents)
      if (a.name == change.agent) {
        a.maxDrop = std::max(a.maxDrop, change.maxDrop), a.maxJump = std::max(a.maxJump, change.maxJump);
        a.maxRise = std::max(a.maxRise, change.maxRise);
      }
  });
}

void make(const review::DropIslands& change, project::Project& p) {
  edit(p.level, [&](LevelSection& s) { s.leastIsland.area = std::max(s.leastIsland.area, change.area); });
}

void make(const review::BothWays& change, project::Project& p) {
  edit(p.links, [&](project::LinksSection& s) {
    for (links::HandLink& l : s.links)
      if (l.id == change.link) l.oneWay = false;
  });
}

/// Recordings are not of the document.
void make(const review::ReadRecording&, project::Project&) {}

void make(const review::ReplacePatch& change, project::Project& p) {
  edit(p.hand, [&](hand::Work& work) {
    const auto at = std::ranges::find(work.patches, change.patch, &hand::Patch::id);
    if (at == work.patches.end()) return;
    if (change.by)
      *at = *change.by;
    else
      work.patches.erase(at);
  });
}

void make(const review::MendGiven& change, project::Project& p) {
  edit(p.level, [&](LevelSection& s) {
    if (change.mesh >= s.given.size()) return;
    auto& mends = s.given[change.mesh].mends;
    // What is done everywhere needs no places.
    if (!change.mend.at) std::erase_if(mends, [&](const hand::Mend& m) { return m.what == change.mend.what; });
    if (std::ranges::count(mends, change.mend) == 0) mends.push_back(change.mend);
  });
}

/// Takes the mesh besides: see mend.h.
void make(const review::MendByHand&, project::Project&) {}

}  // namespace

void apply(const review::Remedy& remedy, project::Project& project) {
  std::visit([&](const auto& change) { make(change, project); }, remedy.change);
}

}  // namespace dune::pipeline
