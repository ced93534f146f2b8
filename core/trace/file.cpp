#include "core/trace/file.h"

#include <algorithm>
#include <bit>
#include <cerrno>
#include <cstring>
#include <filesystem>
#include <fstream>

#include "core/trace/csv.h"
#define XXH_INLINE_ALL
#include "xxhash.h"

namespace dune::trace {

static_assert(std::endian::native == std::endian::little, "columns are written as they lie in memory");

namespace {

constexpr std::uint32_t kMostBodies = 10'000'000, kMostTimes = 1 << 20;
constexpr std::size_t kMostBlock = std::size_t{1} << 31;  // bytes

struct FileBody {
  std::int32_t id;
  std::uint32_t known;
  std::int32_t group, zero;
  double radius, x, y, z;
};
struct BlockHead {
  std::uint32_t times, zero;
  std::uint64_t checksum;
};

template <class T>
void append(std::string& bytes, const std::vector<T>& column) {
  bytes.append(reinterpret_cast<const char*>(column.data()), column.size() * sizeof(T));
}
template <class T>
std::string_view bytesOf(const T& value) {
  return {reinterpret_cast<const char*>(&value), sizeof value};
}

/// Bytes a sample takes in a file.
constexpr std::size_t kSample = sizeof(Block::Place) + 2 * sizeof(Block::Velocity) + sizeof(State) + sizeof(nav::FaceId);

class Reader {
 public:
  Reader(const std::string& path, std::ifstream& in, Sink& sink, Job& job) : path_(path), in_(in), sink_(sink), job_(job) {
    std::error_code none;
    const auto bytes = std::filesystem::file_size(path, none);
    if (!none) bytes_ = static_cast<std::size_t>(bytes);
  }

  Outcome run() {
    std::uint32_t version = 0, bodies = 0;
    char magic[8];
    if (!read(magic, 8) || std::memcmp(magic, kTraceMagic, 8) != 0)
      return Problem{ProblemCode::notOurs, "This is not a .dstrace file.", path_, "movement recorded by Dune Step."};
    if (!read(&version, 4) || !read(&bodies, 4)) return cut();
    if (version > kTraceVersion)
      return Problem{
          ProblemCode::tooNew,
          "The trace has version " + std::to_string(version) + "; this program reads up to version " + std::to_string(kTraceVersion) + ".",
          path_, "a newer Dune Step."};
    if (bodies > kMostBodies) return damaged("It names " + std::to_string(bodies) + " agents");
    if (auto known = readBodies(bodies); !known) return known;
    while (true) {
      if (job_.cancelled()) return Job::cancelledProblem();
      if (bytes_ > 0) job_.advance(std::min(1.0, static_cast<double>(at_) / static_cast<double>(bytes_)));
      BlockHead head{};
      if (!read(&head, 8)) return cut();
      if (head.times == 0) break;
      if (!read(&head.checksum, 8)) return cut();
      if (auto block = readBlock(head); !block) return block;
    }
    std::uint64_t all = 0;
    if (!read(&all, 8) || all != times_) return damaged("It does not have as many times as it says");
    return sink_.end();
  }

 private:
  bool read(void* to, std::size_t bytes) {
    at_ += bytes;
    return static_cast<bool>(in_.read(static_cast<char*>(to), static_cast<std::streamsize>(bytes)));
  }
  Problem damaged(const std::string& what) const {
    return {ProblemCode::damaged, what + ".", path_ + ": byte " + std::to_string(at_), "recording it again."};
  }
  Problem cut() const { return damaged("The file ends too early"); }

  Outcome readBodies(std::uint32_t count) {
    std::vector<Body> bodies;
    std::string bytes;
    for (std::uint32_t i = 0; i < count; ++i) {
      FileBody b{};
      if (!read(&b, sizeof b)) return cut();
      bytes += bytesOf(b);
      if (!std::isfinite(b.radius) || b.radius < 0 || !isFinite(Vec3{b.x, b.y, b.z}))
        return damaged("An agent has a number that makes no sense");
      if (!bodies.empty() && bodies.back().id >= b.id) return damaged("Its agents are not in order");
      bodies.push_back({b.id, (b.known & 1) ? b.radius : 0, (b.known & 2) ? std::optional<Vec3>({b.x, b.y, b.z}) : std::nullopt, b.group});
    }
    std::uint64_t checksum = 0;
    if (!read(&checksum, 8)) return cut();
    if (checksum != XXH3_64bits(bytes.data(), bytes.size())) return damaged("The checksum of its agents does not fit");
    bodies_ = count;
    return sink_.begin(bodies);
  }

  Outcome readBlock(const BlockHead& head) {
    const std::size_t samples = std::size_t{head.times} * bodies_, size = head.times * sizeof(double) + samples * kSample;
    if (head.times > kMostTimes || size > kMostBlock) return damaged("It has a block of " + std::to_string(head.times) + " times");
    std::string bytes;
    for (std::size_t have = 0; have < size; have = bytes.size()) {  // a head that lies does not get memory for more than there is
      bytes.resize(std::min(size, have + (std::size_t{16} << 20)));
      if (!read(bytes.data() + have, bytes.size() - have)) return cut();
    }
    if (XXH3_64bits(bytes.data(), bytes.size()) != head.checksum) return damaged("The checksum of a block does not fit");
    auto block = std::make_shared<Block>();
    const char* from = bytes.data();
    const auto take = [&](auto& column, std::size_t count) {
      column.resize(count);
      std::memcpy(column.data(), from, count * sizeof column[0]);
      from += count * sizeof column[0];
    };
    take(block->times, head.times), take(block->at, samples), take(block->velocity, samples), take(block->wanted, samples);
    take(block->state, samples), take(block->face, samples);
    for (const double t : block->times) {
      if (!std::isfinite(t) || (times_ > 0 && t <= last_)) return damaged("Its times do not go on");
      last_ = t, ++times_;
    }
    for (const State s : block->state)
      if (s > State::offMesh) return damaged("It has a state that does not exist");
    for (const Block::Place& p : block->at)
      if (!std::isfinite(p.x) || !std::isfinite(p.y) || !std::isfinite(p.z)) return damaged("A place is not a number");
    const auto finite = [](const Block::Velocity& v) {
      return (v.x & 0x7c00) != 0x7c00 && (v.y & 0x7c00) != 0x7c00 && (v.z & 0x7c00) != 0x7c00;
    };
    if (!std::ranges::all_of(block->velocity, finite) || !std::ranges::all_of(block->wanted, finite))
      return damaged("A velocity is not a number");
    return sink_.add(std::move(block));
  }

