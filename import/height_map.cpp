#include "import/height_map.h"

#include <png.h>

#include <cstdio>
#include <filesystem>
#include <memory>

#include "core/base/text.h"

namespace dune::import {

namespace {

struct Image {
  png_uint_32 width = 0, height = 0;
  int depth = 8;
  std::vector<std::uint8_t> bytes;  // rows one after the other; 16-bit values have the high byte first
  std::string trouble;

  double at(png_uint_32 column, png_uint_32 row) const {
    const std::size_t i = static_cast<std::size_t>(row) * width + column;
    return depth == 16 ? (bytes[2 * i] * 256 + bytes[2 * i + 1]) / 65535.0 : bytes[i] / 255.0;
  }
};

void onError(png_structp png, png_const_charp message) {
  static_cast<Image*>(png_get_error_ptr(png))->trouble = message;
  longjmp(png_jmpbuf(png), 1);
}
void onWarning(png_structp, png_const_charp) {}

/// Between setjmp and longjmp nothing with a destructor may come to life, so rows are read into what the caller owns.
bool decode(png_structp png, png_infop info, std::FILE* file, Image& image, std::vector<png_bytep>& rows) {
  if (setjmp(png_jmpbuf(png))) return false;
  png_init_io(png, file);
  png_read_info(png, info);
  image.width = png_get_image_width(png, info), image.height = png_get_image_height(png, info);
  const int colour = png_get_color_type(png, info);
  if (colour != PNG_COLOR_TYPE_GRAY && colour != PNG_COLOR_TYPE_GRAY_ALPHA) png_error(png, "it has colours, and a height map is grey");
  if (image.width < 2 || image.height < 2) png_error(png, "it needs two pixels each way at least");
  image.depth = png_get_bit_depth(png, info) == 16 ? 16 : 8;
  png_set_expand_gray_1_2_4_to_8(png);
  png_set_strip_alpha(png);
  png_set_interlace_handling(png);
  png_read_update_info(png, info);
  const std::size_t stride = png_get_rowbytes(png, info);
  image.bytes.resize(stride * image.height);
  rows.resize(image.height);
  for (png_uint_32 row = 0; row < image.height; ++row) rows[row] = image.bytes.data() + stride * row;
  png_read_image(png, rows.data());
  png_read_end(png, nullptr);
  return true;
}

}  // namespace

Result<level::Level> readHeightMap(const std::string& path, const Progress& progress) {
  const std::unique_ptr<std::FILE, int (*)(std::FILE*)> file(std::fopen(path.c_str(), "rb"), &std::fclose);
  if (!file) return Problem{ProblemCode::unreadable, "The file cannot be opened.", path, ""};
  Image image;
  std::vector<png_bytep> rows;
  png_structp png = png_create_read_struct(PNG_LIBPNG_VER_STRING, &image, onError, onWarning);
  png_infop info = png ? png_create_info_struct(png) : nullptr;
  const bool done = info && decode(png, info, file.get(), image, rows);
  png_destroy_read_struct(&png, &info, nullptr);
  if (!done)
    return Problem{ProblemCode::damaged, "The height map cannot be read: " + image.trouble + ".", path,
                   "a grey PNG image of 8 or 16 bits."};
  level::Object terrain;
  terrain.name = std::filesystem::path(path).stem().string();
  terrain.vertices.edit().reserve(static_cast<std::size_t>(image.width) * image.height);
  auto tell = [&](double from, png_uint_32 row) {
    if (progress) progress(from + 0.25 * row / image.height);
  };
  for (png_uint_32 row = 0; row < image.height; ++row) {
    tell(0.5, row);
    for (png_uint_32 column = 0; column < image.width; ++column) terrain.vertices.edit().push_back({column, image.at(column, row), row});
  }
  terrain.triangles.edit().reserve(static_cast<std::size_t>(image.width - 1) * (image.height - 1) * 2);
  for (png_uint_32 row = 0; row + 1 < image.height; ++row) {
    tell(0.75, row);
    for (png_uint_32 column = 0; column + 1 < image.width; ++column) {
      const std::uint32_t a = row * image.width + column, b = a + image.width;
      terrain.triangles.edit().push_back({a, b, b + 1});
      terrain.triangles.edit().push_back({a, b + 1, a + 1});
    }
  }
  level::Level level;
  level.objects.push_back(std::move(terrain));
  return level;
}

}  // namespace dune::import
