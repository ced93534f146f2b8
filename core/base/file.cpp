#include "core/base/file.h"

#include <unistd.h>

#include <algorithm>
#include <cctype>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <fstream>

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

Outcome writeFile(const std::string& path, std::string_view content) {
  auto failed = [&](const char* doing) {
    return Problem{ProblemCode::unwritable, std::string("The file cannot be ") + doing + ": " + std::strerror(errno) + ".", path,
                   "a folder that can be written to, with room left."};
  };
  const std::string temporary = path + ".part" + std::to_string(getpid());
  std::FILE* file = std::fopen(temporary.c_str(), "wb");
  if (!file) return failed("created");
  const bool written =
      std::fwrite(content.data(), 1, content.size(), file) == content.size() && std::fflush(file) == 0 && fsync(fileno(file)) == 0;
  const bool closed = std::fclose(file) == 0;
  if (!written || !closed) {
    const Problem problem = failed("written");
    std::remove(temporary.c_str());
    return problem;
  }
  if (std::rename(temporary.c_str(), path.c_str()) != 0) {
    const Problem problem = failed("put in place");
    std::remove(temporary.c_str());
    return problem;
  }
  return Nothing{};
}

}  // namespace dune
