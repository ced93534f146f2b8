#include "demo/shift.h"

#include <algorithm>
#include <functional>
#include <vector>

#include "core/base/polyline.h"
#include "core/base/text.h"
#include "core/base/vec.h"

namespace dune::demo {

namespace {

constexpr double kSpeed = 1.3, kRate = 15;  // m/s, samples a second

/// A line that is walked with one speed.
struct Line {
  std::vector<Vec3> points;
  Vec3 at(double seconds) const { return placeAlong(points, kSpeed * seconds); }
  double seconds() const { return lengthOf(points) / kSpeed; }
};

struct Worker {
  int id;
  double begin, end;  // s
  std::function<Vec3(double)> at;
  std::function<bool(double)> lost = [](double) { return false; };  // samples that are missing
};

/// Walks from a time on; what is done with its time makes the mistake.
Worker walks(
    int id, double begin, Line line, double more = 0, std::function<double(double)> time = [](double t) { return t; }) {
  const double seconds = line.seconds() + more;
  return {id, begin, begin + seconds, [=](double t) { return line.at(time(t - begin)); }};
}

std::vector<Worker> shift() {
  const Line lane{{{31, 0, 7.4}, {17, 0, 7.4}}}, west{{{31, 0, 39}, {37, 0, 28}}};
  std::vector<Worker> all;
  // As it should be: through the lane, and over the yard with a rest.
  all.push_back(walks(1, 0, lane));
  all.push_back(walks(2, 2, west, 2, [](double t) { return t - std::clamp(t - 3, 0.0, 2.0); }));
  // Stands for seven seconds, for the next one stands in its way.
  all.push_back(
      walks(3, 8, {{{30, 0, 26}, {32.7, 0, 26}, {33.3, 0, 27}, {37, 0, 27}}}, 7, [](double t) { return t - std::clamp(t - 2, 0.0, 7.0); }));
  all.push_back({4, 8, 17, [](double) { return Vec3{33.35, 0, 26}; }});
  // Is somewhere else all at once.
  all.push_back(walks(5, 22, {{{30, 0, 27.5}, {38, 0, 27.5}}}, -3, [](double t) { return t < 2 ? t : t + 3; }));
  // Runs as nobody can.
  all.push_back(walks(6, 30, west, -4, [](double t) { return t + 4.2 * std::clamp(t - 2, 0.0, 1.0); }));
  // Trembles where it stands.
  all.push_back({7, 34, 42, [west](double t) {
                   const double on = std::clamp(t - 36, 0.0, 3.0);
                   return west.at(t - 34 - on) + Vec3{on > 0 && on < 3 ? 0.08 * std::sin(2 * kPi * 3 * on) : 0, 0, 0};
                 }});
  // Goes back and forth between two places.
  all.push_back({8, 44, 62, [](double t) {
                   const double share = std::fmod(t - 44, 6) / 6;
                   return glm::mix(Vec3{30, 0, 27}, Vec3{33.5, 0, 27}, share < 0.5 ? 2 * share : 2 - 2 * share);
                 }});
  // Goes round and round.
  all.push_back({9, 46, 66, [](double t) {
                   const double angle = kSpeed * (t - 46) / 1.2;
                   return Vec3{34 + 1.2 * std::cos(angle), 0, 30 + 1.2 * std::sin(angle)};
                 }});
  // Floats over the ground for two seconds.
  all.push_back({10, 66, 66 + west.seconds(), [west](double t) {
                   return west.at(t - 66) + Vec3{0, 0.6 * std::clamp(std::min(t - 69, 71 - t) / 0.3, 0.0, 1.0), 0};
                 }});
  // Is missing for four seconds.
  Worker gone = walks(11, 68, {{{17, 0, 7.4}, {31, 0, 7.4}}});
  gone.lost = [](double t) { return t > 71 && t < 75; };
  all.push_back(gone);
  // Crosses the sinking sand.
  all.push_back(walks(12, 76, {{{19.4, 0, 36.6}, {26.8, 0, 29.5}}}));
  // Two that do not see each other.
  all.push_back(walks(13, 84, {{{30, 0, 26}, {37, 0, 26}}}));
  all.push_back(walks(14, 84, {{{37, 0, 26.2}, {30, 0, 26.2}}}));
  return all;
}

}  // namespace

std::string depotShift() {
  const std::vector<Worker> workers = shift();
  double end = 0;
  for (const Worker& w : workers) end = std::max(end, w.end);
  std::string table = "t,id,x,y,z\n";
  for (int step = 0; step / kRate <= end; ++step) {
    const double t = step / kRate;
    for (const Worker& w : workers) {
      if (t < w.begin || t > w.end || w.lost(t)) continue;
      const Vec3 at = w.at(t);
      table += text("%.3f,%d,%.3f,%.3f,%.3f\n", t, w.id, at.x, at.y, at.z);
    }
  }
  return table;
}

}  // namespace dune::demo
