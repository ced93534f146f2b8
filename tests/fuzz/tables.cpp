#include "core/exchange/csv.h"
#include "core/trace/csv.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string text(reinterpret_cast<const char*>(data), size);
  (void)dune::exchange::pairsFromCsv(text).ok();
  (void)dune::exchange::crowdFromCsv(text, {{}}).ok();
  if (const auto trace = dune::trace::fromCsv(text)) (void)dune::trace::toCsv(*trace);
  return 0;
}
