#pragma once
// A key for a lot of numbers: two inputs with the same key are taken to be the same (128 bits of XXH3).

#include <array>
#include <cstdint>
#include <cstring>
#include <string>
#include <type_traits>

#include "core/base/vec.h"

namespace dune {

using Key = std::array<std::uint64_t, 2>;

class Digest {
 public:
  template <class T>
  requires(std::is_arithmetic_v<T> || std::is_enum_v<T>) void add(const T& value) {
    const std::size_t at = bytes_.size();
    bytes_.resize(at + sizeof(T));
    std::memcpy(bytes_.data() + at, &value, sizeof(T));
  }
  void add(const Vec2& p) { add(p.x), add(p.y); }
  void add(const Vec3& p) { add(p.x), add(p.y), add(p.z); }
  void add(const Key& key) { add(key[0]), add(key[1]); }
  void add(const std::string& text) { add(text.size()), bytes_ += text; }

  Key key() const;

 private:
  std::string bytes_;
};

}  // namespace dune
