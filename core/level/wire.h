#pragma once
// A level, or why there is none, as bytes: what the reading process hands to us.

#include <string>
#include <string_view>

#include "core/base/result.h"
#include "core/level/level.h"

namespace dune::level {

std::string toWire(const Result<Level>& level);

/// Nothing when the bytes are not whole, or contradict themselves: the process that wrote them ended early.
std::optional<Result<Level>> fromWire(std::string_view bytes);

}  // namespace dune::level
