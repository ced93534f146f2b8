# Headers that nearly every file of a group reads, read once. The first target of a group makes them, the others take them over; all must be
# compiled with the same options.

set(DUNE_PCH_CORE <algorithm> <array> <atomic> <cmath> <functional> <map> <memory> <mutex> <optional> <set> <span> <string> <variant> <vector>
    <glm/geometric.hpp> <glm/vec2.hpp> <glm/vec3.hpp> <glm/common.hpp>)
set(DUNE_PCH_JSON ${DUNE_PCH_CORE} <nlohmann/json.hpp>)
set(DUNE_PCH_QT ${DUNE_PCH_CORE} <QtWidgets/QtWidgets>)
set(DUNE_PCH_TEST ${DUNE_PCH_CORE} <QtTest/QtTest>)
if(DUNE_JOIN)  # where single files are changed, of ours none: a change of one would make all of them anew
  list(APPEND DUNE_PCH_QT <window/session/workspace.h> <window/stops/sheet.h>)
  list(APPEND DUNE_PCH_TEST <core/pipeline/ground.h> <tests/core/scenes.h>)
  set(DUNE_PCH_WINDOW_TEST <QtTest/QtTest> <tests/window/demo_window.h>)
endif()
list(PREPEND DUNE_PCH_WINDOW_TEST ${DUNE_PCH_QT} <QtTest/QtTest>)

# dune_precompile(TARGET GROUP headers...)
function(dune_precompile target group)
  get_property(first GLOBAL PROPERTY dune_pch_${group})
  if(first)
    target_precompile_headers(${target} REUSE_FROM ${first})
  else()
    target_precompile_headers(${target} PRIVATE ${ARGN})
    set_property(GLOBAL PROPERTY dune_pch_${group} ${target})
  endif()
endfunction()
