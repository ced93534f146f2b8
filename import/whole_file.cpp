#include "import/whole_file.h"

#include <algorithm>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <sstream>
#include <string_view>

#include "core/base/file.h"
#include "core/base/text.h"
#include "import/gltf_check.h"
#include "import/uri.h"

namespace dune::import {

namespace {

namespace fs = std::filesystem;

Problem endsEarly(const std::string& path, const std::string& what) {
  return {ProblemCode::damaged, "The file ends early: " + what, path, "exporting or copying it again."};
}

/// A buffer of a .gltf: where its bytes are, and how many.
struct GltfBuffer {
  std::string uri;  ///< "data:…" where they are inside
  std::uintmax_t bytes = 0;
  bool inside() const { return uri.starts_with("data:"); }
};

std::vector<GltfBuffer> buffersOf(const nlohmann::json& json) {
  std::vector<GltfBuffer> found;
  const auto buffers = json.is_object() ? json.find("buffers") : json.end();
  if (buffers == json.end() || !buffers->is_array()) return found;
  for (const auto& buffer : *buffers) {
    if (!buffer.is_object() || !buffer.contains("uri") || !buffer["uri"].is_string()) continue;
    const auto bytes = buffer.find("byteLength");
    found.push_back(
        {buffer["uri"].get<std::string>(), bytes != buffer.end() && bytes->is_number_unsigned() ? bytes->get<std::uintmax_t>() : 0});
  }
  return found;
}

std::optional<Problem> missingInGltf(const std::string& path, const std::string& bytes) {
  const auto json = nlohmann::json::parse(bytes, nullptr, false);
  if (json.is_discarded()) return Problem{ProblemCode::damaged, "The file is not whole JSON.", path, "exporting or copying it again."};
  for (const GltfBuffer& buffer : buffersOf(json)) {
    if (buffer.inside()) {
      // Four characters are three bytes.
      const std::size_t comma = buffer.uri.find(',');
      if (comma != std::string::npos && (buffer.uri.size() - comma - 1) / 4 * 3 + 2 < buffer.bytes)
        return endsEarly(path, "a buffer inside it is cut short.");
      continue;
    }
    const fs::path file = fs::path(path).parent_path() / unescaped(buffer.uri);
    std::error_code error;
    const auto size = fs::file_size(file, error);
    if (error)
      return Problem{ProblemCode::unreadable, "A file that the level needs is missing: " + unescaped(buffer.uri) + ".", path,
                     "putting it beside the level."};
    if (size < buffer.bytes)
      return endsEarly(file.string(),
                       text("it has %ju of the %ju bytes that %s announces.", size, buffer.bytes, fs::path(path).filename().c_str()));
  }
  return checkGltf(path, bytes);
}

/// A binary STL says how many triangles of 50 bytes follow; a text one has an end.
std::optional<Problem> missingInStl(const std::string& path, const std::string& bytes) {
  constexpr std::size_t kHeader = 84, kTriangle = 50;
  const bool looksLikeText = bytes.starts_with("solid") && bytes.find("facet") != std::string::npos && bytes.find("facet") < 1000;
  if (looksLikeText)
    return bytes.find("endsolid") == std::string::npos ? std::optional(endsEarly(path, "the end of its solid is missing.")) : std::nullopt;
  if (bytes.size() < kHeader) return endsEarly(path, "it has no header.");
  std::uint32_t count = 0;
  std::memcpy(&count, bytes.data() + kHeader - 4, sizeof count);
  const std::uint64_t wanted = kHeader + std::uint64_t{kTriangle} * count;
  if (bytes.size() >= wanted) return std::nullopt;
  return endsEarly(
      path, text("it has %zu of the %llu bytes that its %u triangles take.", bytes.size(), static_cast<unsigned long long>(wanted), count));
}

/// A text PLY announces how many lines follow its header; of a binary one at least the vertices' bytes can be counted.
std::optional<Problem> missingInPly(const std::string& path, const std::string& bytes) {
  const std::size_t header = bytes.find("end_header");
  if (header == std::string::npos) return endsEarly(path, "its header has no end.");
  std::uint64_t elements = 0, atLeast = 0, lines = 0;
  for (std::size_t at = 0; at < header;) {
    const std::size_t end = bytes.find('\n', at);
    char name[32] = {};
    unsigned long long count = 0;
    if (std::sscanf(bytes.c_str() + at, "element %31s %llu", name, &count) == 2) {
      elements += count;
      atLeast += count * (std::strcmp(name, "vertex") == 0 ? 12 : std::strcmp(name, "face") == 0 ? 13 : 0);
    }
    at = end == std::string::npos ? header : end + 1;
  }
  const std::size_t body = std::min(bytes.size(), bytes.find('\n', header) + 1);
  if (bytes.substr(0, header).find("format ascii") == std::string::npos)
    return bytes.size() - body < atLeast / 2 ? std::optional(endsEarly(path, "there are fewer bytes than its elements take."))
                                             : std::nullopt;
  for (std::size_t at = body; at < bytes.size(); ++lines) {
    const std::size_t end = bytes.find('\n', at);
    at = end == std::string::npos ? bytes.size() : end + 1;
  }
  if (lines >= elements) {
    // The last line is a face as a rule: how many corners, and then so many numbers.
    std::istringstream last(bytes.substr(bytes.find_last_of('\n', bytes.size() - 2) + 1));
    std::size_t wanted = 0, there = 0;
    last >> wanted;
    for (std::string number; last >> number;) ++there;
    return there < wanted ? std::optional(endsEarly(path, "its last line is cut.")) : std::nullopt;
  }
  return endsEarly(path, text("it has %llu of the %llu lines that its header announces.", static_cast<unsigned long long>(lines),
                              static_cast<unsigned long long>(elements)));
}

std::optional<Problem> missingInXml(const std::string& path, const std::string& bytes) {
  return bytes.find("</COLLADA>") == std::string::npos ? std::optional(endsEarly(path, "its last element is not closed.")) : std::nullopt;
}

/// Goes over the lines of an OBJ file that matter.
class ObjLines {
 public:
  ObjLines(const std::string& path, std::string_view text) : path_(path), text_(text) {}

