// Where an agent must begin to crouch. The lines end on the border of their sheet, or close.

#include <algorithm>
#include <map>

#include "core/generate/sheet.h"

namespace dune::generate {

namespace {

constexpr double kStraight = 0.0015;  // metres: rounding to the lattice puts corners this far off their line

/// Corners in between that lie on the line from the first to the last of a run are dropped.
void appendSimple(const std::vector<LatticePoint>& run, std::size_t first, std::size_t last, std::vector<LowLine>& lines) {
  const Vec2 a = toPlan(run[first]), b = toPlan(run[last]);
  double most = kStraight;
  std::size_t worst = first;
  for (std::size_t i = first + 1; i < last; ++i)
    if (const double off = distanceToSegment(a, b, toPlan(run[i])); off > most) most = off, worst = i;
  if (worst == first && run[first] != run[last]) {
    lines.push_back({run[first], run[last]});
    return;
  }
  if (worst == first) worst = (first + last) / 2;
  if (worst == first) return;
  appendSimple(run, first, worst, lines);
  appendSimple(run, worst, last, lines);
}

}  // namespace

std::vector<LowLine> lowLines(const Cells& cells, std::int32_t sheet) {
  // Each line is met from both sides; the low one's direction is taken.
  std::map<LatticePoint, std::vector<LatticePoint>> next;
  std::map<LatticePoint, int> ends;  // how many edges meet
  for (const std::int32_t number : cells.sheet(sheet)) {
    const Storey& s = cells.storeys()[static_cast<std::size_t>(number)];
    if (!s.low) continue;
    for (int e = 0; e < 3; ++e) {
      const std::int32_t k = s.across[static_cast<std::size_t>(e)];
      if (k < 0 || cells.storeys()[static_cast<std::size_t>(k)].sheet != sheet || cells.storeys()[static_cast<std::size_t>(k)].low)
        continue;
      const LatticePoint a = cells.plan().corner(s.cell, e), b = cells.plan().corner(s.cell, e + 1);
      next[a].push_back(b);
      ++ends[a], ++ends[b];
    }
  }
  std::vector<LowLine> lines;
  auto follow = [&](const LatticePoint& from) {
    std::vector<LatticePoint> run{from};
    while (true) {
      auto& onward = next[run.back()];
      if (onward.empty()) break;
      std::sort(onward.begin(), onward.end());
      run.push_back(onward.front());
      onward.erase(onward.begin());
      if (ends[run.back()] != 2) break;  // another line begins or ends here
    }
    if (run.size() > 1) appendSimple(run, 0, run.size() - 1, lines);
  };
  // Open lines first, from their ends; what is left is closed.
  for (const auto& [point, count] : ends)
    if (count != 2)
      while (!next[point].empty()) follow(point);
  for (const auto& [point, count] : ends)
    while (!next[point].empty()) follow(point);
  return lines;
}

}  // namespace dune::generate
