#include "core/meshfile/header.h"

#include <cstring>
#define XXH_INLINE_ALL
#include "xxhash.h"

namespace dune::meshfile {

namespace {

struct Header {
  char magic[8];
  std::uint32_t version;
  std::uint32_t zero;
  std::uint64_t checksum;
};
static_assert(sizeof(Header) == kHeader);

}  // namespace

std::string withHeader(const FileKind& kind, const void* buffer, std::size_t size) {
  Header header{};
  std::memcpy(header.magic, kind.magic, 8);
  header.version = kind.version;
  header.checksum = XXH3_64bits(buffer, size);
  std::string bytes(kHeader + size, '\0');
  std::memcpy(bytes.data(), &header, kHeader);
  std::memcpy(bytes.data() + kHeader, buffer, size);
  return bytes;
}

Problem damagedFile(const FileKind& kind, const std::string& what, const std::string& where) {
  return {ProblemCode::damaged, what, where, std::string("building the ") + kind.content + " again."};
}

Result<std::string> bodyOf(const FileKind& kind, std::string_view bytes) {
  if (bytes.size() < kHeader)
    return damagedFile(kind, "The file ends inside its header: " + std::to_string(bytes.size()) + " of 24 bytes are there.",
                       "byte " + std::to_string(bytes.size()));
  Header header;
  std::memcpy(&header, bytes.data(), kHeader);
  if (std::memcmp(header.magic, kind.magic, 8) != 0)
    return Problem{ProblemCode::notOurs, std::string("This is not a ") + kind.name + " file.", "byte 0",
                   std::string("a ") + kind.content + " written by Dune Step."};
  if (header.version > kind.version)
    return Problem{ProblemCode::tooNew,
                   std::string("The ") + kind.content + " has version " + std::to_string(header.version) +
                       "; this program reads up to version " + std::to_string(kind.version) + ".",
                   "byte 8", "a newer Dune Step."};
  std::string body(bytes.substr(kHeader));
  if (XXH3_64bits(body.data(), body.size()) != header.checksum)
    return damagedFile(kind, "The checksum does not fit the content: the file was cut short or changed.", "byte 16");
  return body;
}

}  // namespace dune::meshfile
