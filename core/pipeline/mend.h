#pragma once
// Remedies that change ground by hand: they take the mesh as it lies.

#include "core/hand/edit.h"
#include "core/pipeline/ground.h"

namespace dune::pipeline {

/// The mesh of a kind of agent as it was built, and as it lies with hand work that changes.
class Bench {
 public:
  Bench(std::shared_ptr<const Ground> ground, int agent);

  void lay(const std::shared_ptr<const hand::Work>& work);
  hand::Editor editor() const { return {laid_.mesh, laid_.origin, *work_, agent_, levelAt_}; }
  const nav::NavMesh& mesh() const { return laid_.mesh; }
  const nav::Locator& locator() const { return locator_; }

 private:
  std::shared_ptr<const Ground> ground_;
  int agent_;
  hand::LevelAt levelAt_;
  std::shared_ptr<const hand::Work> work_;
  hand::Laid laid_;
  nav::Locator locator_;
};

/// The hand work with one remedy done, or why that cannot be.
Result<hand::Work> mended(const review::MendByHand& remedy, const hand::Editor& editor, const nav::NavMesh& mesh,
                          const nav::Locator& locator);

struct MendedAll {
  project::Project project;
  std::size_t done = 0;
  std::size_t left = 0;                ///< that could not be mended
  std::optional<Problem> firstLeft{};  ///< why not
};

/// Every finding of a kind (an empty code: of all kinds, but nothing is taken away) about a mesh from elsewhere, until none is left that
/// can be mended. `agent` by number. O(findings × laying hand work).
Result<MendedAll> mendAll(project::Project project, std::shared_ptr<const level::Level> level, std::size_t agent, const std::string& code,
                          Job& job);

}  // namespace dune::pipeline
