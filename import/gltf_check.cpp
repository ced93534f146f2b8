// After the glTF 2.0 specification (Khronos 2021), sections 3.6 and 4.4. Numbers are 64 bits wide here, so that sums do not wrap.

#include "import/gltf_check.h"

#include <algorithm>
#include <cstdint>
#include <cstring>
#include <nlohmann/json.hpp>
#include <vector>

#include "core/base/text.h"

namespace dune::import {

namespace {

using nlohmann::json;

constexpr std::int64_t kMost = std::int64_t{1} << 40;  // bytes or items; sums and products of a few stay far below 2^63

/// The whole number at a key; a fallback where there is none; below zero where there is something else.
std::int64_t whole(const json& object, const char* key, std::int64_t fallback) {
  if (!object.is_object()) return -1;
  const auto found = object.find(key);
  if (found == object.end()) return fallback;
  if (!found->is_number_integer()) return -1;
  if (found->is_number_unsigned() && found->get<std::uint64_t>() > static_cast<std::uint64_t>(kMost)) return -1;
  const auto number = found->get<std::int64_t>();
  return number > kMost ? -1 : number;
}

const json& list(const json& gltf, const char* key) {
  static const json kNone = json::array();
  const auto found = gltf.is_object() ? gltf.find(key) : gltf.end();
  return found != gltf.end() && found->is_array() ? *found : kNone;
}

struct View {
  std::int64_t buffer, begin, end, stride;
};

class Checker {
 public:
  Checker(const std::string& path, const json& gltf) : path_(path), gltf_(gltf) {}

  std::optional<Problem> run() {
    for (const json& buffer : list(gltf_, "buffers")) buffers_.push_back(whole(buffer, "byteLength", -1));
    for (std::size_t i = 0; i < buffers_.size(); ++i)
      if (buffers_[i] < 0) return bad("buffers", i, "Its length makes no sense");
    const json& views = list(gltf_, "bufferViews");
    for (std::size_t i = 0; i < views.size(); ++i)
      if (auto problem = addView(views[i], i)) return problem;
    if (auto problem = overlaps()) return problem;
    const json& accessors = list(gltf_, "accessors");
    for (std::size_t i = 0; i < accessors.size(); ++i)
      if (auto problem = accessor(accessors[i], i)) return problem;
    return std::nullopt;
  }

 private:
  Problem bad(const char* key, std::size_t i, const std::string& what) const {
    return {ProblemCode::damaged, what + ".", path_ + text(", /%s/%zu", key, i), "exporting the level again."};
  }

  std::optional<Problem> addView(const json& view, std::size_t i) {
    const View v{whole(view, "buffer", -1), whole(view, "byteOffset", 0), whole(view, "byteLength", -1), whole(view, "byteStride", 0)};
    if (v.buffer < 0 || v.buffer >= static_cast<std::int64_t>(buffers_.size()))
      return bad("bufferViews", i, "It names a buffer that does not exist");
    if (v.begin < 0 || v.end < 0 || v.stride < 0) return bad("bufferViews", i, "Its offset, length or stride makes no sense");
    const std::int64_t have = buffers_[static_cast<std::size_t>(v.buffer)];
    if (v.begin + v.end > have)
      return bad("bufferViews", i,
                 text("It ends at byte %lld of a buffer of %lld", static_cast<long long>(v.begin + v.end), static_cast<long long>(have)));
    views_.push_back({v.buffer, v.begin, v.begin + v.end, v.stride});
    return std::nullopt;
  }

