#include "import/tiles/cell_data.h"

#include <zlib.h>
#include <zstd.h>

#include <array>
#include <charconv>

#include "core/base/text.h"

namespace dune::import {

namespace {

Problem bad(const std::string& why) { return {ProblemCode::damaged, why, "", ""}; }

bool isSpace(char c) { return c == ' ' || c == '\n' || c == '\r' || c == '\t'; }

Result<std::vector<std::uint32_t>> fromCsv(std::string_view data, std::size_t count) {
  std::vector<std::uint32_t> numbers;
  const char *at = data.data(), *end = at + data.size();
  while (at < end) {
    if (isSpace(*at) || *at == ',') {
      ++at;
      continue;
    }
    std::uint32_t number = 0;
    const auto [next, error] = std::from_chars(at, end, number);
    if (error != std::errc()) return bad("a tile number is not a number.");
    numbers.push_back(number);
    at = next;
  }
  if (numbers.size() != count) return bad(text("a layer has %zu tiles where its size asks for %zu.", numbers.size(), count));
  return numbers;
}

Result<std::string> fromBase64(std::string_view data) {
  constexpr std::string_view kLetters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
  std::array<int, 256> value;
  value.fill(-1);
  for (std::size_t i = 0; i < kLetters.size(); ++i) value[static_cast<unsigned char>(kLetters[i])] = static_cast<int>(i);
  std::string out;
  std::uint32_t held = 0;
  int bits = 0;
  for (const char c : data) {
    if (isSpace(c)) continue;
    if (c == '=') break;
    const int six = value[static_cast<unsigned char>(c)];
    if (six < 0) return bad("a layer's data is not base64.");
    held = held << 6 | static_cast<std::uint32_t>(six), bits += 6;
    if (bits >= 8) bits -= 8, out += static_cast<char>(held >> bits & 0xff);
  }
  return out;
}

/// zlib and gzip alike.
Result<std::string> inflated(const std::string& packed, std::size_t size) {
  std::string out(size, '\0');
  z_stream stream{};
  constexpr int kEitherHeader = 15 + 32;
  if (inflateInit2(&stream, kEitherHeader) != Z_OK) return bad("a layer's data cannot be unpacked.");
  stream.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(packed.data()));
  stream.avail_in = static_cast<uInt>(packed.size());
  stream.next_out = reinterpret_cast<Bytef*>(out.data());
  stream.avail_out = static_cast<uInt>(out.size());
  const int end = inflate(&stream, Z_FINISH);
  const std::size_t left = stream.avail_out;
  inflateEnd(&stream);
  if (end != Z_STREAM_END || left > 0) return bad("a layer's packed data is damaged or of another length than its size asks for.");
  return out;
}

Result<std::string> unpackedZstd(const std::string& packed, std::size_t size) {
  std::string out(size, '\0');
  const std::size_t got = ZSTD_decompress(out.data(), out.size(), packed.data(), packed.size());
  if (ZSTD_isError(got) || got != size) return bad("a layer's packed data is damaged or of another length than its size asks for.");
  return out;
}

}  // namespace

Result<std::vector<std::uint32_t>> decodeCells(std::string_view data, const std::string& encoding, const std::string& compression,
                                               std::size_t count) {
  if (encoding == "csv") return fromCsv(data, count);
  if (encoding != "base64") return bad("a layer's encoding is " + encoding + ", which is not known.");
  auto bytes = fromBase64(data);
  if (!bytes) return bytes.problem();
  const std::size_t size = count * 4;
  if (compression == "zlib" || compression == "gzip")
    bytes = inflated(*bytes, size);
  else if (compression == "zstd")
    bytes = unpackedZstd(*bytes, size);
  else if (!compression.empty())
    return bad("a layer's compression is " + compression + ", which is not known.");
  if (!bytes) return bytes.problem();
  if (bytes->size() != size) return bad(text("a layer has %zu bytes where its size asks for %zu.", bytes->size(), size));
  std::vector<std::uint32_t> numbers(count);
  for (std::size_t i = 0; i < count; ++i)
    for (std::size_t b = 0; b < 4; ++b)
      numbers[i] |= static_cast<std::uint32_t>(static_cast<unsigned char>((*bytes)[4 * i + b])) << (8 * b);
  return numbers;
}

}  // namespace dune::import
