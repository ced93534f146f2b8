#include "window/scene/layer.h"

#include "window/scene/world_view.h"

namespace dune::window {

Layer::Layer(WorldView& view, LayerOrder order, Side side) : view_(&view), handle_(view.addLayer(order, side)) {}

Layer::~Layer() {
  if (view_) view_->removeLayer(handle_);
}

void Layer::set(DrawList list, std::vector<WorldLabel> labels) {
  if (view_) view_->setLayer(handle_, std::move(list), std::move(labels));
}

void Layer::setClip(Clip clip, const Box2& box) {
  if (view_) view_->setClip(handle_, clip, box);
}

}  // namespace dune::window
