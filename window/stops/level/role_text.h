#pragma once
// What a role is called on the sheet and in menus.

#include <QString>

#include "core/level/role_rules.h"

namespace dune::window {

inline QString roleText(level::Role role) { return QString::fromLatin1(level::roleName(role)); }

}  // namespace dune::window
