# What `make install` puts where. The firmware's sources go along: they are what
# `uvrek build` compiles.
set_target_properties(uvrek-command PROPERTIES EXPORT_NAME command)
install(TARGETS uvrek-command RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
install(TARGETS uvrek uvrek-engine EXPORT uvrek-targets
        ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR})
install(DIRECTORY include/uvrek DESTINATION ${CMAKE_INSTALL_INCLUDEDIR})
install(FILES docs/exchange.schema.json DESTINATION ${CMAKE_INSTALL_DATADIR}/uvrek)
install(FILES share/uvrek.tmLanguage.json DESTINATION ${CMAKE_INSTALL_DATADIR}/uvrek)
install(FILES share/uvrek.vim DESTINATION ${CMAKE_INSTALL_DATADIR}/vim/vimfiles/syntax)
install(FILES docs/uvrek.1 DESTINATION ${CMAKE_INSTALL_MANDIR}/man1)
install(FILES completions/uvrek.bash RENAME uvrek
  DESTINATION ${CMAKE_INSTALL_DATADIR}/bash-completion/completions)
install(FILES completions/_uvrek DESTINATION ${CMAKE_INSTALL_DATADIR}/zsh/site-functions)
install(FILES completions/uvrek.fish DESTINATION ${CMAKE_INSTALL_DATADIR}/fish/vendor_completions.d)

set(data ${CMAKE_INSTALL_DATADIR}/uvrek)
install(DIRECTORY boards DESTINATION ${data})
install(DIRECTORY include/uvrek DESTINATION ${data}/include)
install(DIRECTORY keyboard DESTINATION ${data} FILES_MATCHING PATTERN "*.[ch]" PATTERN "*.ld" PATTERN "sources.txt")
set(image_sources ${engine_sources})
list(FILTER image_sources INCLUDE REGEX "^image/")
install(FILES ${image_sources} image/layout.h image/tables.h DESTINATION ${data}/image)
install(FILES docs/messages.md DESTINATION ${data})

if(SERIAL_FOUND)
  set(SERIAL_LIB -lserialport)
endif()
if(LIBUSB_FOUND)
  set(USB_LIB -lusb-1.0)
endif()
if(HIDAPI_FOUND)
  string(APPEND USB_LIB " -lhidapi-hidraw")
endif()
if(PANGOCAIRO_FOUND)
  list(TRANSFORM PANGOCAIRO_LIBRARIES PREPEND -l OUTPUT_VARIABLE PICTURE_LIBS)
  list(JOIN PICTURE_LIBS " " PICTURE_LIBS)
endif()
file(RELATIVE_PATH INCLUDE_FROM_LIB
  ${CMAKE_INSTALL_FULL_LIBDIR} ${CMAKE_INSTALL_FULL_INCLUDEDIR})
foreach(name uvrek uvrek-engine)
  configure_file(cmake/${name}.pc.in ${name}.pc @ONLY)
  install(FILES ${CMAKE_BINARY_DIR}/${name}.pc DESTINATION ${CMAKE_INSTALL_LIBDIR}/pkgconfig)
endforeach()

set(package ${CMAKE_INSTALL_LIBDIR}/cmake/uvrek)
configure_package_config_file(cmake/uvrek-config.cmake.in uvrek-config.cmake
                              INSTALL_DESTINATION ${package})
write_basic_package_version_file(uvrek-config-version.cmake COMPATIBILITY SameMinorVersion)
install(FILES ${CMAKE_BINARY_DIR}/uvrek-config.cmake
              ${CMAKE_BINARY_DIR}/uvrek-config-version.cmake
        DESTINATION ${package})
install(EXPORT uvrek-targets NAMESPACE uvrek:: DESTINATION ${package})
