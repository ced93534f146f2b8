#include "window/scene/world_view.h"

#include <QPainter>
#include <algorithm>
#include <cstddef>
#include <limits>

#include "window/scene/label_overlay.h"
#include "window/scene/theme.h"

namespace dune::window {

namespace {

constexpr std::size_t kMostSmooth = 300'000;  // corners of triangles, without a graphics card
constexpr double kMostGrain = 24;             // pixels: from nearer a sketch looks broken
constexpr int kRestMs = 150;                  // without movement before the picture is drawn smoothly again

/// Layers that change with every movement of the mouse, or of time; they are drawn last.
bool followsMouse(LayerOrder order) { return order >= LayerOrder::moving; }
/// Whether a layer of one side is drawn on another.
bool isDrawn(Side layer, Side side) { return layer == Side::both || layer == side || side == Side::both; }
/// What stands in the world, rather than lies upon it.
bool isSolid(LayerOrder order) { return order <= LayerOrder::solids; }
bool isOpaque(const std::vector<DrawVertex>& corners) {
  constexpr std::uint32_t kWhole = 0xFF;
  return std::ranges::all_of(corners, [](const DrawVertex& v) { return v.colour >> 24 == kWhole; });
}
bool isDetail(LayerOrder order) { return order == LayerOrder::levelDetail || order == LayerOrder::groundDetail; }

/// How far a pixel is from a line on the screen; infinite where no part of it is before the eye.
double pixelsFrom(const QPointF& pixel, const std::vector<Vec3>& line, const Camera& camera) {
  double least = std::numeric_limits<double>::infinity();
  std::optional<QPointF> last;
  for (const Vec3& p : line) {
    QPointF at;
    if (!camera.project(p, at)) {
      last.reset();
      continue;
    }
    const QPointF from = last.value_or(at), along = at - from, to = pixel - from;
    const double length2 = QPointF::dotProduct(along, along);
    const double t = length2 > 0 ? std::clamp(QPointF::dotProduct(to, along) / length2, 0.0, 1.0) : 0;
    least = std::min(least, QLineF(pixel, from + along * t).length());
    last = at;
  }
  return least;
}

}  // namespace

WorldView::WorldView(QWidget* parent, bool onScreen) : QWidget(parent) {
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setMinimumSize(320, 240);
  setAccessibleName(tr("World"));
  QString why;
  canvas_ = Canvas::make(*this, {[this] { beginDrawing(); }, [this] { draw(); }}, why, onScreen);
  labels_ = new LabelOverlay(this);
  if (!canvas_) sayTrouble(why);
  held_ = std::make_unique<Layer>(*this, LayerOrder::tool);
  over_ = std::make_unique<Layer>(*this, LayerOrder::over);
  refine_.setSingleShot(true);
  connect(&refine_, &QTimer::timeout, this, [this] {
    refining_ = true;
    redraw();
  });
  rest_.setSingleShot(true);
  rest_.setInterval(kRestMs);
  connect(&rest_, &QTimer::timeout, this, [this] {
    moving_ = false;
    redraw();
    emit cameraRested();
  });
}

WorldView::~WorldView() {
  withContext([this] {
    layers_.clear();
    shaders_.reset(), still_.reset(), quick_.reset();
    array_.destroy();
  });
}

template <class Work>
void WorldView::withContext(Work&& work) {
  if (ready_) canvas_->makeCurrent();
  work();
  if (ready_) canvas_->doneCurrent();
}

int WorldView::addLayer(LayerOrder order, Side side) {
  auto layer = std::make_unique<Buffers>();
  layer->handle = nextHandle_++, layer->order = order, layer->side = side;
  const auto after = std::ranges::upper_bound(layers_, order, {}, [](const auto& l) { return l->order; });
  return (*layers_.insert(after, std::move(layer)))->handle;
}

void WorldView::removeLayer(int handle) {
  if (layers_.empty()) return;
  changed(withHandle(handle));
  withContext([&] { std::erase_if(layers_, [&](const auto& l) { return l->handle == handle; }); });
}

bool WorldView::isDrawnOn(const Buffers& layer, Side side) { return isDrawn(layer.side, side); }

WorldView::Buffers& WorldView::withHandle(int handle) {
  return **std::ranges::find(layers_, handle, [](const auto& l) { return l->handle; });
}

void WorldView::changed(const Buffers& layer) {
  if (!followsMouse(layer.order)) outdate();
  redraw();
}

void WorldView::setLayer(int handle, DrawList list, std::vector<WorldLabel> labels) {
  Buffers& b = withHandle(handle);
  const bool nothing = list.triangles.empty() && list.lines.empty() && b.list.triangles.empty() && b.list.lines.empty();
  if (nothing && labels.empty() && b.labels.empty()) return;
  if (!labels.empty() || !b.labels.empty()) labels_->update();
  b.list = std::move(list), b.labels = std::move(labels);
  b.fresh = false;
  changed(b);
}

void WorldView::setClip(int handle, Clip clip, const Box2& box) {
  Buffers& b = withHandle(handle);
  b.list.clip = clip, b.list.clipBox = box;
  changed(b);
}

std::optional<Thing> WorldView::thingAt(const QPointF& pixel) const {
  constexpr double kReach = 12;  // pixels
  std::optional<Thing> best;
  double least = kReach;
  const Side side = sideAt(pixel);
  for (const auto& layer : layers_) {
    if (const auto later = std::exchange(layer->list.picksLater, nullptr))
      std::ranges::move(later(), std::back_inserter(layer->list.picks));
    for (const PickLine& pick : layer->list.picks) {
      if (!isDrawn(layer->side, side)) continue;
      if (layer->list.cut && std::ranges::all_of(pick.points, [&](const Vec3& p) { return p.y > cutAway_; })) continue;
      // What is drawn later lies on top.
      if (const double d = pixelsFrom(inWorld(pixel), pick.points, camera_); d <= least) least = d, best = pick.thing;
    }
  }
  return best;
}

void WorldView::setSides(const QString& left, const QString& right) {
  if (sides_[0] == left && sides_[1] == right) return;
  sides_[0] = left, sides_[1] = right;
  camera_.setViewport(worldSize());
  outdate();
  labels_->update();
  redrawHand();
  redraw();
}

Side WorldView::sideAt(const QPointF& pixel) const {
  if (!split()) return Side::both;
  if (pressedIn_ != Side::both) return pressedIn_;
  return pixel.x() < worldSize().width() ? Side::left : Side::right;
}

QPointF WorldView::inWorld(const QPointF& pixel) const {
  return sideAt(pixel) == Side::right ? pixel - QPointF(worldSize().width(), 0) : pixel;
}

void WorldView::setInvitation(const QString& text) {
  invitation_ = text;
  labels_->update();
  redraw();
}

void WorldView::setNamesShown(bool shown) {
  namesShown_ = shown;
  labels_->update();
}

void WorldView::setVacant(bool vacant) {
  if (std::exchange(vacant_, vacant) != vacant) emit vacancyChanged(vacant);
}

void WorldView::setCutAway(double height) {
  cutAway_ = height;
  outdate();
  labels_->update();
  redraw();
}

void WorldView::setHand(Hand* hand) {
  hand_ = hand, holding_ = false;
  redrawHand();
}

void WorldView::setLevel(std::shared_ptr<const PickTree> tree, std::shared_ptr<const level::Level> blockers) {
  tree_ = std::move(tree), blockers_ = std::move(blockers);
}

void WorldView::redrawHand() {
  DrawList list;
  list.lift = 2e-4;
  DrawList over;
  over.over = true;
  if (hand_) hand_->draw(list, camera_), hand_->drawOver(over, camera_);
  held_->set(std::move(list)), over_->set(std::move(over));
}

Pointer WorldView::pointerAt(const QPointF& pixel, Qt::KeyboardModifiers modifiers) const {
  const QPointF at = inWorld(pixel);
  Pointer p{at, camera_.rayAt(at), std::nullopt, modifiers, cutAway_, &camera_, std::nullopt};
  if (!tree_) return p;
  p.hit = tree_->pick(p.ray, cutAway_);
  if (const auto more = pick(*blockers_, p.ray, cutAway_))
    if (!p.hit || glm::distance(p.ray.origin, more->at) < glm::distance(p.ray.origin, p.hit->at))
      p.hit = Picked{more->at, tree_->level()->objects.size() + more->object, more->normal};
  return p;
}

void WorldView::sayTrouble(const QString& why) {
  trouble_ = why;
  labels_->update();
}

void WorldView::redraw() {
  if (canvas_) canvas_->redraw();
}

QImage WorldView::picture() { return canvas_ ? canvas_->picture() : QImage(); }

void WorldView::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  camera_.setViewport(worldSize());
  labels_->setGeometry(rect());
  if (canvas_) canvas_->fit();
}

