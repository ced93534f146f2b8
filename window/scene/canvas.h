#pragma once
// What the world is drawn on. With a graphics card that is a part of the screen's own picture. Without one the window would be put together
// by the same processor once more, pixel by pixel, which takes as long as the world itself: there the world is drawn aside, and its picture
// is painted as any other.

#include <QImage>
#include <functional>
#include <memory>

class QPainter;
class QWidget;

namespace dune::window {

/// What draws, with a current context: once before anything else, and at each picture.
struct Drawing {
  std::function<void()> begin, draw;
};

class Canvas {
 public:
  virtual ~Canvas() = default;
  /// For all of a widget, beneath its children. Null where this machine cannot draw; `why` then says so. `onScreen`: where there is no
  /// graphics card too.
  static std::unique_ptr<Canvas> make(QWidget& view, Drawing drawing, QString& why, bool onScreen = false);

  /// Whether there is no graphics card.
  virtual bool slow() const = 0;
  virtual void makeCurrent() = 0;
  virtual void doneCurrent() = 0;
  /// The frame that is shown. Needs a current context.
  virtual unsigned frame() const = 0;
  /// Asks for a picture anew.
  virtual void redraw() = 0;
  /// The widget has another size now.
  virtual void fit() = 0;
  /// What is shown, drawn now if it is not yet.
  virtual QImage picture() = 0;
  /// From the widget's own painting.
  virtual void paint(QPainter& painter) = 0;
};

}  // namespace dune::window
