#include "core/system/process.h"

#include <fcntl.h>
#include <poll.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstring>
#include <optional>

namespace dune {

namespace {

constexpr int kPollEvery = 50;  // ms
constexpr int kProgress = 3;    // descriptor on which a started program says how far it is: a byte, 0 to 255, each time
constexpr int kWaitEvery = 2;   // ms; a program that has closed its output is about to end

/// A started program; killed and waited for at the end, whatever happens.
class Child {
 public:
  ~Child() {
    for (const int end : {output_, progress_})
      if (end >= 0) close(end);
    if (pid_ > 0) kill(pid_, SIGKILL), waitpid(pid_, nullptr, 0);
  }

  /// Zero, or the number of the error.
  int start(const std::vector<std::string>& words) {
    std::array<int, 2> output{}, progress{};
    if (pipe2(output.data(), O_CLOEXEC) != 0) return errno;
    output_ = output[0];
    if (pipe2(progress.data(), O_CLOEXEC) != 0) {
      const int error = errno;
      close(output[1]);
      return error;
    }
    progress_ = progress[0];
    posix_spawn_file_actions_t actions;
    posix_spawn_file_actions_init(&actions);
    posix_spawn_file_actions_addopen(&actions, STDIN_FILENO, "/dev/null", O_RDONLY, 0);
    posix_spawn_file_actions_adddup2(&actions, output[1], STDOUT_FILENO);
    posix_spawn_file_actions_adddup2(&actions, progress[1], kProgress);  // after the other, whose number it may take
    posix_spawn_file_actions_addopen(&actions, STDERR_FILENO, "/dev/null", O_WRONLY, 0);
    std::vector<char*> arguments;
    for (const std::string& word : words) arguments.push_back(const_cast<char*>(word.c_str()));
    arguments.push_back(nullptr);
    char* const nothing[] = {nullptr};
    // A group of its own: Ctrl+C is for us, who then kill it, and not told apart from a crash there.
    posix_spawnattr_t attributes;
    posix_spawnattr_init(&attributes);
    posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETPGROUP);
    const int error = posix_spawn(&pid_, words[0].c_str(), &actions, &attributes, arguments.data(), nothing);
    posix_spawnattr_destroy(&attributes);
    posix_spawn_file_actions_destroy(&actions);
    close(output[1]), close(progress[1]);
    if (error != 0) pid_ = -1;
    return error;
  }

  enum class Reading { more, nothingYet, end };
  Reading read(std::string& into, const Progress& progress) {
    std::array<pollfd, 2> ready{{{output_, POLLIN, 0}, {progress_, POLLIN, 0}}};
    if (poll(ready.data(), ready.size(), kPollEvery) <= 0) return Reading::nothingYet;
    if (ready[1].revents != 0) readProgress(progress);
    if (ready[0].revents == 0) return Reading::nothingYet;
    static constexpr std::size_t kBlock = 1 << 16;
    const std::size_t before = into.size();
    into.resize(before + kBlock);
    const ssize_t got = ::read(output_, into.data() + before, kBlock);
    into.resize(before + static_cast<std::size_t>(std::max<ssize_t>(got, 0)));
    if (got < 0 && errno == EINTR) return Reading::nothingYet;
    return got > 0 ? Reading::more : Reading::end;
  }

  /// Its status, once it has ended; asks for a few milliseconds.
  std::optional<int> ended() {
    int status = 0;
    if (waitpid(pid_, &status, WNOHANG) != pid_) {
      poll(nullptr, 0, kWaitEvery);
      return std::nullopt;
    }
    pid_ = -1;
    return status;
  }

 private:
  void readProgress(const Progress& progress) {
    std::array<unsigned char, 256> said{};
    const ssize_t got = ::read(progress_, said.data(), said.size());
    if (got < 0 && errno == EINTR) return;
    if (got <= 0)
      close(progress_), progress_ = -1;
    else if (progress)
      progress(said[static_cast<std::size_t>(got - 1)] / 255.0);
  }

  pid_t pid_ = -1;
  int output_ = -1, progress_ = -1;
};

}  // namespace

Result<ProcessEnd> runProcess(const std::vector<std::string>& words, const ProcessLimits& limits, const Job& job,
                              const Progress& progress) {
  using How = ProcessEnd::How;
  Child child;
  if (const int error = child.start(words); error != 0)
    return Problem{ProblemCode::unusable, std::string("A program that is needed cannot be started: ") + std::strerror(error) + ".",
                   words[0], "installing Dune Step again."};
  const auto end = std::chrono::steady_clock::now() + std::chrono::duration<double>(limits.seconds);
  ProcessEnd result;
  std::optional<int> status;
  for (auto got = Child::Reading::more; !status;) {
    if (got != Child::Reading::end)
      got = child.read(result.output, progress);
    else
      status = child.ended();
    if (job.cancelled()) return Job::cancelledProblem();
    if (result.output.size() > limits.outputBytes) return ProcessEnd{How::saidTooMuch, 0, {}};
    if (!status && std::chrono::steady_clock::now() > end) return ProcessEnd{How::tookTooLong, 0, {}};
  }
  result.how = WIFSIGNALED(*status) ? How::killedBySignal : How::exited;
  result.number = WIFSIGNALED(*status) ? WTERMSIG(*status) : WEXITSTATUS(*status);
  return result;
}

void tellProgress(double fraction) {
  static int told = -1;
  const int now = static_cast<int>(std::clamp(fraction, 0.0, 1.0) * 255);
  if (now <= told) return;
  told = now;
  const auto byte = static_cast<unsigned char>(now);
  if (write(kProgress, &byte, 1) < 0) told = 255;  // nobody listens
}

}  // namespace dune
