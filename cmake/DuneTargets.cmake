# One interface target with the rules every target of ours is compiled under.
add_library(dune_rules INTERFACE)
target_compile_options(dune_rules INTERFACE
  -Wall -Wextra -Wpedantic -Wconversion -Wsign-conversion -Wshadow -Werror
  # The same bytes on every machine: no silent fusing of multiply and add.
  -ffp-contract=off)
if(DUNE_SANITIZE)
  target_compile_options(dune_rules INTERFACE -fsanitize=${DUNE_SANITIZE} -fno-sanitize-recover=all -fno-omit-frame-pointer -g1)
  target_link_options(dune_rules INTERFACE -fsanitize=${DUNE_SANITIZE})
endif()
target_include_directories(dune_rules INTERFACE "${CMAKE_SOURCE_DIR}")

# dune_core(NAME USES folder... LINKS library...): a folder of core/ as a library of its own. USES is the
# rule of the architecture: a folder sees only the folders it names here, and they come before it.
function(dune_core name)
  cmake_parse_arguments(ARG "" "" "USES;LINKS" ${ARGN})
  file(GLOB sources CONFIGURE_DEPENDS "${CMAKE_CURRENT_SOURCE_DIR}/*.cpp")
  add_library(dune_${name} STATIC ${sources})
  if(DUNE_JOIN)
    dune_join(dune_${name} 6 ${sources})
  endif()
  list(TRANSFORM ARG_USES PREPEND dune_)
  target_link_libraries(dune_${name} PUBLIC dune_rules ${ARG_USES} PRIVATE ${ARG_LINKS})
  if("nlohmann_json::nlohmann_json" IN_LIST ARG_LINKS)
    dune_precompile(dune_${name} json ${DUNE_PCH_JSON})
  elseif(NOT "dune_project" IN_LIST ARG_USES)  # what comes after it is compiled with its definitions
    dune_precompile(dune_${name} core ${DUNE_PCH_CORE})
  endif()
endfunction()

# Compiles the sources of a target `many` at a time: each group is one file that includes them. Their names without a namespace of their own
# must differ.
function(dune_join target many)
  set(group "")
  set(number 0)
  foreach(source IN LISTS ARGN)
    if(NOT source MATCHES "\\.cpp$")
      continue()
    endif()
    cmake_path(ABSOLUTE_PATH source)
    set_source_files_properties(${source} PROPERTIES HEADER_FILE_ONLY ON)
    list(APPEND group "#include \"${source}\"")
    list(LENGTH group length)
    if(length EQUAL many)
      dune_write_group(${target} ${number} "${group}")
      set(group "")
      math(EXPR number "${number} + 1")
    endif()
  endforeach()
  if(group)
    dune_write_group(${target} ${number} "${group}")
  endif()
endfunction()

function(dune_write_group target number lines)
  string(REPLACE ";" "\n" text "${lines}")
  set(file "${CMAKE_CURRENT_BINARY_DIR}/joined_${number}.cpp")
  file(CONFIGURE OUTPUT ${file} CONTENT "${text}\n" @ONLY)
  set_source_files_properties(${file} PROPERTIES SKIP_AUTOMOC ON)
  target_sources(${target} PRIVATE ${file})
endfunction()
