#pragma once
// Pairs of least cost in all.

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <vector>

namespace dune {

/// To each of `rows` another one of `columns`, so that the sum of the costs is least; as many columns as rows at least. Source: Kuhn, "The
/// Hungarian method for the assignment problem", Naval Research Logistics Quarterly 2, 1955, as shortest augmenting paths (Jonker &
/// Volgenant 1987). O(rows² × columns).
template <class Cost>
std::vector<std::size_t> leastCostPairs(std::size_t rows, std::size_t columns, Cost&& cost) {
  constexpr std::size_t kNone = static_cast<std::size_t>(-1);
  std::vector<double> rowPrice(rows, 0), columnPrice(columns, 0), least(columns);
  std::vector<std::size_t> rowOf(columns, kNone), before(columns);
  std::vector<char> done(columns);
  for (std::size_t first = 0; first < rows; ++first) {
    std::fill(least.begin(), least.end(), INFINITY), std::fill(done.begin(), done.end(), 0);
    std::size_t row = first, column = kNone;  // the end of the path so far
    do {
      if (column != kNone) done[column] = 1;
      double step = INFINITY;
      std::size_t next = kNone;
      for (std::size_t c = 0; c < columns; ++c) {
        if (done[c]) continue;
        const double reduced = cost(row, c) - rowPrice[row] - columnPrice[c];
        if (reduced < least[c]) least[c] = reduced, before[c] = column;
        if (least[c] < step) step = least[c], next = c;
      }
      rowPrice[first] += step;
      for (std::size_t c = 0; c < columns; ++c) {
        if (done[c])
          rowPrice[rowOf[c]] += step, columnPrice[c] -= step;
        else
          least[c] -= step;
      }
      column = next;
      row = rowOf[column];
    } while (row != kNone);
    while (before[column] != kNone) rowOf[column] = rowOf[before[column]], column = before[column];
    rowOf[column] = first;
  }
  std::vector<std::size_t> pairs(rows, kNone);
  for (std::size_t c = 0; c < columns; ++c)
    if (rowOf[c] != kNone) pairs[rowOf[c]] = c;
  return pairs;
}

}  // namespace dune
