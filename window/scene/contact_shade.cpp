#include "window/scene/contact_shade.h"

#include <QVector2D>

#include "window/scene/shaders.h"

namespace dune::window {

namespace {

constexpr const char* kGather = R"(#version 330 core
out vec4 result;
uniform sampler2D depths; uniform mat4 camera, back; uniform vec2 size;
const float kReach = 0.9, kBias = 0.02, kStrength = 1.5, kMostPixels = 60.0;  // metres of the world
const int kSamples = 9;
/// Of the middle of a pixel of the depths, for which that depth holds.
vec3 placeAt(vec2 uv) {
  ivec2 texel = clamp(ivec2(floor(uv * size)), ivec2(0), ivec2(size) - 1);
  vec4 p = back * vec4(vec3((vec2(texel) + 0.5) / size, texelFetch(depths, texel, 0).r) * 2.0 - 1.0, 1.0);
  return p.xyz / p.w;
}
void main() {
  vec2 pixel = 1.0 / size;
  vec2 at = (floor(gl_FragCoord.xy) * 2.0 + 0.5) * pixel;  // one of the four pixels that this one stands for
  if (texelFetch(depths, ivec2(at * size), 0).r >= 1.0) { result = vec4(1.0, 1e4, 0.0, 1.0); return; }
  vec3 here = placeAt(at);
  // The nearer of both neighbours on each axis: across an edge the plane would tilt.
  vec3 right = placeAt(at + vec2(pixel.x, 0.0)) - here, left = here - placeAt(at - vec2(pixel.x, 0.0));
  vec3 up = placeAt(at + vec2(0.0, pixel.y)) - here, down = here - placeAt(at - vec2(0.0, pixel.y));
  bool rightward = at.x < 2.0 * pixel.x || (at.x < 1.0 - 2.0 * pixel.x && dot(right, right) < dot(left, left));
  bool upward = at.y < 2.0 * pixel.y || (at.y < 1.0 - 2.0 * pixel.y && dot(up, up) < dot(down, down));
  vec3 across = rightward ? right : left, along = upward ? up : down;
  vec3 normal = normalize(cross(across, along));
  float w = (camera * vec4(here, 1.0)).w;
  vec4 aside = camera * vec4(here + normalize(across) * kReach, 1.0);
  vec4 same = camera * vec4(here, 1.0);
  float reach = min(length((aside.xy / aside.w - same.xy / same.w) * 0.5 * size), kMostPixels);
  if (reach < 1.5) { result = vec4(1.0, w, 0.0, 1.0); return; }
  float turn = fract(52.9829189 * fract(dot(gl_FragCoord.xy, vec2(0.06711056, 0.00583715)))) * 6.2831853;
  float sum = 0.0;
  for (int i = 0; i < kSamples; ++i) {
    float part = (float(i) + 0.5) / float(kSamples), angle = turn + float(i) * 2.4;
    vec2 uv = at + vec2(cos(angle), sin(angle)) * part * reach * pixel;
    if (uv != clamp(uv, pixel, 1.0 - pixel)) continue;
    vec3 to = placeAt(uv) - here;
    float far2 = dot(to, to), rise = dot(to, normal);
    float near = max(kReach * kReach - far2, 0.0) / (kReach * kReach);
    sum += near * max(rise - kBias, 0.0) / (sqrt(far2) + 0.02);
  }
  result = vec4(clamp(1.0 - kStrength * sum / float(kSamples), 0.35, 1.0), w, 0.0, 1.0);
})";

/// The shade without the grain of the few samples; not over edges.
constexpr const char* kSmooth = R"(#version 330 core
out vec4 result;
uniform sampler2D shade;
void main() {
  ivec2 at = ivec2(gl_FragCoord.xy), last = textureSize(shade, 0) - 1;
  float here = texelFetch(shade, at, 0).g, sum = 0.0, weight = 0.0;
  for (int y = -1; y <= 1; ++y)
    for (int x = -1; x <= 1; ++x) {
      vec2 other = texelFetch(shade, clamp(at + ivec2(x, y), ivec2(0), last), 0).rg;
      float w = 1.0 / (1.0 + 4.0 * abs(other.g - here));
      sum += w * other.r; weight += w;
    }
  result = vec4(sum / weight, here, 0.0, 1.0);
})";

constexpr const char* kSpread = R"(#version 330 core
in vec2 at; out vec4 result;
uniform sampler2D depths, shade; uniform mat4 back;
/// The distance from the eye's plane, metres; of a view straight down always the same, so that there the depth itself is taken.
float farAt(ivec2 texel) {
  float depth = texelFetch(depths, clamp(texel, ivec2(0), textureSize(depths, 0) - 1), 0).r * 2.0 - 1.0;
  float w = back[2][3] * depth + back[3][3];
  return abs(back[2][3]) > 0.0 ? 1.0 / max(w, 1e-6) : length(back[2].xyz) * depth;
}
void main() {
  ivec2 texel = ivec2(gl_FragCoord.xy);
  float here = farAt(texel);
  float before = max(max(farAt(texel + ivec2(1, 0)), farAt(texel - ivec2(1, 0))), max(farAt(texel + ivec2(0, 1)), farAt(texel - ivec2(0, 1))));
  float edge = 1.0 - 0.42 * smoothstep(0.35, 1.2, (before - here) / (0.25 + 0.015 * abs(here)));
  result = vec4(vec3(texture(shade, at).r * edge), 1.0);
})";

