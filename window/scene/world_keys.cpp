#include "window/scene/world_keys.h"

#include <QCoreApplication>

namespace dune::window {

namespace {

constexpr double kTurn = 24, kMove = 40, kZoom = 0.85;  // pixels of a drag of the mouse; as one notch of the wheel

struct WorldKey {
  int key;
  Qt::KeyboardModifiers modifiers;
  void (*move)(Camera& camera);
};

Qt::KeyboardModifiers modifiersOf(const QKeyEvent& key) { return key.modifiers() & ~Qt::KeypadModifier; }

constexpr WorldKey kKeys[] = {
    {Qt::Key_Left, Qt::NoModifier, [](Camera& c) { c.orbit(-kTurn, 0); }},
    {Qt::Key_Right, Qt::NoModifier, [](Camera& c) { c.orbit(kTurn, 0); }},
    {Qt::Key_Up, Qt::NoModifier, [](Camera& c) { c.orbit(0, -kTurn); }},
    {Qt::Key_Down, Qt::NoModifier, [](Camera& c) { c.orbit(0, kTurn); }},
    {Qt::Key_Left, Qt::ShiftModifier, [](Camera& c) { c.pan(kMove, 0); }},
    {Qt::Key_Right, Qt::ShiftModifier, [](Camera& c) { c.pan(-kMove, 0); }},
    {Qt::Key_Up, Qt::ShiftModifier, [](Camera& c) { c.pan(0, kMove); }},
    {Qt::Key_Down, Qt::ShiftModifier, [](Camera& c) { c.pan(0, -kMove); }},
    {Qt::Key_PageUp, Qt::NoModifier, [](Camera& c) { c.zoom(kZoom, c.target()); }},
    {Qt::Key_PageDown, Qt::NoModifier, [](Camera& c) { c.zoom(1 / kZoom, c.target()); }},
};

constexpr WorldGesture kGestures[] = {
    {QT_TRANSLATE_NOOP("dune::window::WorldView", "Turn the view"),
     QT_TRANSLATE_NOOP("dune::window::WorldView", "Right button, or arrow keys in the world")},
    {QT_TRANSLATE_NOOP("dune::window::WorldView", "Move the view"),
     QT_TRANSLATE_NOOP("dune::window::WorldView", "Shift with the right button, middle button, or Shift with arrow keys")},
    {QT_TRANSLATE_NOOP("dune::window::WorldView", "Nearer and farther"),
     QT_TRANSLATE_NOOP("dune::window::WorldView", "Wheel, or Page up and Page down in the world")},
    {QT_TRANSLATE_NOOP("dune::window::WorldView", "A body that flies, higher or lower over the place pointed at"),
     QT_TRANSLATE_NOOP("dune::window::WorldView", "Shift with the wheel, at Flight")},
    {QT_TRANSLATE_NOOP("dune::window::WorldView", "Move the mouse without a mouse"),
     QT_TRANSLATE_NOOP("dune::window::WorldView", "Ctrl with arrow keys; with Shift by pixels")},
    {QT_TRANSLATE_NOOP("dune::window::WorldView", "Press the left button, and let it go"),
     QT_TRANSLATE_NOOP("dune::window::WorldView", "Ctrl with Enter in the world")},
    {QT_TRANSLATE_NOOP("dune::window::WorldView", "Cut away what is above a place"),
     QT_TRANSLATE_NOOP("dune::window::WorldView", "Double click on it")},
    {QT_TRANSLATE_NOOP("dune::window::WorldView", "What can be done with a thing"),
     QT_TRANSLATE_NOOP("dune::window::WorldView", "Right click on it")},
    {QT_TRANSLATE_NOOP("dune::window::WorldView", "Give up a drag, then the tool"), QT_TRANSLATE_NOOP("dune::window::WorldView", "Esc")},
    {QT_TRANSLATE_NOOP("dune::window::WorldView", "End an outline"),
     QT_TRANSLATE_NOOP("dune::window::WorldView", "Enter, or double click")},
};

}  // namespace

std::span<const WorldGesture> worldGestures() { return kGestures; }

bool moveByKey(Camera& camera, const QKeyEvent& key) {
  for (const WorldKey& k : kKeys)
    if (k.key == key.key() && k.modifiers == modifiersOf(key)) return k.move(camera), true;
  return false;
}

bool tiltsByKey(const QKeyEvent& key) {
  return (key.key() == Qt::Key_Up || key.key() == Qt::Key_Down) && modifiersOf(key) == Qt::NoModifier;
}

}  // namespace dune::window
