#pragma once
// The kinds of findings there are, in the order in which they are told: one table for reports, lists and the window.

#include <span>
#include <string_view>

namespace dune::review {

/// The part of the job in which a finding is looked at and put right.
enum class Part : unsigned char { level, mesh, links, routes, flight, movement };

struct FindingKind {
  std::string_view code;  ///< stable name: "wall-touched"
  const char* title;      ///< of several of them: "Walls touched"
  Part part;
  const char* remedy;  ///< what puts it right as a rule
};

/// All kinds, in order.
std::span<const FindingKind> findingKinds();
/// Null for a code that no finding has.
const FindingKind* kindOf(std::string_view code);

}  // namespace dune::review
