# The installed package: find_package(Avrek CONFIG [COMPONENTS core weapon ...]) and pkg-config's avrek.
include(CMakePackageConfigHelpers)

get_property(layers GLOBAL PROPERTY AVREK_LAYERS)
list(TRANSFORM layers PREPEND avrek_ OUTPUT_VARIABLE targets)
set(package_dir ${CMAKE_INSTALL_LIBDIR}/cmake/Avrek)

if(AVREK_DATA)
  list(APPEND targets avrek_all)
endif()
install(TARGETS ${targets} EXPORT AvrekTargets FILE_SET HEADERS)
install(EXPORT AvrekTargets NAMESPACE avrek:: DESTINATION ${package_dir})
configure_package_config_file(cmake/AvrekConfig.cmake.in ${PROJECT_BINARY_DIR}/AvrekConfig.cmake
  INSTALL_DESTINATION ${package_dir})
write_basic_package_version_file(${PROJECT_BINARY_DIR}/AvrekConfigVersion.cmake COMPATIBILITY SameMinorVersion)
install(FILES ${PROJECT_BINARY_DIR}/AvrekConfig.cmake ${PROJECT_BINARY_DIR}/AvrekConfigVersion.cmake
  DESTINATION ${package_dir})

# Static libraries are linked from the highest layer to the lowest.
set(pkg_config_libs)
foreach(layer IN LISTS layers)
  string(PREPEND pkg_config_libs "-lavrek_${layer} ")
endforeach()
set(pkg_config_packages "-lzstd -lsqlite3 -lnlopt")
if(AVREK_DATA AND AVREK_NET)
  string(APPEND pkg_config_packages " -lsodium -lngtcp2_crypto_gnutls -lngtcp2 -lgnutls")
endif()
# Relative, so that an installation can be moved.
file(RELATIVE_PATH pkg_config_to_prefix /${CMAKE_INSTALL_LIBDIR}/pkgconfig /)
configure_file(cmake/avrek.pc.in ${PROJECT_BINARY_DIR}/avrek.pc @ONLY)
install(FILES ${PROJECT_BINARY_DIR}/avrek.pc DESTINATION ${CMAKE_INSTALL_LIBDIR}/pkgconfig)

install(FILES data/halm-ring.toml data/arsenal.schema.json data/atrium.toml data/atrium.glb data/storm-drill.toml DESTINATION ${CMAKE_INSTALL_DATADIR}/avrek)
if(AVREK_CLI)
  install(TARGETS avrek_cli)
  if(NOT CMAKE_CROSSCOMPILING)
    install(FILES ${PROJECT_BINARY_DIR}/completion.bash
      DESTINATION ${CMAKE_INSTALL_DATADIR}/bash-completion/completions RENAME avrek)
    install(FILES ${PROJECT_BINARY_DIR}/completion.zsh
      DESTINATION ${CMAKE_INSTALL_DATADIR}/zsh/site-functions RENAME _avrek)
  endif()
endif()
