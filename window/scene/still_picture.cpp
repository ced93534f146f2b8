#include "window/scene/still_picture.h"

#include "window/scene/shaders.h"

namespace dune::window {

namespace {

constexpr int kSamples = 4;
/// Where in a pixel the pictures look that are mixed with the first, which looks from the middles; in pixels. Their mean is the middle.
constexpr float kNudges[kSamples - 1][2] = {{0.36F, -0.14F}, {-0.06F, 0.38F}, {-0.30F, -0.24F}};

constexpr const char* kMix = R"(#version 330 core
in vec2 at; out vec4 result; uniform sampler2D picture; uniform float weight;
void main() { result = vec4(texture(picture, at).rgb, weight); })";

}  // namespace

StillPicture::StillPicture(bool slow) : slow_(slow) {
  initializeOpenGLFunctions();
  link(mix_, kWholePicture, kMix);
}

StillPicture::~StillPicture() = default;

void StillPicture::resize(const QSize& size, bool smooth) {
  if (still_ && still_->size() == size && smooth_ == smooth) return;
  smooth_ = smooth, step_ = 0;
  QOpenGLFramebufferObjectFormat format;
  format.setAttachment(QOpenGLFramebufferObject::CombinedDepthStencil);
  still_ = std::make_unique<QOpenGLFramebufferObject>(size, format);
  if (!slow_) format.setSamples(kSamples);
  drawn_ = smooth ? std::make_unique<QOpenGLFramebufferObject>(size, format) : nullptr;
}

/// What follows the mouse is hidden by what stands before it, so the depths come over too; and the stencil, which nothing uses, for whole
/// pixels are copied faster than parts of them.
void StillPicture::copy(GLuint from, GLuint to, int x) {
  const QSize size = still_->size();
  glBindFramebuffer(GL_READ_FRAMEBUFFER, from);
  glBindFramebuffer(GL_DRAW_FRAMEBUFFER, to);
  glBlitFramebuffer(0, 0, size.width(), size.height(), x, 0, x + size.width(), size.height(),
                    GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT | GL_STENCIL_BUFFER_BIT, GL_NEAREST);
}

void StillPicture::copyTo(GLuint frame, int x) { copy(still_->handle(), frame, x); }

bool StillPicture::go(const QSize& size, bool smooth, const QMatrix4x4& camera, const Draw& draw) {
  resize(size, smooth);
  const int goes = smooth ? kSamples : 1;  // then it is shaded
  if (step_ > goes) return false;
  glViewport(0, 0, size.width(), size.height());
  if (!slow_) {
    drawAtOnce(camera, draw);
    step_ = goes + 1;
    return false;
  }
  if (step_ == 0)
    drawFirst(draw);
  else if (step_ < goes)
    drawMore(draw, step_);
  else
    shade_.darken(*still_, camera);
  return ++step_ <= goes;
}

void StillPicture::drawAtOnce(const QMatrix4x4& camera, const Draw& draw) {
  QOpenGLFramebufferObject& frame = drawn_ ? *drawn_ : *still_;
  frame.bind();
  draw({}, [&] { shade_.takeDepths(frame); });
  if (drawn_) copy(drawn_->handle(), still_->handle(), 0);
  shade_.darken(*still_, camera);
}

/// From the middles of the pixels, for its depths stay.
void StillPicture::drawFirst(const Draw& draw) {
  still_->bind();
  draw({}, [this] { shade_.takeDepths(*still_); });
}

/// One more picture from elsewhere in the pixels, mixed with those before: as many as there are weigh the same.
void StillPicture::drawMore(const Draw& draw, int go) {
  QMatrix4x4 nudge;
  const auto& [x, y] = kNudges[go - 1];
  nudge.translate(2 * x / static_cast<float>(still_->width()), 2 * y / static_cast<float>(still_->height()));
  drawn_->bind();
  draw(nudge, [] {});
  still_->bind();
  glDisable(GL_DEPTH_TEST);
  mix_.bind();
  mix_.setUniformValue("picture", 0);
  mix_.setUniformValue("weight", 1.0F / static_cast<float>(go + 1));
  glActiveTexture(GL_TEXTURE0);
  glBindTexture(GL_TEXTURE_2D, drawn_->texture());
  glDrawArrays(GL_TRIANGLES, 0, 3);
  glBindTexture(GL_TEXTURE_2D, 0);
  mix_.release();
  glEnable(GL_DEPTH_TEST);
}

}  // namespace dune::window
