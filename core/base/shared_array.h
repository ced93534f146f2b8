#pragma once
// An array whose copies share one memory until one of them is written to: large levels are passed on and put together for nothing.
//
// Reading from many threads is safe; writing is for the one thread that holds the array, as with std::vector.

#include <initializer_list>
#include <memory>
#include <vector>

namespace dune {

template <class T>
class SharedArray {
 public:
  SharedArray() = default;
  SharedArray(std::vector<T> values) : values_(std::make_shared<std::vector<T>>(std::move(values))) {}
  SharedArray(std::initializer_list<T> values) : SharedArray(std::vector<T>(values)) {}

  std::size_t size() const { return values().size(); }
  bool empty() const { return values().empty(); }
  const T* data() const { return values().data(); }
  auto begin() const { return values().begin(); }
  auto end() const { return values().end(); }
  const T& operator[](std::size_t i) const { return (*values_)[i]; }
  const T& back() const { return values_->back(); }
  const std::vector<T>& values() const {
    static const std::vector<T> kNone;
    return values_ ? *values_ : kNone;
  }

  /// To write to: memory of its own, which no other copy sees. O(size) where it was shared, else nothing.
  std::vector<T>& edit() {
    if (!values_ || values_.use_count() > 1) values_ = std::make_shared<std::vector<T>>(values());
    return *values_;
  }

  /// Arrays that share memory are equal without looking at it.
  bool operator==(const SharedArray& other) const { return values_ == other.values_ || values() == other.values(); }

 private:
  std::shared_ptr<std::vector<T>> values_;
};

}  // namespace dune
