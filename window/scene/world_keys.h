#pragma once
// The keys that turn, move and zoom the view of the world, as one table: for the view that obeys them and for the list of all keys.

#include <QKeyEvent>
#include <QString>
#include <span>

#include "window/scene/camera.h"

namespace dune::window {

/// What does not come from keys alone, and the keys in groups as people learn them: for the list.
struct WorldGesture {
  const char* what;
  const char* how;
};

std::span<const WorldGesture> worldGestures();

/// Whether the key moved the camera.
bool moveByKey(Camera& camera, const QKeyEvent& key);
/// Whether the key looks higher or lower.
bool tiltsByKey(const QKeyEvent& key);

}  // namespace dune::window
