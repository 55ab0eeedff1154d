# avrek_add_layer(NAME [QUICKLY] SOURCES ... HEADER_ONLY ... PRIVATE_SOURCES ... PACKAGES ... LAYERS ... PRECOMPILED ...)
#
# One layer of the library as the target avrek::NAME. Each name under SOURCES is src/NAME/x.cpp with its public header
# include/avrek/NAME/x.h; HEADER_ONLY names have no source, PRIVATE_SOURCES no public header. A layer that is compiled
# QUICKLY does not compute, and precompiles the headers under PRECOMPILED.
function(avrek_add_layer name)
  cmake_parse_arguments(LAYER "QUICKLY" "" "SOURCES;HEADER_ONLY;PRIVATE_SOURCES;PACKAGES;PRIVATE_PACKAGES;LAYERS;PRECOMPILED" ${ARGN})
  set(target avrek_${name})
  add_library(${target} STATIC)
  add_library(avrek::${name} ALIAS ${target})
  set_target_properties(${target} PROPERTIES EXPORT_NAME ${name} POSITION_INDEPENDENT_CODE ON)
  foreach(source IN LISTS LAYER_SOURCES LAYER_PRIVATE_SOURCES)
    target_sources(${target} PRIVATE src/${name}/${source}.cpp)
  endforeach()
  set(headers)
  foreach(header IN LISTS LAYER_SOURCES LAYER_HEADER_ONLY)
    list(APPEND headers include/avrek/${name}/${header}.h)
  endforeach()
  target_sources(${target} PUBLIC FILE_SET HEADERS BASE_DIRS include FILES ${headers})
  target_compile_features(${target} PUBLIC cxx_std_20)
  # The same bits everywhere, also where a game's own build inlines our headers.
  target_compile_options(${target} PUBLIC -ffp-contract=off)
  # `Sphere{{}, 1.0}` has its centre at the origin, in a game's code too.
  target_compile_definitions(${target} PUBLIC EIGEN_INITIALIZE_MATRICES_BY_ZERO)
  target_include_directories(${target} SYSTEM PRIVATE ${AVREK_RANDOM123_DIR})
  target_link_libraries(${target}
    PUBLIC ${LAYER_PACKAGES}
    PRIVATE $<BUILD_INTERFACE:avrek_build_flags>)
  foreach(package IN LISTS LAYER_PRIVATE_PACKAGES)
    target_link_libraries(${target} PRIVATE $<BUILD_INTERFACE:${package}>)
  endforeach()
  foreach(layer IN LISTS LAYER_LAYERS)
    target_link_libraries(${target} PUBLIC avrek_${layer})
  endforeach()
  if(LAYER_QUICKLY)
    avrek_compile_quickly(${target})
    target_precompile_headers(${target} PRIVATE ${AVREK_STANDARD_HEADERS} ${LAYER_PRECOMPILED})
  else()
    target_precompile_headers(${target} REUSE_FROM avrek_precompiled)
  endif()
  set_property(GLOBAL APPEND PROPERTY AVREK_LAYERS ${name})
endfunction()

# avrek::avrek: every layer, and <avrek/avrek.h>.
function(avrek_add_umbrella)
  get_property(layers GLOBAL PROPERTY AVREK_LAYERS)
  add_library(avrek_all INTERFACE)
  add_library(avrek::avrek ALIAS avrek_all)
  set_target_properties(avrek_all PROPERTIES EXPORT_NAME avrek)
  target_sources(avrek_all INTERFACE FILE_SET HEADERS BASE_DIRS include FILES include/avrek/avrek.h)
  foreach(layer IN LISTS layers)
    target_link_libraries(avrek_all INTERFACE avrek_${layer})
  endforeach()
endfunction()
