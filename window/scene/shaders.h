#pragma once
// Shader programs, and the vertices of what is drawn over a whole picture.

class QOpenGLShaderProgram;

namespace dune::window {

/// One triangle over the whole picture, without any buffer: three vertices; `at` goes from 0 to 1 over it.
extern const char* const kWholePicture;

/// Needs a current context.
void link(QOpenGLShaderProgram& program, const char* vertex, const char* fragment);

}  // namespace dune::window
