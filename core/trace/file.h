#pragma once
// The compact file of a trace, .dstrace: the columns as they lie in memory, block after block, each with a checksum, so that a run of
// any length is written and read with one block in memory. Little-endian.
//
//   "DUNETRAC", version (u32), bodies (u32)
//   a body: id (i32), known (u32: 1 radius, 2 goal), group (i32), 0 (u32), radius, goal x, y, z (f64)
//   XXH3 (u64) of the bodies
//   a block: times (u32, above 0), zero (u32), XXH3 (u64) of what follows; times (f64), then the columns of trace::Block one after the
//   other the end: 0 (u32), zero (u32), all times (u64)

#include "core/base/file.h"
#include "core/base/job.h"
#include "core/trace/reading.h"
#include "core/trace/trace.h"

namespace dune::trace {

constexpr std::uint32_t kTraceVersion = 1;
constexpr char kTraceMagic[] = "DUNETRAC";

/// Writes blocks as they come; the file is there once end() has succeeded.
class FileWriter : public Sink {
 public:
  static Result<std::unique_ptr<FileWriter>> create(const std::string& path);
  Outcome begin(const std::vector<Body>& bodies) override;
  Outcome add(std::shared_ptr<const Block> block) override;
  Outcome end() override;

 private:
  explicit FileWriter(PartFile file) : file_(std::move(file)) {}
  PartFile file_;
  std::uint64_t times_ = 0;
};

/// Hands the blocks of a .dstrace on, one after the other. Fails where the file is not ours, too new, damaged or cut short, and
/// when cancelled, which is asked between blocks.
Outcome readFileInto(const std::string& path, Sink& sink, Job& job);

/// Whether a file is one of our compact ones, told by content; false where it cannot be read.
bool isTraceFile(const std::string& path);
/// A trace from a .dstrace, a table or JSON lines, told by content. Fails also when cancelled.
/// `reading`: of tables and JSON lines.
Result<Trace> readTrace(const std::string& path, double originHeight, Job& job, const Reading& reading = {});
/// Opens a trace file for writing by its ending: .dstrace or .csv.
Result<std::unique_ptr<Sink>> createTrace(const std::string& path);
/// Writes a whole one likewise.
Outcome writeTrace(const std::string& path, const Trace& trace);

}  // namespace dune::trace
