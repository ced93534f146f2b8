#include "window/scene/layer_shaders.h"

#include "window/scene/shaders.h"

namespace dune::window {

namespace {

constexpr const char* kFillVertex = R"(
layout(location = 0) in vec3 position; layout(location = 1) in vec4 colour;
uniform mat4 camera; uniform float towards;
#ifdef PLACED
out vec3 world;
#endif
out vec4 shade;
void main() {
#ifdef PLACED
  world = position;
#endif
  shade = colour; gl_Position = camera * vec4(position, 1.0); gl_Position.z -= towards * gl_Position.w;
})";

constexpr const char* kStrokeVertex = R"(
layout(location = 0) in vec3 position; layout(location = 1) in vec3 other; layout(location = 2) in vec2 sideWidth; layout(location = 3) in vec4 colour;
uniform mat4 camera; uniform float towards; uniform vec2 viewport;
#ifdef PLACED
out vec3 world;
#endif
out vec4 shade; out vec2 beside;
void main() {
  vec4 p = camera * vec4(position, 1.0), q = camera * vec4(other, 1.0);
  float near = 0.01;
  if (p.w < near) p = mix(p, q, clamp((near - p.w) / (q.w - p.w), 0.0, 1.0));
  if (q.w < near) q = mix(q, p, clamp((near - q.w) / (p.w - q.w), 0.0, 1.0));
  vec2 d = (q.xy / q.w - p.xy / p.w) * viewport;
  d = length(d) > 1e-4 ? normalize(d) : vec2(1.0, 0.0);
  float width = abs(sideWidth.y), reach = width + 1.0;  // a soft pixel on each side
  p.xy += vec2(-d.y, d.x) * sideWidth.x * reach / viewport * p.w;
  beside = vec2(sideWidth.x * sign(sideWidth.y) * reach, width) * 0.5;
  p.z -= towards * p.w;
#ifdef PLACED
  world = position;
#endif
  shade = colour; gl_Position = p;
})";

constexpr const char* kFragment = R"(
in vec4 shade; out vec4 result;
#ifdef PLACED
in vec3 world;
#endif
#ifdef STROKE
in vec2 beside;
#endif
#ifdef CLIPPED
uniform float cutAway; uniform vec4 clipBox; uniform int clip;
#endif
void main() {
#ifdef CLIPPED
  if (world.y > cutAway) discard;
  bool inside = world.x > clipBox.x && world.x < clipBox.z && -world.z > clipBox.y && -world.z < clipBox.w;
  if ((clip == 1 && !inside) || (clip == 2 && inside)) discard;
#endif
  result = shade;
#ifdef LIT
  vec3 n = normalize(cross(dFdx(world), dFdy(world)));
  result.rgb *= 0.60 + 0.30 * max(dot(n, normalize(vec3(0.45, 0.8, 0.35))), 0.0) + 0.12 * n.y;
#endif
#ifdef STROKE
  result.a *= clamp(beside.y + 0.5 - abs(beside.x), 0.0, 1.0);
#endif
})";

constexpr std::size_t kClipped = 1, kLit = 2, kStroke = 4;  // of a program's number

}  // namespace

QOpenGLShaderProgram& LayerShaders::made(std::size_t number, const char* vertex, const QByteArray& defined) {
  auto& program = programs_[number];
  if (!program) {
    program = std::make_unique<QOpenGLShaderProgram>();
    const QByteArray head = "#version 330 core\n" + defined;
    link(*program, (head + vertex).constData(), (head + kFragment).constData());
  }
  return *program;
}

QOpenGLShaderProgram& LayerShaders::fill(bool clipped, bool lit) {
  QByteArray defined;
  if (clipped) defined += "#define CLIPPED\n";
  if (lit) defined += "#define LIT\n";
  if (clipped || lit) defined += "#define PLACED\n";
  return made((clipped ? kClipped : 0) | (lit ? kLit : 0), kFillVertex, defined);
}

QOpenGLShaderProgram& LayerShaders::stroke(bool clipped) {
  return made(kStroke | (clipped ? kClipped : 0), kStrokeVertex,
              clipped ? "#define STROKE\n#define CLIPPED\n#define PLACED\n" : "#define STROKE\n");
}

}  // namespace dune::window
