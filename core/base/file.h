#pragma once
// Whole files, read and written safely.

#include <cstdio>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace dune {

/// The content of a file.
Result<std::string> readFile(const std::string& path);
/// The ending of a file's name in small letters: ".glb"; empty when it has none.
std::string endingOf(const std::string& path);
/// Size and time of last change, to see whether a file is another; empty when there is none.
std::string fileStamp(const std::string& path);
/// A file being written piece by piece beside its target; the target is whole or untouched.
class PartFile {
 public:
  static Result<PartFile> create(const std::string& path);
  PartFile(PartFile&& other) noexcept;
  PartFile& operator=(PartFile&&) = delete;
  /// What was not committed is removed.
  ~PartFile();
  Outcome write(std::string_view bytes);
  /// Flushes, checks, and puts the file in the place of its target.
  Outcome commit();

 private:
  PartFile(std::string path, std::string part, std::FILE* file);
  Problem failed(const char* doing);

  std::string path_, part_;
  std::FILE* file_;
};

/// Writes beside the target under a temporary name, checks, and renames: the target is whole or untouched.
Outcome writeFile(const std::string& path, std::string_view content);

}  // namespace dune
