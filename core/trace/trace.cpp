#include "core/trace/trace.h"

#include <algorithm>
#include <glm/gtc/packing.hpp>

namespace dune::trace {

namespace {

constexpr std::size_t kBlockSamples = 1 << 17;  // about 4 MB

Block::Velocity packed(const Vec3& v) {
  const auto half = [](double x) { return glm::packHalf1x16(static_cast<float>(std::clamp(x, -65000.0, 65000.0))); };
  return {half(v.x), half(v.y), half(v.z)};
}
Vec3 unpacked(const Block::Velocity& v) { return {glm::unpackHalf1x16(v.x), glm::unpackHalf1x16(v.y), glm::unpackHalf1x16(v.z)}; }

}  // namespace

void Block::add(const Sample& s) {
  at.push_back({static_cast<float>(s.at.x), static_cast<float>(s.at.y), static_cast<float>(s.at.z)});
  velocity.push_back(packed(s.velocity));
  wanted.push_back(packed(s.wanted));
  state.push_back(s.state);
  face.push_back(s.face);
}

Sample Block::sample(std::size_t i) const {
  return {0, 0, {at[i].x, at[i].y, at[i].z}, unpacked(velocity[i]), unpacked(wanted[i]), state[i], face[i]};
}

Outcome Trace::begin(const std::vector<Body>& bodies) {
  bodies_ = bodies;
  return Nothing{};
}

Outcome Trace::add(std::shared_ptr<const Block> block) {
  firstFrame_.push_back(firstFrame_.back() + block->times.size());
  blocks_.push_back(std::move(block));
  return Nothing{};
}

std::size_t Trace::blockOf(std::size_t frame) const {
  return static_cast<std::size_t>(std::upper_bound(firstFrame_.begin(), firstFrame_.end(), frame) - firstFrame_.begin()) - 1;
}

std::optional<std::size_t> Trace::bodyOf(int id) const {
  const auto found = std::ranges::lower_bound(bodies_, id, {}, &Body::id);
  if (found == bodies_.end() || found->id != id) return std::nullopt;
  return static_cast<std::size_t>(found - bodies_.begin());
}

double Trace::timeOf(std::size_t frame) const {
  const std::size_t b = blockOf(frame);
  return blocks_[b]->times[frame - firstFrame_[b]];
}

std::size_t Trace::frameAt(double time) const {
  std::size_t low = 0, high = frameCount();
  while (low + 1 < high) {
    const std::size_t middle = (low + high) / 2;
    (timeOf(middle) <= time ? low : high) = middle;
  }
  return low;
}

Sample Trace::at(std::size_t frame, std::size_t body) const {
  const std::size_t b = blockOf(frame), row = frame - firstFrame_[b];
  Sample s = blocks_[b]->sample(row * bodies_.size() + body);
  s.t = blocks_[b]->times[row];
  s.id = bodies_[body].id;
  return s;
}

bool Trace::isThere(std::size_t frame, std::size_t body) const {
  const Sample now = at(frame, body);
  return now.state != State::waiting || now.at != at(0, body).at;
}

Writer::Writer(Sink& sink, std::vector<Body> bodies)
    : sink_(sink), bodies_(std::move(bodies)), most_(std::max<std::size_t>(1, kBlockSamples / std::max<std::size_t>(1, bodies_.size()))) {}

Outcome Writer::begin() { return sink_.begin(bodies_); }

Outcome Writer::frame(double time, std::span<const Sample> samples) {
  assert(samples.size() == bodies_.size());
  if (!block_) block_ = std::make_shared<Block>();
  assert(block_->times.empty() || block_->times.back() < time);
  block_->times.push_back(time);
  for (const Sample& s : samples) block_->add(s);
  if (block_->times.size() < most_) return Nothing{};
  return sink_.add(std::exchange(block_, nullptr));
}

Outcome Writer::end() {
  if (block_)
    if (auto added = sink_.add(std::exchange(block_, nullptr)); !added) return added;
  return sink_.end();
}

namespace {

std::vector<Body> bodiesOf(const crowd::Crowd& crowd) {
  std::vector<Body> bodies;
  for (std::size_t b = 0; b < crowd.size(); ++b) {
    const crowd::Walker& w = crowd.walker(b);
    const bool arrives = !w.chase && w.round.empty();
    bodies.push_back({w.id, w.radius, arrives ? std::optional(w.goal) : std::nullopt, w.group, w.originHeight});
  }
  return bodies;
}

void samplesOf(const crowd::Crowd& crowd, std::vector<Sample>& samples) {
  samples.resize(crowd.size());
  for (std::size_t b = 0; b < crowd.size(); ++b) {
    const crowd::BodyState& s = crowd.bodies()[b];
    samples[b] = {crowd.now(), crowd.walker(b).id, s.at, s.velocity, s.wanted, s.state, s.face};
  }
}

}  // namespace

Trace asItIs(const crowd::Crowd& crowd) {
  Trace trace;
  std::vector<Sample> samples;
  samplesOf(crowd, samples);
  Writer writer(trace, bodiesOf(crowd));
  // Into memory nothing fails.
  (void)writer.begin(), (void)writer.frame(crowd.now(), samples), (void)writer.end();
  return trace;
}

Outcome record(crowd::Crowd& crowd, double seconds, Sink& sink, Job& job, const std::function<void(std::size_t)>& afterFrame) {
  Writer writer(sink, bodiesOf(crowd));
  std::vector<Sample> frame;
  std::size_t frames = 0;
  const auto keep = [&]() -> Outcome {
    samplesOf(crowd, frame);
    auto kept = writer.frame(crowd.now(), frame);
    if (kept && afterFrame) afterFrame(frames);
    ++frames;
    return kept;
  };
  if (auto begun = writer.begin(); !begun) return begun;
  if (auto kept = keep(); !kept) return kept;
  constexpr double kHair = 1e-9;  // seconds: steps add up to the end but for rounding
  while (crowd.now() + kHair < seconds) {
    if (!crowd.step(job)) return Job::cancelledProblem();
    if (auto kept = keep(); !kept) return kept;
    job.advance(crowd.now() / seconds);
  }
  return writer.end();
}

}  // namespace dune::trace