  std::optional<Problem> run() {
    while (!text_.empty()) {
      ++line_;
      const std::size_t end = text_.find('\n');
      const bool last = end == std::string_view::npos;
      const std::string_view line = text_.substr(0, end);
      text_.remove_prefix(last ? text_.size() : end + 1);
      if (auto problem = check(line, last)) return problem;
    }
    return std::nullopt;
  }

 private:
  std::optional<Problem> check(std::string_view line, bool last) {
    line = line.substr(0, line.find('#'));
    if (line.find('\\') != std::string_view::npos) return std::nullopt;  // goes on in the next line, which begins with no keyword
    const std::size_t from = line.find_first_not_of(" \t");
    if (from == std::string_view::npos) return std::nullopt;
    line.remove_prefix(from);
    if (line.starts_with("v ") || line.starts_with("v\t")) return vertex(line.substr(2), last);
    if (last && (line.starts_with("v") && line.size() > 1 && (line[1] == 'n' || line[1] == 't')))
      return endsEarly(where(), "its last line is in the middle of the vertices.");
    if (line.starts_with("f ") || line.starts_with("f\t")) return face(line.substr(2), last);
    return std::nullopt;
  }

  std::optional<Problem> vertex(std::string_view rest, bool last) {
    ++vertices_;
    const std::size_t numbers = words(rest);
    if (last || (numbers < 3 && text_.empty())) return endsEarly(where(), "its last line is in the middle of the vertices.");
    if (numbers < 3) return Problem{ProblemCode::damaged, "A vertex has fewer than three numbers.", where(), "exporting the level again."};
    return std::nullopt;
  }

  std::optional<Problem> face(std::string_view rest, bool last) {
    if (words(rest) < 3) {
      if (last) return endsEarly(where(), "its last face has fewer than three corners.");
      return std::nullopt;  // points and lines say nothing about ground
    }
    for (std::size_t at = rest.find_first_not_of(" \t\r"); at != std::string_view::npos;) {
      const long number = std::strtol(rest.data() + at, nullptr, 10);  // the text goes on with a character that ends the number
      if (number == 0 || std::abs(number) > vertices_)
        return Problem{ProblemCode::damaged, text("A face has the corner %ld, but there are %ld vertices so far.", number, vertices_),
                       where(), "exporting the level again."};
      at = rest.find_first_of(" \t\r", at);
      if (at != std::string_view::npos) at = rest.find_first_not_of(" \t\r", at);
    }
    return std::nullopt;
  }

  static std::size_t words(std::string_view rest) {
    std::size_t count = 0;
    for (std::size_t at = rest.find_first_not_of(" \t\r"); at != std::string_view::npos; ++count) {
      at = rest.find_first_of(" \t\r", at);
      if (at != std::string_view::npos) at = rest.find_first_not_of(" \t\r", at);
    }
    return count;
  }

  std::string where() const { return path_ + ", line " + std::to_string(line_); }

  const std::string& path_;
  std::string_view text_;
  long line_ = 0, vertices_ = 0;
};

}  // namespace

std::optional<Problem> findMissing(const std::string& path) {
  const auto bytes = readFile(path);
  if (!bytes) return bytes.problem();
  const std::string ending = endingOf(path);
  if (ending == ".glb") return checkGlb(path, *bytes);
  if (ending == ".gltf") return missingInGltf(path, *bytes);
  if (ending == ".obj") return ObjLines(path, *bytes).run();
  if (ending == ".stl") return missingInStl(path, *bytes);
  if (ending == ".ply") return missingInPly(path, *bytes);
  if (ending == ".dae") return missingInXml(path, *bytes);
  return std::nullopt;
}

}  // namespace dune::import
