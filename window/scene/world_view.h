#pragma once
// The view of the world: owns the GL context and takes the mouse. What is drawn comes as draw lists, one a layer.

#include <QOpenGLBuffer>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLVertexArrayObject>
#include <QTimer>
#include <QWidget>
#include <functional>
#include <memory>

#include "window/scene/canvas.h"
#include "window/scene/hand.h"
#include "window/scene/key_mouse.h"
#include "window/scene/layer.h"
#include "window/scene/layer_shaders.h"
#include "window/scene/quick_picture.h"
#include "window/scene/still_picture.h"

namespace dune::window {

class LabelOverlay;

constexpr double kNoCutAway = 1e9;  ///< metres: nothing is that high

class WorldView : public QWidget, protected QOpenGLFunctions_3_3_Core {
  Q_OBJECT

 public:
  /// `onScreen`: drawn there even without a graphics card; see Canvas.
  explicit WorldView(QWidget* parent = nullptr, bool onScreen = false);
  ~WorldView() override;

  Camera& camera() { return camera_; }
  const Camera& camera() const { return camera_; }
  /// Asks for a picture anew.
  void redraw();
  /// The world as it is shown, without its texts.
  QImage picture();
  // Layers by their handles; see Layer.
  int addLayer(LayerOrder order, Side side = Side::both);
  void removeLayer(int handle);
  void setLayer(int handle, DrawList list, std::vector<WorldLabel> labels);
  void setClip(int handle, Clip clip, const Box2& box);
  /// The thing that is drawn nearest to a pixel, within reach of a finger.
  std::optional<Thing> thingAt(const QPointF& pixel) const;
  /// Two worlds side by side under one camera, each with its name: they differ in what changes with time. One world without names.
  void setSides(const QString& left, const QString& right);
  bool split() const { return !sides_[0].isEmpty(); }
  /// The part of the widget that one world takes.
  QSize worldSize() const { return split() ? QSize(width() / 2, height()) : size(); }
  /// Shown in the middle while there is no level.
  void setInvitation(const QString& text);
  /// Whether nothing is in the world yet, so that something else may stand in its place.
  void setVacant(bool vacant);
  /// Whether a picture without a graphics card becomes whole, smooth and shaded while nothing moves, as it does unless said; that takes
  /// the processor. Where not, it stays as it is while it moves.
  void setRefined(bool on) { refined_ = on; }
  const QString& invitation() const { return invitation_; }
  /// Why the world cannot be drawn on this machine; empty where it can. Everything else goes on without a picture.
  const QString& trouble() const { return trouble_; }
  void setNamesShown(bool shown);
  void setCutAway(double height);
  double cutAway() const { return cutAway_; }
  /// Who takes the mouse and the keys; must live longer than the view, or be taken back with null.
  void setHand(Hand* hand);
  /// What can be pointed at: the level by its tree, and blockers, whose numbers go on behind those of the level's objects.
  void setLevel(std::shared_ptr<const PickTree> tree, std::shared_ptr<const level::Level> blockers);
  Pointer pointerAt(const QPointF& pixel, Qt::KeyboardModifiers modifiers = {}) const;
  /// Draws anew what the hand holds.
  void redrawHand();
  /// Tells anew what the mouse was over last, for that may be something else now.
  void pointAgain() { emit pointed(pointerAt(last_)); }

 signals:
  void drawn();  ///< a picture of the world is made
  void pointed(const dune::window::Pointer& pointer);
  void tilted();  ///< looking straight down has ended by turning the view
  void vacancyChanged(bool vacant);
  void cameraRested();  ///< a moment after its last movement
  void doubleClicked(const dune::window::Pointer& pointer);
  void menuAsked(const dune::window::Pointer& pointer, const QPoint& at);  ///< a right click; `at` on the screen

 protected:
  void resizeEvent(QResizeEvent* event) override;
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;

 private:
  void turn(const QPointF& moved, const QPointF& sincePressed);
  /// Looking straight down is over, if it was.
  void endPlan();
  friend class LabelOverlay;
  struct Buffers {
    int handle = 0;
    LayerOrder order = LayerOrder::level;
    Side side = Side::both;
    DrawList list;
    std::vector<WorldLabel> labels;
    std::unique_ptr<QOpenGLBuffer> triangles, lines, sketch;
    bool fresh = false, opaque = false;
    double grain = 0;  // of the sketch
  };
  static bool isDrawnOn(const Buffers& layer, Side side);
  Buffers& withHandle(int handle);
  void changed(const Buffers& layer);
  void upload(Buffers& layer);
  void drawLayer(Buffers& layer);
  void drawTriangles(Buffers& layer, QOpenGLBuffer& buffer, std::size_t corners);
  void drawLines(Buffers& layer);
  void drawSketch(Buffers& layer);
  void attribute(unsigned index, int size, GLenum type, std::size_t stride, std::size_t offset);
  void beginDrawing();
  void draw();
  void sayTrouble(const QString& why);
  /// Runs what needs the context, where there is one.
  template <class Work>
  void withContext(Work&& work);
  /// Whether something of a layer may not be drawn.
  bool clipped(const DrawList& list) const;
  void prepare(QOpenGLShaderProgram& program, const DrawList& list);
  void clearPicture();
  /// Something in the picture that does not follow the mouse has changed.
  void outdate() {
    if (still_) still_->outdate();
  }
  /// Takes over the picture of all that does not follow the mouse, a step farther than it was.
  void takeStill();
  void drawQuickly();
  void drawMoving(const QSize& size);
  /// Of one world, on the screen.
  QSize pixels() const;
  void repeatLeftHalf(unsigned frame, const QSize& size);
  /// Which world a pixel of the widget lies in, and where in it.
  Side sideAt(const QPointF& pixel) const;
  QPointF inWorld(const QPointF& pixel) const;

  Camera camera_;
  QString sides_[2];
  std::vector<std::unique_ptr<Buffers>> layers_;  // in the order in which they are drawn
  int nextHandle_ = 1;
  std::unique_ptr<Canvas> canvas_;  // null where the machine cannot draw
  std::unique_ptr<LayerShaders> shaders_;
  QOpenGLVertexArrayObject array_;
  std::shared_ptr<const PickTree> tree_;
  std::shared_ptr<const level::Level> blockers_;
  QString invitation_, trouble_;
  bool vacant_ = false, namesShown_ = true, refined_ = true;
  bool ready_ = false;  // what draws is there
  QWidget* labels_;
  double cutAway_ = kNoCutAway;
  Hand* hand_ = nullptr;
  std::unique_ptr<Layer> held_, over_;  // what the hand draws
  Side pressedIn_ = Side::both;         // while a button is down it stays in that world
  QPointF last_, pressed_;
  bool holding_ = false, turned_ = false;  // the hand follows the mouse; the view was turned since the press
  QMatrix4x4 painted_;                     // the camera at the last picture
  std::unique_ptr<StillPicture> still_;    // without what follows the mouse
  std::unique_ptr<QuickPicture> quick_;    // while the view moves without a graphics card
  QMatrix4x4 nudge_;                       // of the picture that is being drawn
  bool moving_ = false;
  KeyMouse keyMouse_{*this};
  QTimer rest_, refine_;
  bool refining_ = false;  // the next picture may take a step towards a smooth one
};

}  // namespace dune::window
