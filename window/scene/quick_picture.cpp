#include "window/scene/quick_picture.h"

#include <algorithm>

namespace dune::window {

namespace {

constexpr double kLongest = 20, kShortest = 8;  // ms: longer is coarser next time, shorter is finer
constexpr double kLeast = 0.4;                  // of the width and the height
constexpr double kCoarser = 0.8, kFiner = 1.1;

}  // namespace

QuickPicture::QuickPicture() { initializeOpenGLFunctions(); }

QSize QuickPicture::begin(const QSize& screen) {
  began_.start();
  if (!picture_ || picture_->size() != screen) {
    QOpenGLFramebufferObjectFormat format;
    format.setAttachment(QOpenGLFramebufferObject::CombinedDepthStencil);
    picture_ = std::make_unique<QOpenGLFramebufferObject>(screen, format);
  }
  picture_->bind();
  // Even, for two worlds side by side are each one half.
  part_ = QSize(2 * std::max(1, static_cast<int>(screen.width() * share_ / 2)), std::max(1, static_cast<int>(screen.height() * share_)));
  return part_;
}

void QuickPicture::end(unsigned screen) {
  glBindFramebuffer(GL_READ_FRAMEBUFFER, picture_->handle());
  glBindFramebuffer(GL_DRAW_FRAMEBUFFER, screen);
  glBlitFramebuffer(0, 0, part_.width(), part_.height(), 0, 0, picture_->width(), picture_->height(), GL_COLOR_BUFFER_BIT,
                    part_ == picture_->size() ? GL_NEAREST : GL_LINEAR);
  glBindFramebuffer(GL_FRAMEBUFFER, screen);
  glFinish();  // what it took is known then
  const double ms = static_cast<double>(began_.nsecsElapsed()) / 1e6;
  share_ = std::clamp(share_ * (ms > kLongest ? kCoarser : ms < kShortest ? kFiner : 1), kLeast, 1.0);
}

}  // namespace dune::window
