#include "core/exchange/raw_mesh_files.h"

#include <algorithm>
#include <optional>

#include "core/base/number_text.h"

namespace dune::exchange {

namespace {

Problem bad(std::size_t line, const std::string& what) {
  return {ProblemCode::damaged, what, "line " + std::to_string(line), "an OBJ with lines \"v x y z\" and \"f a b c\"."};
}

std::string_view nextWord(std::string_view& line) {
  const std::size_t begin = line.find_first_not_of(" \t\r");
  if (begin == std::string_view::npos) return line = {}, std::string_view();
  line.remove_prefix(begin);
  const std::size_t end = std::min(line.find_first_of(" \t\r"), line.size());
  const std::string_view word = line.substr(0, end);
  line.remove_prefix(end);
  return word;
}

/// Of "7/1/2" the 7; below zero it counts from the last one.
std::optional<std::uint32_t> cornerOf(std::string_view word, std::size_t corners) {
  const auto number = numberFrom(word.substr(0, word.find('/')));
  if (!number || *number != std::floor(*number)) return std::nullopt;
  const double index = *number > 0 ? *number - 1 : static_cast<double>(corners) + *number;
  return index >= 0 && index < static_cast<double>(corners) ? std::optional(static_cast<std::uint32_t>(index)) : std::nullopt;
}

}  // namespace

Result<review::RawMesh> rawFromObj(std::string_view text) {
  review::RawMesh mesh;
  for (std::size_t number = 1; !text.empty(); ++number) {
    const std::size_t end = std::min(text.find('\n'), text.size());
    std::string_view line = text.substr(0, end);
    text.remove_prefix(std::min(end + 1, text.size()));
    const std::string_view what = nextWord(line);
    if (what == "v") {
      Vec3 p{};
      for (int axis = 0; axis < 3; ++axis) {
        const auto value = numberFrom(nextWord(line));
        if (!value || !std::isfinite(*value)) return bad(number, "A corner has no three numbers.");
        p[axis] = *value;
      }
      mesh.corners.push_back(p);
    } else if (what == "f") {
      std::vector<std::uint32_t> face;
      for (std::string_view word = nextWord(line); !word.empty(); word = nextWord(line)) {
        const auto corner = cornerOf(word, mesh.corners.size());
        if (!corner) return bad(number, "A face names the corner '" + std::string(word) + "', which is not there.");
        face.push_back(*corner);
      }
      if (face.size() < 3) return bad(number, "A face has fewer than three corners.");
      mesh.faces.push_back(std::move(face));
    }
  }
  if (mesh.faces.empty()) return bad(1, "There are no faces.");
  return mesh;
}

}  // namespace dune::exchange
