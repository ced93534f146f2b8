#include "window/findings/groups.h"

#include <QObject>
#include <algorithm>
#include <cmath>
#include <map>

#include "core/review/kinds.h"

namespace dune::window {

namespace {

constexpr double kPlace = 6, kStorey = 3;  // m: findings within a square of that side are at one place

struct Name {
  std::string key;
  QString title;
};

Name placeOf(const KeptFinding& k) {
  if (!k.place.empty()) return {"place " + k.place, QObject::tr("Near %1").arg(QString::fromStdString(k.place))};
  const Vec3& at = k.finding.at;
  if (!isFinite(at)) return {"place", QObject::tr("Nowhere")};
  const long x = std::lround(at.x / kPlace), y = std::lround(at.y / kStorey), z = std::lround(at.z / kPlace);
  return {"place " + std::to_string(x) + ' ' + std::to_string(y) + ' ' + std::to_string(z),
          QObject::tr("Around %1, %2").arg(static_cast<double>(x) * kPlace, 0, 'f', 0).arg(static_cast<double>(z) * kPlace, 0, 'f', 0)};
}

Name nameOf(const KeptFinding& k, Grouping by) {
  const review::Finding& f = k.finding;
  switch (by) {
    case Grouping::kind:
      break;
    case Grouping::cause:
      return {"cause " + f.why, QString::fromStdString(f.why)};
    case Grouping::place:
      return placeOf(k);
    case Grouping::agent:
      return f.agent >= 0 ? Name{"agent " + std::to_string(f.agent), QObject::tr("Agent %1").arg(f.agent)}
                          : Name{"agent", QObject::tr("About no one agent")};
  }
  const review::FindingKind* kind = review::kindOf(f.code);
  return {f.code, kind ? QObject::tr(kind->title) : QString::fromStdString(f.code)};
}

}  // namespace

std::vector<FindingGroup> grouped(const std::vector<const KeptFinding*>& findings, Grouping by) {
  std::vector<FindingGroup> groups;
  std::map<std::string, std::size_t> known;
  for (const KeptFinding* k : findings) {
    Name name = nameOf(*k, by);
    const auto [at, fresh] = known.try_emplace(name.key, groups.size());
    if (fresh) groups.push_back({name.key, std::move(name.title), {}});
    groups[at->second].findings.push_back(k);
  }
  if (by != Grouping::kind)
    std::ranges::stable_sort(groups, [](const FindingGroup& a, const FindingGroup& b) {
      const auto worstA = a.findings.front()->finding.severity, worstB = b.findings.front()->finding.severity;
      return worstA != worstB ? worstA < worstB : a.findings.size() > b.findings.size();
    });
  return groups;
}

}  // namespace dune::window
