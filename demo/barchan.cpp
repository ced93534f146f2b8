#include "demo/barchan.h"

#include <png.h>

#include <cmath>

namespace dune::demo {

namespace {

constexpr int kSide = 193;       // pixels
constexpr double kMetres = 1.2;  // a pixel
constexpr double kRise = 14;     // metres from black to white

struct Dune {
  double x, z, size, height;  // pixels, and a part of the whole height
};

/// A barchan: a gentle side that the wind runs up, a steep lee side, and two horns that reach ahead.
double duneAt(const Dune& d, double x, double z) {
  const double u = (x - d.x) / d.size, v = (z - d.z) / d.size;
  const double ahead = u - 0.55 * v * v;  // the crest bends forward at both ends
  const double along = ahead < 0 ? std::exp(-ahead * ahead * 1.2) : std::exp(-ahead * ahead * 14);
  return d.height * along * std::exp(-v * v * 1.6);
}

double heightAt(double x, double z) {
  static constexpr Dune kDunes[] = {{40, 45, 22, 0.62},  {95, 30, 16, 0.45},  {150, 60, 26, 0.8}, {70, 110, 28, 0.85},
                                    {130, 130, 18, 0.5}, {40, 160, 20, 0.55}, {165, 165, 22, 0.6}};
  double height = 0.06 + 0.02 * std::sin(x / 23) * std::cos(z / 17) + 0.004 * std::sin(x / 2.5 + std::sin(z / 9));
  for (const Dune& d : kDunes) height = std::max(height, 0.06 + duneAt(d, x, z)) + 0.15 * std::min(height, duneAt(d, x, z));
  return std::min(1.0, height);
}

void append(png_structp png, png_bytep data, png_size_t size) {
  static_cast<std::string*>(png_get_io_ptr(png))->append(reinterpret_cast<const char*>(data), size);
}
void nothing(png_structp) {}

Vec3 onSand(double x, double z) { return {x, heightAt(x / kMetres, z / kMetres) * kRise, z}; }

/// Ripples between the dunes, made one face by hand.
hand::Work smoothed() {
  hand::Patch patch;
  patch.id = 1, patch.agents = {1};
  patch.faces.push_back({{onSand(96, 60), onSand(96, 72), onSand(114, 72), onSand(114, 60)}, {}, onSand(105, 66).y});
  return {{patch}, {}};
}

}  // namespace

std::string barchanImage() {
  std::string bytes;
  png_structp png = png_create_write_struct(PNG_LIBPNG_VER_STRING, nullptr, nullptr, nullptr);
  png_infop info = png_create_info_struct(png);
  png_set_write_fn(png, &bytes, append, nothing);
  png_set_IHDR(png, info, kSide, kSide, 16, PNG_COLOR_TYPE_GRAY, PNG_INTERLACE_NONE, PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
  png_write_info(png, info);
  std::vector<png_byte> row(2 * kSide);
  for (int z = 0; z < kSide; ++z) {
    for (int x = 0; x < kSide; ++x) {
      const auto grey = static_cast<unsigned>(std::lround(heightAt(x, z) * 65535));
      row[static_cast<std::size_t>(2 * x)] = static_cast<png_byte>(grey >> 8),
                                       row[static_cast<std::size_t>(2 * x + 1)] = static_cast<png_byte>(grey & 255);
    }
    png_write_row(png, row.data());
  }
  png_write_end(png, info);
  png_destroy_write_struct(&png, &info);
  return bytes;
}

project::Project barchanProject() {
  project::Project p;
  project::edit(p.level, [](project::LevelSection& s) {
    s.files = {{"barchan-field.png", {level::UpAxis::y, 1, kMetres, kRise}}};
    s.blockers = {{1, level::BlockerShape::box, {120, 1, 96}, {6, 3, 4}, 30, level::Role::obstacle, {}, {}}};
  });
  project::edit(p.agents, [](project::AgentsSection& s) {
    s.agents[0].name = "Walker", s.agents[0].maxSlope = 32, s.agents[0].radius = 0.5, s.agents[0].stepHeight = 0.3;
  });
  project::edit(p.routes, [](project::RoutesSection& s) { s.routes = {{1, "Across the field", {8, 1, 8}, {222, 1, 218}}}; });
  p.hand = std::make_shared<const hand::Work>(smoothed());
  return p;
}

}  // namespace dune::demo
