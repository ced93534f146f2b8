// Little but strict: every count is checked against the bytes that are left before anything is allocated.

#include "core/level/wire.h"

#include <cstring>

namespace dune::level {

namespace {

constexpr std::string_view kLevel = "dune level 4\n", kProblem = "dune problem 1\n", kEnd = "end\n";

void put(std::string& out, const void* data, std::size_t bytes) {
  if (bytes > 0) out.append(static_cast<const char*>(data), bytes);
}
void put(std::string& out, std::uint64_t number) { put(out, &number, sizeof number); }
void put(std::string& out, const std::string& text) { put(out, text.size()), out += text; }

class Reader {
 public:
  explicit Reader(std::string_view bytes) : left_(bytes) {}

  bool skip(std::string_view expected) {
    if (!left_.starts_with(expected)) return false;
    left_.remove_prefix(expected.size());
    return true;
  }
  bool take(void* to, std::size_t bytes) {
    if (left_.size() < bytes) return false;
    if (bytes > 0) std::memcpy(to, left_.data(), bytes);
    left_.remove_prefix(bytes);
    return true;
  }
  bool take(std::uint64_t& number) { return take(&number, sizeof number); }
  bool take(std::string& text) {
    std::uint64_t size = 0;
    if (!take(size) || size > left_.size()) return false;
    text.resize(size);
    return take(text.data(), size);
  }
  template <class T>
  bool take(std::vector<T>& items) {
    std::uint64_t count = 0;
    if (!take(count) || count > left_.size() / sizeof(T)) return false;
    items.resize(count);
    return take(items.data(), count * sizeof(T));
  }

 private:
  std::string_view left_;
};

bool indicesFit(const Object& object) {
  for (const auto& t : object.triangles)
    for (const std::uint32_t v : t)
      if (v >= object.vertices.size()) return false;
  return true;
}

bool takeMaterials(Reader& reader, Object& o) {
  std::uint64_t count = 0;
  if (!reader.take(count)) return false;
  for (std::uint64_t i = 0; i < count; ++i) {
    MaterialRun run;
    if (!reader.take(run.name) || !reader.take(run.first)) return false;
    if (!o.materials.empty() && run.first < o.materials.back().first) return false;
    o.materials.push_back(std::move(run));
  }
  return true;
}

}  // namespace

std::string toWire(const Result<Level>& level) {
  std::string out;
  if (!level) {
    const Problem& p = level.problem();
    out += kProblem;
    put(out, static_cast<std::uint64_t>(p.code));
    for (const std::string& text : {p.what, p.where, p.advice}) put(out, text);
    return out += kEnd;
  }
  out += kLevel;
  put(out, level->objects.size());
  for (const Object& o : level->objects) {
    put(out, o.name);
    put(out, static_cast<std::uint64_t>(o.counts));
    put(out, o.materials.size());
    for (const MaterialRun& m : o.materials) put(out, m.name), put(out, m.first);
    put(out, o.vertices.size()), put(out, o.vertices.data(), o.vertices.size() * sizeof(Vec3));
    put(out, o.triangles.size()), put(out, o.triangles.data(), o.triangles.size() * sizeof(o.triangles[0]));
  }
  put(out, level->besides.size());
  for (const std::string& path : level->besides) put(out, path);
  return out += kEnd;
}

std::optional<Result<Level>> fromWire(std::string_view bytes) {
  Reader reader(bytes);
  if (reader.skip(kProblem)) {
    Problem p;
    std::uint64_t code = 0;
    if (!reader.take(code) || code > static_cast<std::uint64_t>(ProblemCode::overLimit)) return std::nullopt;
    p.code = static_cast<ProblemCode>(code);
    if (!reader.take(p.what) || !reader.take(p.where) || !reader.take(p.advice) || !reader.skip(kEnd)) return std::nullopt;
    return Result<Level>(p);
  }
  std::uint64_t count = 0;
  if (!reader.skip(kLevel) || !reader.take(count)) return std::nullopt;
  Level level;
  for (std::uint64_t i = 0; i < count; ++i) {
    Object o;
    std::uint64_t counts = 0;
    if (!reader.take(o.name) || !reader.take(counts) || counts > static_cast<std::uint64_t>(Role::ignored)) return std::nullopt;
    o.counts = static_cast<Role>(counts);
    if (!takeMaterials(reader, o)) return std::nullopt;
    if (!reader.take(o.vertices.edit()) || !reader.take(o.triangles.edit()) || !indicesFit(o)) return std::nullopt;
    level.objects.push_back(std::move(o));
  }
  std::uint64_t besides = 0;
  if (!reader.take(besides)) return std::nullopt;
  for (std::uint64_t i = 0; i < besides; ++i)
    if (std::string path; reader.take(path))
      level.besides.push_back(std::move(path));
    else
      return std::nullopt;
  if (!reader.skip(kEnd)) return std::nullopt;
  return Result<Level>(std::move(level));
}

}  // namespace dune::level
