#pragma once
// The tile numbers of a layer as files pack them.

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

namespace dune::import {

/// Decodes `count` numbers. `encoding` is "csv" or "base64", `compression` is "", "zlib", "gzip" or "zstd". Nothing is unpacked
/// beyond `count` numbers, whatever the packed bytes promise. The problem's `what` is the reason alone.
Result<std::vector<std::uint32_t>> decodeCells(std::string_view data, const std::string& encoding, const std::string& compression,
                                               std::size_t count);

}  // namespace dune::import
