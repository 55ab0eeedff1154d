# How everything is compiled, and the packages that are looked for.
set(CMAKE_CXX_STANDARD 20)
set(CMAKE_CXX_STANDARD_REQUIRED ON)
set(CMAKE_CXX_EXTENSIONS OFF)
set(CMAKE_EXPORT_COMPILE_COMMANDS ON)
if(NOT CMAKE_BUILD_TYPE AND NOT CMAKE_CONFIGURATION_TYPES)
  set(CMAKE_BUILD_TYPE Release)
endif()

# What was compiled before is not compiled again, in other folders too. The options are what precompiled headers need:
# comments count, as such a header holds digests of whole files, by which "pragma once" knows them again.
find_program(AVREK_CCACHE ccache)
if(AVREK_CCACHE AND NOT CMAKE_CXX_COMPILER_LAUNCHER)
  set(CMAKE_CXX_COMPILER_LAUNCHER ${CMAKE_COMMAND} -E env
    CCACHE_BASEDIR=${PROJECT_SOURCE_DIR} CCACHE_NOHASHDIR=1 CCACHE_COMMENTS=1 CCACHE_SLOPPINESS=pch_defines,time_macros
    ${PROJECT_SOURCE_DIR}/cmake/fresh_header.sh ${AVREK_CCACHE})
  add_compile_options($<$<CXX_COMPILER_ID:GNU>:-fpch-preprocess>
    "$<$<CXX_COMPILER_ID:Clang>:SHELL:-Xclang -fno-pch-timestamp>")
endif()

find_package(Eigen3 3.4 REQUIRED NO_MODULE)
find_path(AVREK_RANDOM123_DIR Random123/philox.h REQUIRED)

if(AVREK_DATA)
  find_package(nlohmann_json 3.11 REQUIRED)
  find_path(AVREK_XXHASH_DIR xxhash.h REQUIRED)
  find_package(tomlplusplus 3.3 REQUIRED)
  # Its headers alone, without exceptions: an installed Avrek needs nothing of it.
  add_library(avrek_toml INTERFACE)
  target_include_directories(avrek_toml SYSTEM INTERFACE
    $<TARGET_PROPERTY:tomlplusplus::tomlplusplus,INTERFACE_INCLUDE_DIRECTORIES>)
  target_compile_definitions(avrek_toml INTERFACE TOML_HEADER_ONLY=0 TOML_EXCEPTIONS=0)
  find_path(AVREK_FLATBUFFERS_DIR flatbuffers/flatbuffers.h REQUIRED)
  find_program(AVREK_FLATC flatc REQUIRED)
  find_library(AVREK_ZSTD zstd REQUIRED)
  find_library(AVREK_SQLITE sqlite3 REQUIRED)
  find_library(AVREK_NLOPT nlopt REQUIRED)
  add_library(avrek_flatbuffers INTERFACE)
  target_include_directories(avrek_flatbuffers SYSTEM INTERFACE ${AVREK_FLATBUFFERS_DIR})
  if(AVREK_NET)
    find_library(AVREK_SODIUM sodium REQUIRED)
    find_library(AVREK_NGTCP2 ngtcp2 REQUIRED)
    find_library(AVREK_NGTCP2_CRYPTO ngtcp2_crypto_gnutls REQUIRED)
    find_library(AVREK_GNUTLS gnutls REQUIRED)
    find_package(Threads REQUIRED)
  endif()
  # Its header alone, for the same reason.
  find_path(AVREK_TINYGLTF_DIR tiny_gltf.h REQUIRED)
  add_library(avrek_gltf INTERFACE)
  target_include_directories(avrek_gltf SYSTEM INTERFACE ${AVREK_TINYGLTF_DIR})
endif()

# Warnings and sanitizers are ours alone: installed targets do not carry them.
add_library(avrek_build_flags INTERFACE)
target_compile_options(avrek_build_flags INTERFACE -Wall -Wextra -Wpedantic -Wshadow -Wconversion)
if(AVREK_SANITIZE)
  target_compile_options(avrek_build_flags INTERFACE
    -fsanitize=${AVREK_SANITIZE} -fno-sanitize-recover=all -fno-omit-frame-pointer)
  target_link_options(avrek_build_flags INTERFACE -fsanitize=${AVREK_SANITIZE})
endif()

# The code for a FlatBuffers schema, for the sources of a target. It is a target of its own: as a source, it would wait for
# the libraries below, and all sources above for it.
function(avrek_add_schema target schema)
  get_filename_component(name ${schema} NAME_WE)
  set(directory ${PROJECT_BINARY_DIR}/schemas)
  add_custom_command(OUTPUT ${directory}/${name}_generated.h
    COMMAND ${AVREK_FLATC} --cpp -o ${directory} ${PROJECT_SOURCE_DIR}/${schema}
    DEPENDS ${PROJECT_SOURCE_DIR}/${schema})
  add_custom_target(avrek_${name}_schema DEPENDS ${directory}/${name}_generated.h)
  add_dependencies(${target} avrek_${name}_schema)
  target_include_directories(${target} SYSTEM PRIVATE ${directory})
endfunction()

# For code that does not compute: its big headers take minutes to optimise, for nothing.
function(avrek_compile_quickly target)
  target_compile_options(${target} PRIVATE $<$<CONFIG:Release>:-O1>)
endfunction()

# For programs, tests among them, and what only they use: compiled quickly, and not optimised at all under sanitizers,
# where most of the compile time would go there.
function(avrek_compile_for_programs target)
  avrek_compile_quickly(${target})
  if(NOT AVREK_SANITIZE)
    return()
  endif()
  target_compile_options(${target} PRIVATE -O0)
  get_target_property(type ${target} TYPE)
  if(type STREQUAL EXECUTABLE)
    # The linker takes the first copy of an inline function. That of the layers, which are optimised, must come before
    # the program's, or the layers are ten times slower.
    get_property(layers GLOBAL PROPERTY AVREK_LAYERS)
    list(TRANSFORM layers PREPEND avrek_)
    set(archives)
    foreach(library IN LISTS layers)
      string(APPEND archives ",$<TARGET_FILE:${library}>")
    endforeach()
    target_link_options(${target} PRIVATE "-Wl,--whole-archive${archives},--no-whole-archive")
    target_link_libraries(${target} PRIVATE avrek::avrek)
  endif()
endfunction()
