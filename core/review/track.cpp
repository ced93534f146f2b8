#include "core/review/track.h"

#include "core/base/median.h"

namespace dune::review {

Track trackOf(const trace::Trace& trace, std::size_t body) {
  Track track{body, {}, 0};
  for (std::size_t f = 0; f < trace.frameCount(); ++f) {
    const trace::Sample s = trace.at(f, body);
    if (s.state != trace::State::waiting) track.moments.push_back({s.t, s.at, s.state, f});
  }
  std::vector<double> between;
  for (std::size_t i = 1; i < track.moments.size(); ++i) between.push_back(track.moments[i].t - track.moments[i - 1].t);
  track.interval = medianOf(std::move(between));
  return track;
}

}  // namespace dune::review