void WorldView::paintEvent(QPaintEvent*) {
  if (!canvas_) return;
  QPainter painter(this);
  canvas_->paint(painter);
}

void WorldView::beginDrawing() {
  ready_ = initializeOpenGLFunctions();
  if (!ready_) return sayTrouble(tr("The world cannot be drawn: OpenGL 3.3 is needed. Everything else works."));
  shaders_ = std::make_unique<LayerShaders>();
  array_.create();
  still_ = std::make_unique<StillPicture>(canvas_->slow()), quick_ = std::make_unique<QuickPicture>();
  for (const auto& layer : layers_) layer->fresh = false, layer->triangles.reset(), layer->lines.reset(), layer->sketch.reset();
}

void WorldView::upload(Buffers& layer) {
  auto fill = [](std::unique_ptr<QOpenGLBuffer>& buffer, const void* from, std::size_t bytes) {
    if (!buffer) {
      buffer = std::make_unique<QOpenGLBuffer>(QOpenGLBuffer::VertexBuffer);
      buffer->create();
    }
    buffer->bind();
    buffer->allocate(from, static_cast<int>(bytes));
    buffer->release();
  };
  fill(layer.triangles, layer.list.triangles.data(), layer.list.triangles.size() * sizeof(DrawVertex));
  fill(layer.lines, layer.list.lines.data(), layer.list.lines.size() * sizeof(LineVertex));
  if (!layer.list.sketch.empty()) fill(layer.sketch, layer.list.sketch.data(), layer.list.sketch.size() * sizeof(DrawVertex));
  layer.grain = layer.list.sketchGrain();
  layer.opaque = isOpaque(layer.list.triangles) && isOpaque(layer.list.sketch);
  layer.fresh = true;
}

