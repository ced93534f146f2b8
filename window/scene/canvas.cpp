#include "window/scene/canvas.h"

#include <QObject>
#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <QOpenGLFramebufferObject>
#include <QOpenGLFunctions>
#include <QOpenGLWidget>
#include <QPainter>
#include <cstring>

namespace dune::window {

namespace {

QSurfaceFormat surfaceFormat() {
  QSurfaceFormat format;
  format.setVersion(3, 3);
  format.setProfile(QSurfaceFormat::CoreProfile);
  format.setDepthBufferSize(24);
  return format;
}

/// A context of its own, that draws on no widget.
struct Aside {
  QOffscreenSurface surface;
  QOpenGLContext context;

  bool create() {
    surface.setFormat(surfaceFormat());
    surface.create();
    context.setFormat(surfaceFormat());
    return context.create() && context.makeCurrent(&surface);
  }
  bool bySoftware() {
    const auto* renderer = reinterpret_cast<const char*>(context.functions()->glGetString(GL_RENDERER));
    const QByteArray name(renderer ? renderer : "");
    return name.contains("llvmpipe") || name.contains("softpipe") || name.contains("Software");
  }
};

class ScreenCanvas final : public QOpenGLWidget, public Canvas {
 public:
  ScreenCanvas(QWidget& view, Drawing drawing, bool slow) : QOpenGLWidget(&view), drawing_(std::move(drawing)), slow_(slow) {
    setFormat(surfaceFormat());
    setAttribute(Qt::WA_TransparentForMouseEvents);
    setFocusPolicy(Qt::NoFocus);
  }
  bool slow() const override { return slow_; }
  void makeCurrent() override { QOpenGLWidget::makeCurrent(); }
  void doneCurrent() override { QOpenGLWidget::doneCurrent(); }
  unsigned frame() const override { return defaultFramebufferObject(); }
  void redraw() override { update(); }
  void fit() override { setGeometry(parentWidget()->rect()); }
  QImage picture() override { return grabFramebuffer(); }
  void paint(QPainter&) override {}

 protected:
  void initializeGL() override { drawing_.begin(); }
  void paintGL() override { drawing_.draw(); }

 private:
  Drawing drawing_;
  bool slow_;
};

class ImageCanvas final : public Canvas {
 public:
  ImageCanvas(QWidget& view, Drawing drawing, std::unique_ptr<Aside> aside)
      : view_(view), drawing_(std::move(drawing)), aside_(std::move(aside)) {
    view_.setAttribute(Qt::WA_OpaquePaintEvent);
  }
  ~ImageCanvas() override {
    makeCurrent();
    frame_.reset();
    doneCurrent();
  }
  bool slow() const override { return true; }
  void makeCurrent() override { aside_->context.makeCurrent(&aside_->surface); }
  void doneCurrent() override { aside_->context.doneCurrent(); }
  unsigned frame() const override { return frame_->handle(); }
  void redraw() override {
    outdated_ = true;
    view_.update();
  }
  void fit() override { redraw(); }
  QImage picture() override {
    if (outdated_ || image_.devicePixelRatio() != view_.devicePixelRatioF()) drawAnew();
    return image_;
  }
  void paint(QPainter& painter) override { painter.drawImage(QPoint(0, 0), picture()); }

 private:
  void drawAnew();
  void readBack();

  QWidget& view_;
  Drawing drawing_;
  std::unique_ptr<Aside> aside_;
  std::unique_ptr<QOpenGLFramebufferObject> frame_;
  QImage image_, upside_;
  bool begun_ = false, outdated_ = true;
};

void ImageCanvas::drawAnew() {
  const QSize size = (QSizeF(view_.size()) * view_.devicePixelRatioF()).toSize();
  outdated_ = false;
  if (size.isEmpty()) return;
  makeCurrent();
  if (!std::exchange(begun_, true)) drawing_.begin();
  if (!frame_ || frame_->size() != size) {
    QOpenGLFramebufferObjectFormat format;
    format.setAttachment(QOpenGLFramebufferObject::CombinedDepthStencil);
    frame_ = std::make_unique<QOpenGLFramebufferObject>(size, format);
    image_ = upside_ = QImage(size, QImage::Format_RGB32);
  }
  frame_->bind();
  aside_->context.functions()->glViewport(0, 0, size.width(), size.height());
  drawing_.draw();
  frame_->bind();
  readBack();
  image_.setDevicePixelRatio(view_.devicePixelRatioF());
  doneCurrent();
}

/// A frame begins with its lowest row, an image with its highest.
void ImageCanvas::readBack() {
  aside_->context.functions()->glReadPixels(0, 0, upside_.width(), upside_.height(), GL_BGRA, GL_UNSIGNED_BYTE, upside_.bits());
  for (int y = 0; y < image_.height(); ++y)
    std::memcpy(image_.scanLine(image_.height() - 1 - y), upside_.constScanLine(y), static_cast<std::size_t>(image_.bytesPerLine()));
}

}  // namespace

std::unique_ptr<Canvas> Canvas::make(QWidget& view, Drawing drawing, QString& why, bool onScreen) {
  auto aside = std::make_unique<Aside>();
  if (!aside->create()) {
    why = QObject::tr("The world cannot be drawn: this display offers no OpenGL. Everything else works.");
    return nullptr;
  }
  const QSurfaceFormat got = aside->context.format();
  if (got.version() < surfaceFormat().version()) {
    why = QObject::tr("The world cannot be drawn: OpenGL 3.3 is needed, and this machine offers %1.%2. Everything else works.")
              .arg(got.majorVersion())
              .arg(got.minorVersion());
    return nullptr;
  }
  const bool slow = aside->bySoftware();
  aside->context.doneCurrent();
  if (slow && !onScreen) return std::make_unique<ImageCanvas>(view, std::move(drawing), std::move(aside));
  return std::make_unique<ScreenCanvas>(view, std::move(drawing), slow);
}

}  // namespace dune::window
