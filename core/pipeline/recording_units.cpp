#include "core/pipeline/recording_units.h"

#include <algorithm>

#include "core/base/text.h"

namespace dune::pipeline {

namespace {

/// Some of what was recorded: places, and how far bodies got in how long.
struct Evidence {
  std::vector<Vec3> origins;  // what tables name places by, as it was read
  double speed = 0;           // that a quarter of those who go anywhere is above, m/s as it was read
  double originHeight = 0;
};

bool there(const trace::Sample& s) { return s.state != trace::State::waiting; }

Evidence evidenceOf(const trace::Trace& t) {
  constexpr std::size_t kMostPlaces = 400;
  Evidence e;
  const std::size_t frames = t.frameCount(), bodies = t.bodies().size();
  if (frames < 2 || bodies == 0) return e;
  e.originHeight = t.bodies()[0].originHeight;
  const std::size_t every = std::max<std::size_t>(1, frames * bodies / kMostPlaces);
  // Over a few frames, so that rounded places say something.
  const std::size_t ahead = std::max<std::size_t>(1, std::min<std::size_t>(10, frames / 4));
  std::vector<double> speeds;
  for (std::size_t i = 0; i < frames * bodies; i += every) {
    const std::size_t f = i / bodies, b = i % bodies;
    const trace::Sample s = t.at(f, b);
    if (!there(s)) continue;
    e.origins.push_back(s.at + Vec3{0, e.originHeight, 0});
    if (f + ahead >= frames) continue;
    const trace::Sample later = t.at(f + ahead, b);
    const double speed = glm::distance(later.at, s.at) / (later.t - s.t);
    if (there(later) && speed > 0) speeds.push_back(speed);
  }
  // Those who stand say nothing: the faster half counts.
  std::ranges::sort(speeds);
  if (!speeds.empty()) e.speed = speeds[speeds.size() * 3 / 4];
  return e;
}

/// Of the places, read in another way, those with ground right below or above, from 0 to 1.
double shareOnGround(const Evidence& e, const review::Ground& ground, double scale, bool turn) {
  constexpr double kNearGround = 1;  // m
  std::size_t on = 0;
  for (const Vec3& o : e.origins) {
    const Vec3 at = (turn ? Vec3{o.x, o.z, -o.y} : o) * scale - Vec3{0, e.originHeight, 0};
    on += ground.locator.under(at, kNearGround).valid();
  }
  return static_cast<double>(on) / static_cast<double>(e.origins.size());
}

}  // namespace

std::optional<ReadingGuess> guessReading(const trace::Trace& trace, const review::Ground& ground, const trace::Reading& now) {
  constexpr double kEnough = 0.5, kGood = 0.8, kBetter = 0.3;  // of all places
  constexpr double kSlowest = 0.15, kFastest = 4;              // times the speed of the agent
  constexpr std::size_t kFewest = 20;                          // places
  constexpr double kScales[] = {1, 0.01, 0.0254, 0.3048, 0.001, 100};
  const Evidence e = evidenceOf(trace);
  if (e.origins.size() < kFewest || ground.mesh.faceCount() == 0) return std::nullopt;
  const auto likely = [&](double scale, double seconds) {
    const double speed = e.speed * scale / seconds / ground.mesh.agent.speed;
    return speed > kSlowest && speed < kFastest;
  };
  const double asItIs = shareOnGround(e, ground, 1, false);
  if (asItIs >= kEnough && (likely(1, 1) || e.speed <= 0)) return std::nullopt;
  struct Best {
    double share = 0, scale = 1, seconds = 1;
    bool turn = false;
  } best;
  for (const double scale : kScales)
    for (const bool turn : {false, true})
      for (const double seconds : {1.0, 0.001}) {
        if (!likely(scale, seconds) || (scale == 1 && !turn && seconds == 1)) continue;
        const double share = shareOnGround(e, ground, scale, turn);
        if (share > best.share + 0.02) best = {share, scale, seconds, turn};
      }
  const bool onlyTimes = asItIs >= kEnough && best.scale == 1 && !best.turn;
  if (best.share < kGood || (!onlyTimes && best.share < asItIs + kBetter)) return std::nullopt;
  ReadingGuess guess{now, {}};
  guess.read.scale *= best.scale, guess.read.seconds *= best.seconds;
  guess.read.zUp = now.zUp != best.turn;
  guess.reason = onlyTimes
                     ? text("They walk at %.2g m/s as it is read now, and at %.2g m/s then.", e.speed, e.speed / best.seconds)
                     : text("%.0f %% of its places lie on the ground then, %.0f %% as it is read now.", 100 * best.share, 100 * asItIs);
  return guess;
}

review::Finding findingOf(const ReadingGuess& guess, const trace::Trace& trace) {
  const std::string words = trace::wordsOf(guess.read);
  std::string flags;
  if (guess.read.scale != 1) flags += text(" --trace-scale %g", guess.read.scale);
  if (guess.read.zUp) flags += " --trace-up z";
  if (guess.read.seconds != 1) flags += text(" --trace-seconds %g", guess.read.seconds);
  review::Finding f{"recording-units",
                    review::Severity::warning,
                    "The recording is read in a wrong way as it seems: it should be read " + words + ".",
                    guess.reason + " Nothing else is looked at until then.",
                    flags.empty() ? "reading it as it is." : "reading it " + words + ":" + flags + ".",
                    trace.at(0, 0).at,
                    -1,
                    -1,
                    0,
                    0};
  f.remedy = review::Remedy{"Read it " + words, review::ReadRecording{guess.read}};
  return f;
}

}  // namespace dune::pipeline
