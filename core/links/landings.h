#pragma once
// Where one may land who steps or jumps off the border.

#include <optional>

#include "core/links/border_runs.h"
#include "core/nav/border.h"
#include "core/nav/locator.h"

namespace dune::links {

struct Landing {
  nav::LinkKind kind;
  nav::Place at;
  bool back;  ///< whether the same jump may be taken the other way round
};

class Landings {
 public:
  /// Keeps references. O(corners).
  Landings(const nav::NavMesh& mesh, const nav::Locator& locator) : mesh_(mesh), locator_(locator), border_(mesh) {}

  /// Within the limits of the mesh's agent, whatever is in the way, the nearer ones first: ground it can drop on to right before the
  /// border; ground beyond gaps. O(border edges and faces below the way out).
  void from(const BrinkPlace& place, std::vector<Landing>& out) const;

 private:
  void drops(const BrinkPlace& place, std::vector<Landing>& out) const;
  void jumps(const BrinkPlace& place, std::vector<Landing>& out) const;
  std::optional<Landing> judge(const BrinkPlace& place, const nav::Place& at, double gap, double aside) const;
  bool isDrop(double distance, double fall) const;

  const nav::NavMesh& mesh_;
  const nav::Locator& locator_;
  nav::Border border_;
};

}  // namespace dune::links
