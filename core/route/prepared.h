#pragma once
// Ground of one cost prepared for many questions: how far it is from each place where ways bend to each other one, and what each of these
// sees. Then a question looks at what sees its two ends, and little is searched for.
//
// 1. A way is straight or goes over bends: of all pairs of one that the start sees and one that the goal sees, that with the shortest way
//    in all. As exact as the searches, in plan (search.h) or in space (slope_search.h), but for rounding to floats.
// 2. In space it goes over links too, wide ones by their lanes.
// 3. What it takes is bounded: six bytes for each pair of bends, and forty for each triangle that each of them sees. Where that is more
//    than it may be, nothing is prepared, and the searches answer.
//
// Example:
//   if (auto cannot = field.prepare(route::Measure::space, job); !cannot) say(cannot.problem().text());
//   route::Search search(field, route::Answers::prepared);  // asks what is prepared; where nothing is, it searches

#include <memory>

#include "core/route/bend_table.h"
#include "core/route/measure.h"
#include "core/route/stretches.h"

namespace dune::route {

class Field;

class Prepared {
 public:
  /// What is prepared of a field, or why nothing is: ground of several costs, links where it is in plan, too much of it. Keeps a reference
  /// to the field. O(what each bend sees + bends · joins · log bends).
  static Result<std::unique_ptr<const Prepared>> prepare(const Field& field, Measure measure, Job& job, std::size_t memory);

  ~Prepared();

  const BendSight& sight() const { return sight_; }
  const BendTable& table() const { return table_; }
  /// In plan: the ways straight from bend to bend.
  const Stretches* stretches() const { return stretches_.get(); }
  /// By how much, in metres, a way over wide links may be shorter for each of them.
  double beside() const { return links_ ? links_->beside() : 0; }
  /// Bytes.
  std::size_t memory() const { return sight_.memory() + table_.memory() + (stretches_ ? stretches_->memory() : 0); }

  /// Where a question begins or ends.
  struct End {
    Facet facet;
    Vec3 at;
  };
  /// A place on these triangles.
  End endAt(const nav::Place& place) const;
  /// What a question needs besides, kept from one to the next.
  struct Scratch {
    std::vector<SeenBend> fromStart, toGoal;
    std::vector<Facet> around;
    std::vector<std::uint32_t> joins;
    std::vector<BendSight::Over> edges;
  };
  /// The shortest way that bends, by where it does first and last.
  BendTable::Between overBends(const End& start, const End& goal, Scratch& scratch) const;

 private:
  struct Flat;
  Prepared(std::unique_ptr<const Flat> flat, std::unique_ptr<const LinkFeet> links, const Facets& facets, std::size_t memory, Job& job);

  std::unique_ptr<const Flat> flat_;       // the simple ground laid flat, in plan
  std::unique_ptr<const LinkFeet> links_;  // in space
  BendSight sight_;
  BendTable table_;
  std::unique_ptr<const Stretches> stretches_;
};

}  // namespace dune::route
