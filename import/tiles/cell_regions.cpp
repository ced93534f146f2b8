#include "import/tiles/cell_regions.h"

#include <algorithm>
#include <map>

namespace dune::import {

namespace {

struct Run {
  int from, to;
  auto operator<=>(const Run&) const = default;
};

using Rows = std::map<int, std::vector<Run>>;

Rows rowsOf(std::vector<Cell>& cells) {
  std::sort(cells.begin(), cells.end(), [](const Cell& a, const Cell& b) { return a.y != b.y ? a.y < b.y : a.x < b.x; });
  Rows rows;
  for (const Cell& c : cells) {
    std::vector<Run>& row = rows[c.y];
    if (!row.empty() && row.back().to >= c.x)
      row.back().to = std::max(row.back().to, c.x + 1);
    else
      row.push_back({c.x, c.x + 1});
  }
  return rows;
}

}  // namespace

std::vector<CellBox> rectanglesOf(std::vector<Cell> cells) {
  std::vector<CellBox> boxes;
  std::map<Run, std::size_t> open;  // boxes that reach down to the row before
  int last = 0;
  for (const auto& [y, row] : rowsOf(cells)) {
    std::map<Run, std::size_t> now;
    for (const Run& r : row) {
      const auto above = y == last ? open.find(r) : open.end();
      if (above != open.end()) {
        boxes[above->second].y1 = y + 1;
        now[r] = above->second;
      } else {
        now[r] = boxes.size();
        boxes.push_back({r.from, y, r.to, y + 1});
      }
    }
    open = std::move(now), last = y + 1;
  }
  return boxes;
}

}  // namespace dune::import
