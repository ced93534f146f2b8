#pragma once
// The part of a document about flying, as JSON.

#include <nlohmann/json_fwd.hpp>

#include "core/project/flight.h"

namespace dune::project {

nlohmann::ordered_json flightJson(const FlightSection& section);
/// Throws on what cannot be.
FlightSection flightFrom(const nlohmann::ordered_json& json);

/// A flyer alone, for whoever has no project.
nlohmann::ordered_json flyerJson(const flight::Flyer& flyer);
flight::Flyer flyerFrom(const nlohmann::ordered_json& json);

}  // namespace dune::project