  /// The same view twice is one; rows of one table lie between each other; anything else is two meanings for one byte.
  std::optional<Problem> overlaps() const {
    std::vector<std::size_t> order(views_.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    std::ranges::stable_sort(order, [&](std::size_t a, std::size_t b) {
      return views_[a].buffer != views_[b].buffer ? views_[a].buffer < views_[b].buffer : views_[a].begin < views_[b].begin;
    });
    const View* farthest = nullptr;
    for (const std::size_t i : order) {
      const View& v = views_[i];
      if (farthest && farthest->buffer == v.buffer && v.begin < farthest->end && v.end > v.begin) {
        const bool same = v.begin == farthest->begin && v.end == farthest->end, rows = v.stride > 0 && v.stride == farthest->stride;
        if (!same && !rows) return bad("bufferViews", i, "It lies over another view of the same buffer");
      }
      if (!farthest || farthest->buffer != v.buffer || v.end > farthest->end) farthest = &v;
    }
    return std::nullopt;
  }

  static std::int64_t itemSize(const json& accessor) {
    std::int64_t component = 0;
    switch (whole(accessor, "componentType", -1)) {
      case 5120:
      case 5121:
        component = 1;
        break;
      case 5122:
      case 5123:
        component = 2;
        break;
      case 5125:
      case 5126:
        component = 4;
        break;
      default:
        return -1;
    }
    const auto type = accessor.find("type");
    if (type == accessor.end() || !type->is_string()) return -1;
    for (const auto& [name, count] :
         {std::pair{"SCALAR", 1}, {"VEC2", 2}, {"VEC3", 3}, {"VEC4", 4}, {"MAT2", 4}, {"MAT3", 9}, {"MAT4", 16}})
      if (*type == name) return component * count;
    return -1;
  }

  std::optional<Problem> accessor(const json& a, std::size_t i) const {
    const std::int64_t count = whole(a, "count", -1), offset = whole(a, "byteOffset", 0), view = whole(a, "bufferView", kMost);
    const std::int64_t item = a.is_object() ? itemSize(a) : -1;
    if (count < 0 || offset < 0 || view < 0 || item < 0) return bad("accessors", i, "Its count, offset, type or view makes no sense");
    if (view == kMost || count == 0) return std::nullopt;  // all zeros, or compressed: read elsewhere
    if (view >= static_cast<std::int64_t>(views_.size())) return bad("accessors", i, "It names a view that does not exist");
    const View& v = views_[static_cast<std::size_t>(view)];
    const std::int64_t stride = v.stride > 0 ? v.stride : item;
    if (count > kMost / std::max<std::int64_t>(1, stride) || offset + (count - 1) * stride + item > v.end - v.begin)
      return bad("accessors", i,
                 text("Its %lld items do not fit into its view of %lld bytes", static_cast<long long>(count),
                      static_cast<long long>(v.end - v.begin)));
    return std::nullopt;
  }

  const std::string& path_;
  const json& gltf_;
  std::vector<std::int64_t> buffers_;
  std::vector<View> views_;
};

std::uint32_t numberAt(const std::string& bytes, std::size_t at) {
  std::uint32_t number = 0;
  std::memcpy(&number, bytes.data() + at, sizeof number);
  return number;
}

}  // namespace

std::optional<Problem> checkGltf(const std::string& path, const std::string& text) {
  const json gltf = json::parse(text, nullptr, false);
  if (!gltf.is_object()) return Problem{ProblemCode::damaged, "The file is not whole JSON.", path, "exporting or copying it again."};
  return Checker(path, gltf).run();
}

std::optional<Problem> checkGlb(const std::string& path, const std::string& bytes) {
  constexpr std::size_t kHeader = 12, kChunkHead = 8;
  if (bytes.size() < kHeader || bytes.compare(0, 4, "glTF") != 0) return std::nullopt;
  const auto bad = [&](std::size_t at, const std::string& what) {
    return Problem{ProblemCode::damaged, what, path + ", byte " + std::to_string(at), "exporting or copying it again."};
  };
  const std::size_t length = numberAt(bytes, 8);
  if (bytes.size() < length)
    return bad(8, text("The file ends early: it has %zu of the %zu bytes that it announces.", bytes.size(), length));
  json gltf;
  std::int64_t binary = 0;
  for (std::size_t at = kHeader, chunk = 0; at + kChunkHead <= length; ++chunk) {
    const std::size_t size = numberAt(bytes, at);
    if (size > length - at - kChunkHead)
      return bad(at, text("A chunk announces %zu bytes, and %zu are left in the file.", size, length - at - kChunkHead));
    if (chunk == 0)
      gltf = json::parse(bytes.begin() + static_cast<std::ptrdiff_t>(at + kChunkHead),
                         bytes.begin() + static_cast<std::ptrdiff_t>(at + kChunkHead + size), nullptr, false);
    if (chunk == 1) binary = static_cast<std::int64_t>(size);
    at += kChunkHead + size;
  }
  if (!gltf.is_object()) return bad(kHeader, "The description in the file is not whole JSON.");
  const json& buffers = list(gltf, "buffers");
  for (std::size_t i = 0; i < buffers.size(); ++i) {
    const bool inside = buffers[i].is_object() && !buffers[i].contains("uri");
    if (inside && whole(buffers[i], "byteLength", -1) > binary)
      return bad(kHeader, text("Buffer %zu announces more bytes than the file holds for it.", i));
  }
  return Checker(path, gltf).run();
}

}  // namespace dune::import