bool WorldView::clipped(const DrawList& list) const { return list.clip != Clip::none || (list.cut && cutAway_ < kNoCutAway); }

void WorldView::prepare(QOpenGLShaderProgram& program, const DrawList& list) {
  program.bind();
  program.setUniformValue("camera", nudge_ * camera_.matrix());
  program.setUniformValue("towards", static_cast<float>(list.lift));
  program.setUniformValue("viewport", QVector2D(static_cast<float>(worldSize().width()), static_cast<float>(height())));
  if (!clipped(list)) return;
  program.setUniformValue("cutAway", static_cast<float>(list.cut ? cutAway_ + 1e-3 : kNoCutAway));
  const Box2& box = list.clipBox;
  program.setUniformValue("clip", static_cast<int>(list.clip));
  program.setUniformValue("clipBox", static_cast<float>(box.min.x), static_cast<float>(box.min.y), static_cast<float>(box.max.x),
                          static_cast<float>(box.max.y));
}

void WorldView::drawLayer(Buffers& layer) {
  if (!layer.fresh) upload(layer);
  if (layer.list.over)
    glDisable(GL_DEPTH_TEST);
  else
    glEnable(GL_DEPTH_TEST);
  if (!layer.list.triangles.empty()) drawTriangles(layer, *layer.triangles, layer.list.triangles.size());
  if (!layer.list.lines.empty()) drawLines(layer);
}

void WorldView::drawSketch(Buffers& layer) {
  if (!layer.fresh) upload(layer);
  if (layer.list.sketch.empty() || layer.grain > kMostGrain * camera_.metresPerPixel()) return drawLayer(layer);
  drawTriangles(layer, *layer.sketch, layer.list.sketch.size());
}

void WorldView::drawTriangles(Buffers& layer, QOpenGLBuffer& buffer, std::size_t corners) {
  prepare(shaders_->fill(clipped(layer.list), layer.list.lit), layer.list);
  glDepthMask(layer.list.veil ? GL_FALSE : GL_TRUE);
  if (layer.opaque) glDisable(GL_BLEND);
  buffer.bind();
  attribute(0, 3, GL_FLOAT, sizeof(DrawVertex), offsetof(DrawVertex, x));
  attribute(1, 4, GL_UNSIGNED_BYTE, sizeof(DrawVertex), offsetof(DrawVertex, colour));
  glDrawArrays(GL_TRIANGLES, 0, static_cast<int>(corners));
  glEnable(GL_BLEND);
  glDepthMask(GL_TRUE);
  glDisableVertexAttribArray(0), glDisableVertexAttribArray(1);
}

void WorldView::drawLines(Buffers& layer) {
  prepare(shaders_->stroke(clipped(layer.list)), layer.list);
  glDepthMask(isSolid(layer.order) ? GL_FALSE : GL_TRUE);  // edges of solids are no solids
  layer.lines->bind();
  attribute(0, 3, GL_FLOAT, sizeof(LineVertex), offsetof(LineVertex, x));
  attribute(1, 3, GL_FLOAT, sizeof(LineVertex), offsetof(LineVertex, ox));
  attribute(2, 2, GL_FLOAT, sizeof(LineVertex), offsetof(LineVertex, side));
  attribute(3, 4, GL_UNSIGNED_BYTE, sizeof(LineVertex), offsetof(LineVertex, colour));
  glDrawArrays(GL_TRIANGLES, 0, static_cast<int>(layer.list.lines.size()));
  for (unsigned i = 0; i < 4; ++i) glDisableVertexAttribArray(i);
  glDepthMask(GL_TRUE);
}

