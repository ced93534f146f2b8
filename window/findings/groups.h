#pragma once
// Findings put together by what they have in common.

#include <QString>

#include "window/session/finding_list.h"

namespace dune::window {

enum class Grouping : std::uint8_t { kind, cause, place, agent };

struct FindingGroup {
  std::string key;  ///< lasts from one refresh to the next
  QString title;
  std::vector<const KeptFinding*> findings;  ///< in the order of the list
};

/// Groups in the order of their first, that is worst, findings; of the same severity the larger ones first, but for kinds, which stay in
/// the order of the list.
std::vector<FindingGroup> grouped(const std::vector<const KeptFinding*>& findings, Grouping by);

}  // namespace dune::window
