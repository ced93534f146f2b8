#pragma once
// How recordings of one make were read last: what a person said once counts for the next one too.

#include "core/trace/table_head.h"

namespace dune::window {

trace::Reading keptReading(const trace::TableHead& head);
void keepReading(const trace::TableHead& head, const trace::Reading& reading);

}  // namespace dune::window
