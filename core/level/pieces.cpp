#include "core/level/pieces.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

#include "core/base/text.h"
#include "core/base/union_find.h"

namespace dune::level {

namespace {

constexpr double kSameCorner = 1e-5;  // metres

class Splitter {
 public:
  Splitter(const Object& object, bool byMaterial) : object_(object), byMaterial_(byMaterial), sets_(object.vertices.size()) {}

  std::size_t count() {
    weld();
    for (const auto& t : object_.triangles) sets_.unite(t[0], t[1]), sets_.unite(t[0], t[2]);
    for (const auto& t : object_.triangles) {
      const auto [at, fresh] = number_.try_emplace(sets_.find(t[0]), number_.size());
      piece_.push_back(at->second);
    }
    return number_.size();
  }

  void split(std::vector<Object>& pieces) {
    const std::size_t first = pieces.size(), n = number_.size();
    pieces.resize(first + n);
    std::vector<std::map<std::string, double>> areas(n);
    // Of a piece's corners, where each of the object's is.
    std::vector<std::map<std::uint32_t, std::uint32_t>> corners(n);
    std::size_t run = 0;
    for (std::uint32_t t = 0; t < object_.triangles.size(); ++t) {
      const std::size_t p = piece_[t];
      Object& piece = pieces[first + p];
      std::array<std::uint32_t, 3> triangle;
      for (std::size_t i = 0; i < 3; ++i) {
        const auto [at, fresh] = corners[p].try_emplace(object_.triangles[t][i], static_cast<std::uint32_t>(piece.vertices.size()));
        if (fresh) piece.vertices.edit().push_back(object_.vertices[object_.triangles[t][i]]);
        triangle[i] = at->second;
      }
      piece.triangles.edit().push_back(triangle);
      while (run + 1 < object_.materials.size() && object_.materials[run + 1].first <= t) ++run;
      if (!object_.materials.empty()) areas[p][object_.materials[run].name] += areaOf(t);
    }
    for (std::size_t p = 0; p < n; ++p) finish(pieces[first + p], areas[p]);
  }

 private:
  /// Corners at one place are one, however often the file has them.
  void weld() {
    const auto& v = object_.vertices;
    std::vector<std::uint32_t> order(v.size());
    std::iota(order.begin(), order.end(), 0u);
    const auto key = [&](std::uint32_t i) {
      return std::array{std::llround(v[i].x / kSameCorner), std::llround(v[i].y / kSameCorner), std::llround(v[i].z / kSameCorner)};
    };
    std::sort(order.begin(), order.end(), [&](std::uint32_t a, std::uint32_t b) { return std::pair(key(a), a) < std::pair(key(b), b); });
    for (std::size_t i = 1; i < order.size(); ++i)
      if (key(order[i]) == key(order[i - 1])) sets_.unite(order[i], order[i - 1]);
  }
  double areaOf(std::uint32_t t) const {
    const auto& [a, b, c] = object_.triangles[t];
    return glm::length(glm::cross(object_.vertices[b] - object_.vertices[a], object_.vertices[c] - object_.vertices[a])) / 2;
  }

  void finish(Object& piece, const std::map<std::string, double>& areas) const {
    const auto most = std::ranges::max_element(areas, {}, [](const auto& a) { return a.second; });
    if (most != areas.end()) piece.materials = {{most->first, 0}};
    const Box3 box = piece.bounds();
    const Vec3 middle = (box.min + box.max) * 0.5;
    const std::string& name = byMaterial_ && most != areas.end() && !most->first.empty() ? most->first : object_.name;
    piece.name = text("%s at %.0f, %.0f", name.c_str(), std::round(middle.x) + 0.0, std::round(middle.z) + 0.0);  // never "-0"
    piece.counts = object_.counts;
  }

  const Object& object_;
  bool byMaterial_;
  UnionFind sets_;                               // of corners
  std::map<std::uint32_t, std::size_t> number_;  // of a piece, by the set of its corners
  std::vector<std::size_t> piece_;               // one a triangle
};

}  // namespace

Result<Level> inPieces(Level level, const std::string& path) {
  const bool byMaterial = level.objects.size() == 1;
  std::vector<Object> pieces;
  for (Object& object : level.objects) {
    Splitter splitter(object, byMaterial);
    const std::size_t count = splitter.count();
    if (pieces.size() + count > kMostPieces)
      return Problem{ProblemCode::overLimit, text("The file falls into more than %zu pieces.", kMostPieces), path,
                     "taking its objects as they are, or exporting it with corners that neighbours share."};
    if (count > 1)
      splitter.split(pieces);
    else
      pieces.push_back(std::move(object));
  }
  level.objects = std::move(pieces);
  return level;
}

}  // namespace dune::level
