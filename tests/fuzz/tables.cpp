#include "core/exchange/csv.h"
#include "core/trace/csv.h"
#include "core/trace/table_head.h"

using namespace dune;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string text(reinterpret_cast<const char*>(data), size);
  (void)dune::exchange::pairsFromCsv(text).ok();
  (void)dune::exchange::crowdFromCsv(text, {{}}).ok();
  if (const auto trace = dune::trace::fromCsv(text)) (void)dune::trace::toCsv(*trace);
  const trace::TableHead head = trace::headOfText(text);
  trace::Reading reading;
  for (std::size_t i = 0; i < head.names.size() && i < trace::kNeeded.size(); ++i) reading.columns[trace::kNeeded[i]] = head.names[i];
  reading.scale = 0.01, reading.zUp = true;
  if (const auto trace = trace::fromCsv(text, 0.9, reading)) (void)trace::toCsv(*trace);
  return 0;
}
