#include "core/base/file.h"

#include <unistd.h>

#include <algorithm>
#include <atomic>
#include <cctype>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <utility>

namespace dune {

Result<std::string> readFile(const std::string& path) {
  std::error_code error;
  if (std::filesystem::is_directory(path, error)) return Problem{ProblemCode::unreadable, "This is a folder, not a file.", path, ""};
  std::ifstream in(path, std::ios::binary);
  if (!in)
    return Problem{ProblemCode::unreadable, std::string("The file cannot be opened: ") + std::strerror(errno) + ".", path, "another path."};
  std::string content((std::istreambuf_iterator<char>(in)), std::istreambuf_iterator<char>());
  if (in.bad()) return Problem{ProblemCode::unreadable, "The file cannot be read to its end.", path, ""};
  return content;
}

std::string endingOf(const std::string& path) {
  std::string ending = std::filesystem::path(path).extension().string();
  std::transform(ending.begin(), ending.end(), ending.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return ending;
}

std::string fileStamp(const std::string& path) {
  std::error_code error;
  const auto size = std::filesystem::file_size(path, error);
  if (error) return {};
  const auto time = std::filesystem::last_write_time(path, error);
  return error ? std::string() : std::to_string(size) + " " + std::to_string(time.time_since_epoch().count());
}

PartFile::PartFile(std::string path, std::string part, std::FILE* file) : path_(std::move(path)), part_(std::move(part)), file_(file) {}
PartFile::PartFile(PartFile&& other) noexcept
    : path_(std::move(other.path_)), part_(std::exchange(other.part_, {})), file_(std::exchange(other.file_, nullptr)) {}

PartFile::~PartFile() {
  if (file_) std::fclose(file_);
  if (!part_.empty()) std::remove(part_.c_str());
}

Problem PartFile::failed(const char* doing) {
  return {ProblemCode::unwritable, std::string("The file cannot be ") + doing + ": " + std::strerror(errno) + ".", path_,
          "a folder that can be written to, with room left."};
}

/// A link stays a link, and what is marked as not to be written is not.
Result<PartFile> PartFile::create(const std::string& named) {
  std::error_code error;
  const bool link = std::filesystem::is_symlink(named, error);
  const std::string path = link ? std::filesystem::weakly_canonical(named, error).string() : named;
  if (link && error) return Problem{ProblemCode::unwritable, "The link leads nowhere: " + error.message() + ".", named, "another name."};
  const auto status = std::filesystem::status(path, error);
  const auto writers = std::filesystem::perms::owner_write | std::filesystem::perms::group_write | std::filesystem::perms::others_write;
  if (std::filesystem::is_regular_file(status) && (status.permissions() & writers) == std::filesystem::perms::none)
    return Problem{ProblemCode::unwritable, "The file is marked as read-only.", path, "another name, or allowing it to be written."};
  static std::atomic<unsigned> number{0};  // two files for one target may be under way at once
  const std::string part = path + ".part" + std::to_string(getpid()) + "." + std::to_string(number++);
  PartFile made(path, part, std::fopen(part.c_str(), "wb"));
  if (made.file_) return made;
  made.part_.clear();
  return made.failed("created");
}

Outcome PartFile::write(std::string_view bytes) {
  if (std::fwrite(bytes.data(), 1, bytes.size(), file_) != bytes.size()) return failed("written");
  return Nothing{};
}

Outcome PartFile::commit() {
  const bool written = std::fflush(file_) == 0 && fsync(fileno(file_)) == 0;
  const bool closed = std::fclose(std::exchange(file_, nullptr)) == 0;
  if (!written || !closed) return failed("written");
  if (std::rename(part_.c_str(), path_.c_str()) != 0) return failed("put in place");
  part_.clear();
  return Nothing{};
}

Outcome writeFile(const std::string& path, std::string_view content) {
  auto file = PartFile::create(path);
  if (!file) return file.problem();
  if (auto written = file->write(content); !written) return written;
  return file->commit();
}

}  // namespace dune