  const std::string& path_;
  std::ifstream& in_;
  Sink& sink_;
  Job& job_;
  std::size_t at_ = 0, bodies_ = 0, bytes_ = 0;  // bytes_: of the file, where it says
  std::uint64_t times_ = 0;
  double last_ = 0;
};

/// A CSV table written as blocks come.
class CsvFile : public Sink {
 public:
  explicit CsvFile(PartFile file) : file_(std::move(file)), writer_([this](std::string_view text) { return file_.write(text); }) {}
  Outcome begin(const std::vector<Body>& bodies) override { return writer_.begin(bodies); }
  Outcome add(std::shared_ptr<const Block> block) override { return writer_.add(std::move(block)); }
  Outcome end() override { return file_.commit(); }

 private:
  PartFile file_;
  CsvWriter writer_;
};

}  // namespace

Result<std::unique_ptr<FileWriter>> FileWriter::create(const std::string& path) {
  auto file = PartFile::create(path);
  if (!file) return file.problem();
  return std::unique_ptr<FileWriter>(new FileWriter(std::move(file).value()));
}

Outcome FileWriter::begin(const std::vector<Body>& bodies) {
  std::string head(kTraceMagic, 8), table;
  head += bytesOf(kTraceVersion);
  head += bytesOf(static_cast<std::uint32_t>(bodies.size()));
  for (const Body& b : bodies) {
    const Vec3 goal = b.goal.value_or(Vec3{0});
    table += bytesOf(FileBody{b.id, (b.radius > 0 ? 1u : 0u) | (b.goal ? 2u : 0u), b.group, 0, b.radius, goal.x, goal.y, goal.z});
  }
  const std::uint64_t checksum = XXH3_64bits(table.data(), table.size());
  return file_.write(head + table + std::string(bytesOf(checksum)));
}

Outcome FileWriter::add(std::shared_ptr<const Block> block) {
  std::string bytes;
  append(bytes, block->times), append(bytes, block->at), append(bytes, block->velocity), append(bytes, block->wanted);
  append(bytes, block->state), append(bytes, block->face);
  times_ += block->times.size();
  const BlockHead head{static_cast<std::uint32_t>(block->times.size()), 0, XXH3_64bits(bytes.data(), bytes.size())};
  if (auto written = file_.write(bytesOf(head)); !written) return written;
  return file_.write(bytes);
}

Outcome FileWriter::end() {
  const std::uint64_t zero = 0;
  if (auto written = file_.write(std::string(bytesOf(zero)) + std::string(bytesOf(times_))); !written) return written;
  return file_.commit();
}

Outcome readFileInto(const std::string& path, Sink& sink, Job& job) {
  std::ifstream in(path, std::ios::binary);
  if (!in)
    return Problem{ProblemCode::unreadable, std::string("The file cannot be opened: ") + std::strerror(errno) + ".", path, "another path."};
  return Reader(path, in, sink, job).run();
}

bool isTraceFile(const std::string& path) {
  std::ifstream in(path, std::ios::binary);
  char magic[8] = {};
  in.read(magic, sizeof magic);
  return std::memcmp(magic, kTraceMagic, sizeof magic) == 0;
}

Result<Trace> readTrace(const std::string& path, double originHeight, Job& job, const Reading& reading) {
  std::ifstream in(path, std::ios::binary);
  std::error_code none;
  if (!in || std::filesystem::is_directory(path, none))
    return Problem{ProblemCode::unreadable, "The file cannot be opened.", path, "another path."};
  if (isTraceFile(path)) {
    Trace trace;
    if (auto read = readFileInto(path, trace, job); !read) return read.problem();
    return trace;
  }
  const auto bytes = std::filesystem::file_size(path, none);
  auto trace = readCsv(in, none ? 0 : static_cast<std::size_t>(bytes), originHeight, job, reading);
  return trace ? std::move(trace) : trace.problem().within(path);
}

Result<std::unique_ptr<Sink>> createTrace(const std::string& path) {
  if (endingOf(path) == ".dstrace") {
    auto writer = FileWriter::create(path);
    if (!writer) return writer.problem();
    return std::unique_ptr<Sink>(std::move(writer).value());
  }
  auto file = PartFile::create(path);
  if (!file) return file.problem();
  return std::unique_ptr<Sink>(std::make_unique<CsvFile>(std::move(file).value()));
}

Outcome writeTrace(const std::string& path, const Trace& trace) {
  auto sink = createTrace(path);
  if (!sink) return sink.problem();
  if (auto begun = (*sink)->begin(trace.bodies()); !begun) return begun;
  for (const auto& block : trace.blocks())
    if (auto added = (*sink)->add(block); !added) return added;
  return (*sink)->end();
}

}  // namespace dune::trace
