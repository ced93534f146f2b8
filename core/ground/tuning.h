#pragma once
// The numbers the ground folder is tuned with.

namespace dune::ground::tuning {

constexpr double kWeld = 1e-5;        // m: corners nearer than this are one corner (modelling programs write 6 digits)
constexpr double kSameHeight = 1e-3;  // m: surfaces nearer than this, one above the other, are one surface
constexpr double kLimitSlack = 1e-6;  // m, rad: rounding of single-precision files must not turn "exactly at the limit" into "over it"
constexpr double kBeside = 2.137e-3;  // m: how far beside a line one looks for the ground that goes on there; no width that people model
constexpr double kBesideCrack = 1.5 * kBeside;  // m: how far beside a place that may lie in a crack one looks for what is not in it
constexpr double kLeastStep = 0.04;             // m: lower steps are within what faces may be off the ground
constexpr double kLeastEnd = 1e-3;              // m: shorter pieces of an end cannot be told from rounding
constexpr double kCellHint = 1.0;               // m: cell of the triangle index; about a stride

constexpr double kCutBelow = 0.1;  // how far under ground a surface that cuts it may lie and still cut it

}  // namespace dune::ground::tuning
