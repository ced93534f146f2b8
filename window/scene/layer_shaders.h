#pragma once
// The programs that draw layers: each does only what its layer needs. Without a graphics card that is what a picture takes its time for: a
// pixel that may be thrown away is worked out before it is known to be hidden, and one that is lit asks for its neighbours.

#include <QOpenGLShaderProgram>
#include <array>
#include <memory>

namespace dune::window {

class LayerShaders {
 public:
  /// Triangles. `clipped`: by the cut-away or a box of the plan; `lit`: shaded by the light. Needs a current context, as below.
  QOpenGLShaderProgram& fill(bool clipped, bool lit);
  /// Lines of constant width on the screen.
  QOpenGLShaderProgram& stroke(bool clipped);

 private:
  QOpenGLShaderProgram& made(std::size_t number, const char* vertex, const QByteArray& defined);
  std::array<std::unique_ptr<QOpenGLShaderProgram>, 6> programs_;  // as they are asked for
};

}  // namespace dune::window
