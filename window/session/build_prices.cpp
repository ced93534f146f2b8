#include "window/session/build_prices.h"

#include <algorithm>
#include <cmath>

namespace dune::window {

namespace {

constexpr std::size_t kMostKept = 12;
constexpr double kWorthKeeping = 0.25;  // of a level's squares: the rest of a smaller rebuild's time goes elsewhere

struct Rates {
  double square = 0, triangle = 0;  // seconds
};

/// Errors count in relation to the time, so that small and large builds say as much.
Rates fit(const std::vector<BuildPrices::Build>& builds) {
  double ss = 0, st = 0, tt = 0, s = 0, t = 0;
  for (const BuildPrices::Build& b : builds) {
    const double squares = b.squares / b.seconds, triangles = b.triangles / b.seconds;
    ss += squares * squares, st += squares * triangles, tt += triangles * triangles, s += squares, t += triangles;
  }
  const Rates squaresAlone{ss > 0 ? s / ss : 0, 0}, trianglesAlone{0, tt > 0 ? t / tt : 0};
  const double det = ss * tt - st * st;
  const Rates both = det > 1e-9 * ss * tt ? Rates{(s * tt - t * st) / det, (t * ss - s * st) / det} : Rates{-1, -1};
  if (both.square >= 0 && both.triangle >= 0) return both;
  // One of the two says nothing more than the other: the one alone that fits better.
  auto error = [&](const Rates& r) {
    return r.square * r.square * ss + r.triangle * r.triangle * tt - 2 * (r.square * s + r.triangle * t);
  };
  return error(squaresAlone) <= error(trianglesAlone) ? squaresAlone : trianglesAlone;
}

}  // namespace

BuildPrices BuildPrices::fromSettings(const QStringList& kept) {
  BuildPrices prices;
  for (const QString& line : kept) {
    const QStringList cells = line.split(QLatin1Char(' '));
    if (cells.size() != 3) continue;
    const Build b{cells[0].toDouble(), cells[1].toDouble(), cells[2].toDouble()};
    if (b.squares > 0 && b.triangles >= 0 && b.seconds > 0 && std::isfinite(b.squares + b.triangles + b.seconds)) prices.last_.push_back(b);
  }
  return prices;
}

QStringList BuildPrices::toSettings() const {
  QStringList lines;
  for (const Build& b : last_) lines << QStringLiteral("%1 %2 %3").arg(b.squares).arg(b.triangles).arg(b.seconds);
  return lines;
}

void BuildPrices::learn(std::size_t made, std::size_t squares, std::size_t triangles, double seconds) {
  const double part = squares > 0 ? static_cast<double>(made) / static_cast<double>(squares) : 0;
  if (made == 0 || !(seconds > 0) || (part < kWorthKeeping && !last_.empty())) return;
  last_.push_back({static_cast<double>(made), static_cast<double>(triangles) * part, seconds});
  if (last_.size() > kMostKept) last_.erase(last_.begin());
}

std::optional<double> BuildPrices::seconds(double squares, double triangles) const {
  if (last_.empty()) return std::nullopt;
  const Rates rates = fit(last_);
  return rates.square * squares + rates.triangle * triangles;
}

}  // namespace dune::window
