#pragma once
// What stands before the buffer of each of our binary files: kind, version, checksum.

#include <cstdint>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace dune::meshfile {

constexpr std::size_t kHeader = 24;  // bytes

/// What tells a kind of file from others.
struct FileKind {
  const char* magic;  ///< 8 bytes
  std::uint32_t version;
  const char* name;     ///< ".dsmesh"
  const char* content;  ///< "mesh"
};

std::string withHeader(const FileKind& kind, const void* buffer, std::size_t size);
/// What follows the header, aligned as its reader expects it; a Problem where the header does not fit kind, version or checksum.
Result<std::string> bodyOf(const FileKind& kind, std::string_view bytes);
Problem damagedFile(const FileKind& kind, const std::string& what, const std::string& where);

}  // namespace dune::meshfile
