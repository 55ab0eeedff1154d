# Headers of packages that are parsed once and not in every source: the most of what parsing takes.
#
# A source still includes what it uses; scripts/lint.sh compiles without any of this and finds what does not.
set(AVREK_STANDARD_HEADERS <Eigen/Geometry> <algorithm> <array> <bit> <chrono> <cmath> <cstdint> <cstring> <filesystem>
  <functional> <limits> <map> <memory> <numeric> <optional> <span> <string> <string_view> <utility> <variant> <vector>)

# avrek_add_precompiled(NAME PACKAGES ... HEADERS ...): the standard headers and HEADERS, for targets that are compiled
# with the same flags and link PACKAGES.
function(avrek_add_precompiled name)
  cmake_parse_arguments(PRECOMPILED "" "" "PACKAGES;HEADERS" ${ARGN})
  set(source ${PROJECT_BINARY_DIR}/precompiled/${name}.cpp)
  file(CONFIGURE OUTPUT ${source} CONTENT "")
  add_library(${name} OBJECT ${source})
  target_link_libraries(${name} PRIVATE Eigen3::Eigen avrek_build_flags ${PRECOMPILED_PACKAGES})
  target_compile_features(${name} PUBLIC cxx_std_20)
  target_compile_options(${name} PRIVATE -ffp-contract=off)
  target_precompile_headers(${name} PRIVATE ${AVREK_STANDARD_HEADERS} ${PRECOMPILED_HEADERS})
endfunction()

# For a program: compiled quickly, with the precompiled headers of such programs.
function(avrek_program target)
  avrek_compile_for_programs(${target})
  # All of them, for its definitions must be the same.
  target_link_libraries(${target} PRIVATE fmt::fmt)
  target_precompile_headers(${target} REUSE_FROM avrek_programs_precompiled)
endfunction()
