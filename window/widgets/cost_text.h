#pragma once
// What a rule for a kind of ground says, in words.

#include <QString>

#include "core/nav/rules.h"

namespace dune::window {

/// As short as a cell is narrow.
QString shortCost(const nav::KindRule& rule);
QString longCost(const nav::KindRule& rule);

}  // namespace dune::window
