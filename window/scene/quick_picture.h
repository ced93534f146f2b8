#pragma once
// The picture while the view moves on a machine without a graphics card: of fewer pixels where all of them take too long.

#include <QElapsedTimer>
#include <QOpenGLFramebufferObject>
#include <QOpenGLFunctions_3_3_Core>
#include <memory>

namespace dune::window {

class QuickPicture : protected QOpenGLFunctions_3_3_Core {
 public:
  /// Needs a current context, as all that follows.
  QuickPicture();
  /// Binds the frame to draw into; returns the part of it that stands for a screen of this size, from its lower left corner.
  QSize begin(const QSize& screen);
  unsigned frame() const { return picture_->handle(); }
  /// Spreads what was drawn over a screen, and takes note of how long it took.
  void end(unsigned screen);

 private:
  std::unique_ptr<QOpenGLFramebufferObject> picture_;
  QSize part_;
  double share_ = 1;  // of the width and the height
  QElapsedTimer began_;
};

}  // namespace dune::window
