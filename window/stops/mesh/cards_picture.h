#pragma once
// Cards in the world: a pin each, with the answer in a few words.

#include "core/pipeline/answers.h"
#include "window/scene/layers.h"

namespace dune::window {

DrawList cardsLayer(const project::CardsSection& cards, const std::vector<pipeline::CardAnswer>& answers, int chosen,
                    std::vector<WorldLabel>& labels);

}  // namespace dune::window
