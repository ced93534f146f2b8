#include <algorithm>

#include "core/base/text.h"
#include "core/review/findings.h"
#include "core/review/reach_review.h"

namespace dune::review {

namespace {

/// What cannot be as it was asked for at a group's start.
Finding aboutGroup(const char* code, std::string sentence, const char* why, const char* advice, const Vec3& at, double measured,
                   double limit) {
  return {code, Severity::warning, std::move(sentence), why, advice, at, -1, -1, measured, limit};
}

}  // namespace

Finding tooFewPlaces(int group, int wanted, int placed, const Vec3& at) {
  return aboutGroup("too-few-places", text("Group %d starts with %d of %d agents.", group, placed, wanted),
                    "There is no room for more around its start: ground ends or a wall stands in the way.",
                    "a start with more ground around it, or a smaller group.", at, placed, wanted);
}

Finding widerThanMesh(int group, double radius, double meshRadius, const Vec3& at) {
  return aboutGroup("wider-than-mesh",
                    text("The bodies of group %d have a radius of %.2f m; their ground was built for %.2f m.", group, radius, meshRadius),
                    "Ground ends a radius before walls: a wider body comes nearer to them than it is wide.",
                    "a kind of agent of that radius for this group, or a smaller radius.", at, radius, meshRadius);
}

Finding fasterThanAgent(int group, double speed, double topSpeed, const Vec3& at) {
  return aboutGroup(
      "faster-than-agent", text("Group %d is asked to walk at %.1f m/s; its kind of agent goes at %.1f m/s.", group, speed, topSpeed),
      "The group's speed is above the top speed of its kind of agent.", "a lower speed, or a faster kind of agent.", at, speed, topSpeed);
}

const char* severityName(Severity severity) {
  constexpr const char* kNames[] = {"error", "warning", "hint"};
  return kNames[static_cast<std::size_t>(severity)];
}

namespace {

/// Which limit a link asks too much of, and how much it asks.
struct Asked {
  const char *limit, *verb;
  double asked, most;
  Enable enough;
};
Asked askedBy(const links::Beyond& b, const nav::Agent& agent) {
  const auto up = [](double metres) { return std::ceil(metres * 10) / 10; };
  const links::Demand& d = b.demand;
  if (d.drop > 0) return {"deepest drop", "drop", d.drop, agent.maxDrop, {agent.name, up(d.drop), 0, 0}};
  const bool tooHigh = d.rise > agent.maxRise && d.jump <= agent.maxJump && agent.maxJump > 0;
  if (tooHigh) return {"highest jump", "jump up by", d.rise, agent.maxRise, {agent.name, 0, 0, up(d.rise)}};
  return {"longest jump", "jump", d.jump, agent.maxJump, {agent.name, 0, up(d.jump), 0}};
}

Finding beyondFinding(const links::Beyond& b, const nav::Agent& agent) {
  const Asked a = askedBy(b, agent);
  Finding f{"link-beyond",
            Severity::hint,
            "Link " + std::to_string(b.id) + " is not for " + agent.name + ": " + b.why + ".",
            text("Its %s, under Agents, is less than the link asks for.", a.limit),
            "another limit, or leaving the link to other agents.",
            b.at,
            -1,
            -1,
            a.asked,
            a.most};
  f.remedy = Remedy{text("Let %s %s %.1f m", agent.name.c_str(), a.verb, std::ceil(a.asked * 10) / 10), a.enough};
  return f;
}

}  // namespace

std::vector<Finding> reviewMesh(const nav::NavMesh& mesh, const nav::Rules& rules, const std::vector<links::Broken>& broken,
                                const std::vector<links::Beyond>& beyond, const MeshLimits& limits) {
  std::vector<Finding> findings;
  if (mesh.faceCount() == 0) {
    findings.push_back({"empty-mesh",
                        Severity::error,
                        "There is no walkable ground at all.",
                        "No object is marked as ground, or every surface is too steep, too low or too narrow.",
                        "pointing at the floor: the readout says what forbids it.",
                        {},
                        -1,
                        -1,
                        0,
                        0});
    return findings;
  }
  reviewReach(mesh, rules, limits, findings);
  for (const links::Broken& b : broken)
    findings.push_back({"broken-link", Severity::error, "Link " + std::to_string(b.id) + " cannot be used: " + b.why + ".",
                        "The ground under it has moved, or it was drawn beside the ground.", "drawing its end again on walkable ground.",
                        b.at, -1, -1, 0, 0});
  for (const links::Beyond& b : beyond) findings.push_back(beyondFinding(b, mesh.agent));
  return findings;
}

}  // namespace dune::review
