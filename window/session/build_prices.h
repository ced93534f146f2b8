#pragma once
// What builds took on this machine, and what the next one will take.
//
// Squares cost something of their own, and so does every triangle in them; how much of each is found from the last builds of any level
// (least squares, neither below zero). Small rebuilds say little about large ones and are not kept.

#include <QStringList>
#include <optional>
#include <vector>

namespace dune::window {

class BuildPrices {
 public:
  struct Build {
    double squares = 0, triangles = 0;  ///< that were looked at
    double seconds = 0;
  };

  /// As they were told to settings; what makes no sense is left out.
  static BuildPrices fromSettings(const QStringList& kept);
  QStringList toSettings() const;

  /// Keeps a build that made `made` of a level's squares, unless that is only a small part of them.
  void learn(std::size_t made, std::size_t squares, std::size_t triangles, double seconds);
  /// Seconds for so many squares and triangles; nothing before a first build.
  std::optional<double> seconds(double squares, double triangles) const;

 private:
  std::vector<Build> last_;  // newest last
};

}  // namespace dune::window