QSize halfOf(const QSize& size) { return {(size.width() + 1) / 2, (size.height() + 1) / 2}; }

std::unique_ptr<QOpenGLShaderProgram> program(const char* fragment) {
  auto made = std::make_unique<QOpenGLShaderProgram>();
  link(*made, kWholePicture, fragment);
  return made;
}

}  // namespace

ContactShade::ContactShade() {
  initializeOpenGLFunctions();
  gather_ = program(kGather), smooth_ = program(kSmooth), spread_ = program(kSpread);
}

ContactShade::~ContactShade() { dropTextures(); }

void ContactShade::dropTextures() {
  for (unsigned* frame : {&depthFrame_, &shadeFrame_, &smoothFrame_})
    if (*frame) glDeleteFramebuffers(1, frame), *frame = 0;
  for (unsigned* texture : {&depth_, &shade_, &smoothed_})
    if (*texture) glDeleteTextures(1, texture), *texture = 0;
}

void ContactShade::resize(const QSize& size) {
  if (size == size_) return;
  dropTextures();
  size_ = size;
  const auto make = [this](unsigned& texture, unsigned& frame, GLint inside, GLenum format, GLenum type, GLenum attachment, const QSize& s,
                           GLint filter) {
    glGenTextures(1, &texture);
    glBindTexture(GL_TEXTURE_2D, texture);
    glTexImage2D(GL_TEXTURE_2D, 0, inside, s.width(), s.height(), 0, format, type, nullptr);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, filter);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MAG_FILTER, filter);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_S, GL_CLAMP_TO_EDGE);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_T, GL_CLAMP_TO_EDGE);
    glGenFramebuffers(1, &frame);
    glBindFramebuffer(GL_FRAMEBUFFER, frame);
    glFramebufferTexture2D(GL_FRAMEBUFFER, attachment, GL_TEXTURE_2D, texture, 0);
  };
  make(depth_, depthFrame_, GL_DEPTH24_STENCIL8, GL_DEPTH_STENCIL, GL_UNSIGNED_INT_24_8, GL_DEPTH_STENCIL_ATTACHMENT, size, GL_NEAREST);
  for (const auto& [texture, frame] : {std::pair(&shade_, &shadeFrame_), {&smoothed_, &smoothFrame_}})
    make(*texture, *frame, GL_RG16F, GL_RG, GL_HALF_FLOAT, GL_COLOR_ATTACHMENT0, halfOf(size), GL_LINEAR);
}

void ContactShade::pass(QOpenGLShaderProgram& program, const QMatrix4x4& matrix, unsigned shade) {
  program.bind();
  program.setUniformValue("camera", matrix);
  program.setUniformValue("back", matrix.inverted());
  program.setUniformValue("size", QVector2D(static_cast<float>(size_.width()), static_cast<float>(size_.height())));
  program.setUniformValue("depths", 0);
  program.setUniformValue("shade", 1);
  glActiveTexture(GL_TEXTURE0);
  glBindTexture(GL_TEXTURE_2D, depth_);
  glActiveTexture(GL_TEXTURE1);
  glBindTexture(GL_TEXTURE_2D, shade);
  glDrawArrays(GL_TRIANGLES, 0, 3);
  glBindTexture(GL_TEXTURE_2D, 0);
  glActiveTexture(GL_TEXTURE0);
  glBindTexture(GL_TEXTURE_2D, 0);
  program.release();
}

void ContactShade::takeDepths(const QOpenGLFramebufferObject& picture) {
  const QSize size = picture.size();
  if (size.width() < 4 || size.height() < 4) return;
  resize(size);
  glBindFramebuffer(GL_READ_FRAMEBUFFER, picture.handle());
  glBindFramebuffer(GL_DRAW_FRAMEBUFFER, depthFrame_);
  glBlitFramebuffer(0, 0, size.width(), size.height(), 0, 0, size.width(), size.height(), GL_DEPTH_BUFFER_BIT | GL_STENCIL_BUFFER_BIT,
                    GL_NEAREST);
  glBindFramebuffer(GL_FRAMEBUFFER, picture.handle());
}

void ContactShade::darken(const QOpenGLFramebufferObject& picture, const QMatrix4x4& matrix) {
  const QSize size = picture.size();
  if (size != size_) return;
  glDisable(GL_DEPTH_TEST);
  glDepthMask(GL_FALSE);
  glDisable(GL_BLEND);
  glBindFramebuffer(GL_FRAMEBUFFER, shadeFrame_);
  glViewport(0, 0, halfOf(size).width(), halfOf(size).height());
  pass(*gather_, matrix, 0);
  glBindFramebuffer(GL_FRAMEBUFFER, smoothFrame_);
  pass(*smooth_, matrix, shade_);
  glEnable(GL_BLEND);
  glBlendFuncSeparate(GL_ZERO, GL_SRC_COLOR, GL_ZERO, GL_ONE);  // what is there times the shade
  glBindFramebuffer(GL_FRAMEBUFFER, picture.handle());
  glViewport(0, 0, size.width(), size.height());
  pass(*spread_, matrix, smoothed_);
  glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
  glDepthMask(GL_TRUE);
  glEnable(GL_DEPTH_TEST);
}

}  // namespace dune::window
