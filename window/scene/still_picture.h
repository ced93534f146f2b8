#pragma once
// The picture of what does not follow the mouse, kept until something in it changes. With a graphics card it is drawn at once; without one
// it becomes smooth and shaded in steps, each short, so that nothing waits for it.

#include <QOpenGLFramebufferObject>
#include <functional>

#include "window/scene/contact_shade.h"

namespace dune::window {

class StillPicture : protected QOpenGLFunctions_3_3_Core {
 public:
  /// Needs a current context, as all that follows but outdate().
  explicit StillPicture(bool slow);
  ~StillPicture();

  /// Draws into the frame that is bound, with the camera's matrix after `nudge`; calls `solidsDone` between what stands in the world and
  /// what lies upon it.
  using Draw = std::function<void(const QMatrix4x4& nudge, const std::function<void()>& solidsDone)>;
  /// What it shows has changed: it begins anew.
  void outdate() { step_ = 0; }
  /// Whether nothing is drawn yet of what it shows now.
  bool outdated(const QSize& size, bool smooth) const { return step_ == 0 || !still_ || still_->size() != size || smooth_ != smooth; }
  /// Goes on; true when there is more to do. `smooth`: drawn with more than one sample a pixel.
  bool go(const QSize& size, bool smooth, const QMatrix4x4& camera, const Draw& draw);
  /// Colours and depths, into a frame of at least its size.
  void copyTo(GLuint frame, int x = 0);

 private:
  void resize(const QSize& size, bool smooth);
  void drawAtOnce(const QMatrix4x4& camera, const Draw& draw);
  void drawFirst(const Draw& draw);
  void drawMore(const Draw& draw, int go);
  void copy(GLuint from, GLuint to, int x);

  bool slow_, smooth_ = false;
  int step_ = 0;  // that is next; 0: nothing is drawn yet
  std::unique_ptr<QOpenGLFramebufferObject> still_, drawn_;
  ContactShade shade_;
  QOpenGLShaderProgram mix_;
};

}  // namespace dune::window
