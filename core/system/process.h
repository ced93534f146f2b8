#pragma once
// Another program run to its end, with limits: for work that may crash, hang or eat memory without harm to us.

#include <functional>
#include <string>
#include <vector>

#include "core/base/job.h"

namespace dune {

struct ProcessLimits {
  double seconds = 600;                            ///< then it is killed
  std::size_t outputBytes = std::size_t{4} << 30;  ///< then it is killed
};

struct ProcessEnd {
  enum class How { exited, killedBySignal, tookTooLong, saidTooMuch } how = How::exited;
  int number = 0;      ///< exit code or signal
  std::string output;  ///< what it wrote to standard output
};

/// Told by the started program, 0 to 1, as often as it likes.
using Progress = std::function<void(double)>;

/// Runs `words[0]` with the words after it as arguments, an empty environment, and no input. Fails when it cannot be started or when
/// the job is cancelled; a cancel is heard within 50 ms and kills the program.
Result<ProcessEnd> runProcess(const std::vector<std::string>& words, const ProcessLimits& limits, const Job& job,
                              const Progress& progress = {});

/// For a program that was started so: says how much it has done, 0 to 1. Goes its own way, beside standard output.
void tellProgress(double fraction);

}  // namespace dune
