// The picture that stands still: drawn at once, as with a graphics card, and in steps, as without one, it comes out the same; and things
// that stand on others have a soft shadow where they touch.

#include <QApplication>
#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <QtTest>

#include "window/scene/camera.h"
#include "window/scene/shaders.h"
#include "window/scene/still_picture.h"

using namespace dune;
using namespace dune::window;

namespace {

constexpr const char* kVertex = R"(#version 330 core
layout(location = 0) in vec3 place; uniform mat4 camera;
void main() { gl_Position = camera * vec4(place, 1.0); })";
constexpr const char* kPlain = R"(#version 330 core
uniform vec4 colour; out vec4 result;
void main() { result = colour; })";

/// A floor of 20 m with a wall on it, in colours without any light.
class Stage : protected QOpenGLFunctions_3_3_Core {
 public:
  Stage() {
    initializeOpenGLFunctions();
    link(program_, kVertex, kPlain);
    glGenVertexArrays(1, &array_), glBindVertexArray(array_);
    glGenBuffers(1, &buffer_), glBindBuffer(GL_ARRAY_BUFFER, buffer_);
    glBufferData(GL_ARRAY_BUFFER, sizeof kCorners, kCorners, GL_STATIC_DRAW);
    glEnableVertexAttribArray(0);
    glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, 0, nullptr);
  }
  ~Stage() { glDeleteBuffers(1, &buffer_), glDeleteVertexArrays(1, &array_); }
  void draw(const QMatrix4x4& camera) {
    glClearColor(1, 1, 1, 1);
    glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT | GL_STENCIL_BUFFER_BIT);
    glEnable(GL_DEPTH_TEST), glEnable(GL_BLEND);
    glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
    glBindVertexArray(array_);
    program_.bind();
    program_.setUniformValue("camera", camera);
    program_.setUniformValue("colour", QVector4D(0.8F, 0.6F, 0.3F, 1));
    glDrawArrays(GL_TRIANGLES, 0, 6);
    program_.setUniformValue("colour", QVector4D(0.6F, 0.6F, 0.6F, 1));
    glDrawArrays(GL_TRIANGLES, 6, 6);
    program_.release();
  }
  GLenum error() { return glGetError(); }

 private:
  static constexpr float kCorners[] = {-10, 0, -10, 10, 0, -10, 10, 0, 10, -10, 0, -10, 10, 0, 10, -10, 0, 10,
                                       -4,  0, 0,   4,  0, 0,   4,  3, 0,  -4,  0, 0,   4,  3, 0,  -4,  3, 0};
  QOpenGLShaderProgram program_;
  unsigned array_ = 0, buffer_ = 0;
};

}  // namespace

class TestStill : public QObject {
  Q_OBJECT

  static constexpr QSize kSize{321, 241};  // of odd sides, whose halves are not whole
  QOffscreenSurface surface_;
  QOpenGLContext context_;
  Camera camera_;

  QImage finished(bool slow, bool smooth, int steps) {
    Stage stage;
    StillPicture still(slow);
    const auto draw = [&](const QMatrix4x4& nudge, const std::function<void()>& solidsDone) {
      stage.draw(nudge * camera_.matrix());
      solidsDone();
    };
    int taken = 1;
    while (still.go(kSize, smooth, camera_.matrix(), draw)) ++taken;
    if (taken != steps) return {};
    QOpenGLFramebufferObjectFormat format;
    format.setAttachment(QOpenGLFramebufferObject::CombinedDepthStencil);
    QOpenGLFramebufferObject shown(kSize, format);
    still.copyTo(shown.handle());
    return stage.error() == GL_NO_ERROR ? shown.toImage().convertToFormat(QImage::Format_RGB32) : QImage();
  }
  /// The mean difference of two pictures, of 255.
  static double apart(const QImage& a, const QImage& b) {
    double sum = 0;
    for (int y = 0; y < a.height(); ++y)
      for (int x = 0; x < a.width(); ++x) sum += std::abs(qGray(a.pixel(x, y)) - qGray(b.pixel(x, y)));
    return sum / (a.width() * a.height());
  }
  int grayAt(const QImage& image, const Vec3& place) const {
    QPointF at;
    camera_.project(place, at);
    return qGray(image.pixel(at.toPoint()));
  }

 private slots:
  void initTestCase() {
    QSurfaceFormat format;
    format.setVersion(3, 3);
    format.setProfile(QSurfaceFormat::CoreProfile);
    surface_.setFormat(format), context_.setFormat(format);
    surface_.create();
    QVERIFY(context_.create() && context_.makeCurrent(&surface_));
    camera_.setViewport(kSize);
    camera_.lookAt({0, 0, 0}, 14);
  }
  void cleanupTestCase() { context_.doneCurrent(); }

  void atOnceAndInStepsAreTheSame() {
    const QImage atOnce = finished(false, true, 1), inSteps = finished(true, true, 5);
    QVERIFY(!atOnce.isNull() && !inSteps.isNull());
    QVERIFY2(apart(atOnce, inSteps) < 1, qPrintable(QString::number(apart(atOnce, inSteps))));
    const QImage rough = finished(true, false, 2);
    QVERIFY(!rough.isNull());
    QVERIFY(apart(rough, inSteps) < 2 && apart(rough, inSteps) > 0);  // edges alone
  }
  void whatTouchesHasAShadow() {
    for (const bool plan : {false, true}) {
      camera_.setPlan(plan);
      const QImage image = finished(false, true, 1);
      QVERIFY(!image.isNull());
      const int far = grayAt(image, {0, 0, 3});
      QVERIFY2(far > 140, qPrintable(QStringLiteral("plan %1: %2").arg(plan).arg(far)));
      if (!plan) QVERIFY2(grayAt(image, {0, 0, 0.15}) < far - 10, qPrintable(QString::number(grayAt(image, {0, 0, 0.15}))));
      // Nothing is darker at the sides of the picture, where the neighbours of a pixel are missing.
      for (int y = 0; y < image.height(); y += 10)
        for (const int x : {0, image.width() - 1})
          QVERIFY2(std::abs(qGray(image.pixel(x, y)) - qGray(image.pixel(x == 0 ? 6 : x - 6, y))) < 12, qPrintable(QString::number(y)));
    }
    camera_.setPlan(false);
  }
};

QTEST_MAIN(TestStill)
#include "still.moc"