/// Bytes count as parts of one.
void WorldView::attribute(unsigned index, int size, GLenum type, std::size_t stride, std::size_t offset) {
  glEnableVertexAttribArray(index);
  glVertexAttribPointer(index, size, type, type == GL_UNSIGNED_BYTE ? GL_TRUE : GL_FALSE, static_cast<int>(stride),
                        reinterpret_cast<const void*>(offset));
}

void WorldView::draw() {
  if (!ready_) return;
  if (const QMatrix4x4 now = camera_.matrix(); now != painted_) {
    painted_ = now;
    moving_ = true, outdate();
    rest_.start();
    labels_->update();
  }
  array_.bind();
  if (canvas_->slow() && (moving_ || !refined_)) {
    drawQuickly();
  } else {
    takeStill();
    drawMoving(pixels());
  }
  array_.release();
  glUseProgram(0);
  glDisable(GL_DEPTH_TEST);
  emit drawn();
}

/// What changes with every movement of the mouse, or of time; `size`: of one world, in pixels of the frame.
void WorldView::drawMoving(const QSize& size) {
  for (const Side side : {Side::left, Side::right}) {
    if (side == Side::right && !split()) break;
    glViewport(side == Side::right ? size.width() : 0, 0, size.width(), size.height());
    for (const auto& layer : layers_)
      if (followsMouse(layer->order) && isDrawn(layer->side, side)) drawLayer(*layer);
  }
}

QSize WorldView::pixels() const { return (QSizeF(worldSize()) * devicePixelRatioF()).toSize(); }

void WorldView::takeStill() {
  const QSize size = pixels();
  std::size_t corners = 0;
  for (const auto& layer : layers_) corners += layer->list.triangles.size();
  const auto draw = [this](const QMatrix4x4& nudge, const std::function<void()>& solidsDone) {
    nudge_ = nudge;
    clearPicture();
    bool solid = true;  // so far
    for (const auto& layer : layers_) {
      if (followsMouse(layer->order)) continue;
      if (solid && !isSolid(layer->order)) solid = false, solidsDone();
      drawLayer(*layer);
    }
    if (solid) solidsDone();
    nudge_.setToIdentity();
  };
  const bool smooth = !canvas_->slow() || corners <= kMostSmooth, first = still_->outdated(size, smooth);
  if (first || std::exchange(refining_, false))
    if (still_->go(size, smooth, camera_.matrix(), draw)) refine_.start(first ? kRestMs : 0);  // not while it changes again and again
  still_->copyTo(canvas_->frame());
  if (split()) still_->copyTo(canvas_->frame(), size.width());
  glBindFramebuffer(GL_FRAMEBUFFER, canvas_->frame());
  glViewport(0, 0, size.width(), size.height());
}

/// Without smoothing and without the detail of a level that has a stand-in, of as few pixels as it takes to be quick.
void WorldView::drawQuickly() {
  QSize size = pixels();
  size = quick_->begin(split() ? QSize(2 * size.width(), size.height()) : size);
  if (split()) size.rwidth() /= 2;
  glViewport(0, 0, size.width(), size.height());
  clearPicture();
  for (const auto& layer : layers_) {
    if (followsMouse(layer->order) || isDetail(layer->order)) continue;
    const Clip clip = std::exchange(layer->list.clip, Clip::none);
    drawSketch(*layer);
    layer->list.clip = clip;
  }
  if (split()) repeatLeftHalf(quick_->frame(), size);
  drawMoving(size);
  quick_->end(canvas_->frame());
}

/// What a frame has on the left once more on the right.
void WorldView::repeatLeftHalf(unsigned frame, const QSize& size) {
  glBindFramebuffer(GL_READ_FRAMEBUFFER, frame);
  glBindFramebuffer(GL_DRAW_FRAMEBUFFER, frame);
  glBlitFramebuffer(0, 0, size.width(), size.height(), size.width(), 0, 2 * size.width(), size.height(),
                    GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT | GL_STENCIL_BUFFER_BIT, GL_NEAREST);
  glBindFramebuffer(GL_FRAMEBUFFER, frame);
}

void WorldView::clearPicture() {
  const QColor sky = theme().sky;
  glClearColor(static_cast<float>(sky.redF()), static_cast<float>(sky.greenF()), static_cast<float>(sky.blueF()), 1);
  glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
  glEnable(GL_DEPTH_TEST);
  glDepthFunc(GL_LEQUAL);
  glDisable(GL_CULL_FACE);
  glEnable(GL_BLEND);
  glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
}

}  // namespace dune::window
