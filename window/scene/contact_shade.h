#pragma once
// Soft shadows where things touch, and dark edges where something stands before something far behind it, worked out from the depths of a
// picture that is drawn: so heights are read at a glance. Cheap enough to do by software when the view comes to rest.

#include <QMatrix4x4>
#include <QOpenGLFramebufferObject>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <memory>

namespace dune::window {

/// After McGuire, Mara & Luebke (2012), Scalable Ambient Obscurance: a few samples on a spiral around each pixel, whose reach is a
/// length of the world, each weighed by how far it rises over the plane of that pixel; at half the resolution, smoothed.
class ContactShade : protected QOpenGLFunctions_3_3_Core {
 public:
  /// Needs a current context, as all that follows.
  ContactShade();
  ~ContactShade();
  /// Takes the depths of what stands in the world, before what lies upon it is drawn. The picture has a depth and stencil buffer of 24
  /// and 8 bits.
  void takeDepths(const QOpenGLFramebufferObject& picture);
  /// Darkens a picture without samples, of the same size, by these depths. `matrix` is that of the camera it was drawn with. O(pixels).
  void darken(const QOpenGLFramebufferObject& picture, const QMatrix4x4& matrix);

 private:
  void resize(const QSize& size);
  void dropTextures();
  void pass(QOpenGLShaderProgram& program, const QMatrix4x4& matrix, unsigned shade);

  QSize size_;
  unsigned depth_ = 0, depthFrame_ = 0, shade_ = 0, shadeFrame_ = 0, smoothed_ = 0, smoothFrame_ = 0;
  std::unique_ptr<QOpenGLShaderProgram> gather_, smooth_, spread_;
};

}  // namespace dune::window
