#include "window/scene/shaders.h"

#include <QOpenGLShaderProgram>

namespace dune::window {

const char* const kWholePicture = R"(#version 330 core
out vec2 at;
void main() {
  at = vec2((gl_VertexID << 1) & 2, gl_VertexID & 2);
  gl_Position = vec4(at * 2.0 - 1.0, 0.0, 1.0);
})";

void link(QOpenGLShaderProgram& program, const char* vertex, const char* fragment) {
  program.addShaderFromSourceCode(QOpenGLShader::Vertex, vertex);
  program.addShaderFromSourceCode(QOpenGLShader::Fragment, fragment);
  program.link();
}

}  // namespace dune::window
