#pragma once
// Traces as CSV. Columns: t,id,x,y,z,vx,vy,vz,want_vx,want_vy,want_vz,state,face,radius,goal_x,goal_y,goal_z,group; the last five stand in
// the first row of an agent only. Places and goals in a table are those of the bodies' origins, as high over their feet as their kind of
// agent says.

#include <functional>
#include <istream>
#include <string_view>

#include "core/base/job.h"
#include "core/trace/reading.h"
#include "core/trace/trace.h"

namespace dune::trace {

/// Writes rows as blocks come.
class CsvWriter : public Sink {
 public:
  using Out = std::function<Outcome(std::string_view)>;
  explicit CsvWriter(Out out) : out_(std::move(out)) {}
  Outcome begin(const std::vector<Body>& bodies) override;
  Outcome add(std::shared_ptr<const Block> block) override;
  Outcome end() override { return Nothing{}; }

 private:
  Out out_;
  std::vector<Body> bodies_;
  bool first_ = true;
};

std::string toCsv(const Trace& trace);

/// A trace, from a table with any of the usual separators and names of columns, or from JSON lines; t,id,x,y,z are enough, velocities are
/// derived where they are missing. Rows may be in any order; bodies that are missing at a time are held where they were last. Where each
/// body has times of its own they are brought to common ones, as far apart as a body's are as a rule. Fails on text that is no such table,
/// naming the line. O(rows log rows).
Result<Trace> fromCsv(std::string_view text, double originHeight = 0, const Reading& reading = {});
/// The same from a stream of about so many bytes, of which it keeps no more than a piece at a time: 40 bytes a row. Fails when cancelled.
Result<Trace> readCsv(std::istream& in, std::size_t bytes, double originHeight, Job& job, const Reading& reading = {});

}  // namespace dune::trace
