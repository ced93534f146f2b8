#pragma once
// Bodies that were recorded each at times of its own, brought to times that all share.

#include "core/trace/table_rows.h"

namespace dune::trace {

/// Whether bodies have few times in common. Rows by time.
bool everyBodyHasItsTimes(const TableRows& table);
/// Brings all rows to times as far apart as a body's are as a rule: between two rows of a body that are no gap apart, linearly. By time,
/// then by body. O(rows log rows).
void ontoOneClock(TableRows& table);

}  // namespace dune::trace
