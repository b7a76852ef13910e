# One interface target carries the language level and the warnings; two functions keep each folder's
# CMakeLists.txt a list of names.
add_library(wavechroma_options INTERFACE)
target_compile_features(wavechroma_options INTERFACE cxx_std_20)
target_compile_options(wavechroma_options INTERFACE -Wall -Wextra -Wpedantic -Werror -Wshadow -Wnon-virtual-dtor)
target_include_directories(wavechroma_options INTERFACE ${CMAKE_SOURCE_DIR}/src ${CMAKE_BINARY_DIR}/generated)
target_compile_definitions(wavechroma_options INTERFACE WAVECHROMA_VERSION="${PROJECT_VERSION}")
if(WAVECHROMA_SANITIZE)
  target_compile_options(wavechroma_options INTERFACE -fsanitize=address,undefined -fno-sanitize-recover=undefined
                                                      -fno-omit-frame-pointer -g)
  target_link_options(wavechroma_options INTERFACE -fsanitize=address,undefined)
endif()

# wavechroma_library(name SOURCES ... [PUBLIC libs] [PRIVATE libs])
function(wavechroma_library name)
  cmake_parse_arguments(ARG "" "" "SOURCES;PUBLIC;PRIVATE" ${ARGN})
  add_library(wavechroma_${name} STATIC ${ARG_SOURCES})
  target_link_libraries(wavechroma_${name} PUBLIC wavechroma_options ${ARG_PUBLIC} PRIVATE ${ARG_PRIVATE})
endfunction()

# wavechroma_test(name LIBS ... [SOURCES ...]): name.cpp is a Qt Test program
function(wavechroma_test name)
  cmake_parse_arguments(ARG "" "" "SOURCES;LIBS" ${ARGN})
  if(NOT BUILD_TESTING)
    return()
  endif()
  add_executable(${name} ${name}.cpp ${ARG_SOURCES})
  set_target_properties(${name} PROPERTIES AUTOMOC ON)
  target_link_libraries(${name} PRIVATE wavechroma_options ${ARG_LIBS} Qt6::Test)
  add_test(NAME ${name} COMMAND ${name})
  set_tests_properties(${name} PROPERTIES TIMEOUT 900 ENVIRONMENT
    "QT_QPA_PLATFORM=offscreen;WAVECHROMA_SOURCE_DIR=${CMAKE_SOURCE_DIR};WAVECHROMA_CLI=${CMAKE_BINARY_DIR}/bin/wavechroma-cli")
endfunction()

# wavechroma_embed(variable file): generated/embedded/<variable>.h holds the file as a string constant, so the core
# needs no data files at run time and each table has one source.
function(wavechroma_embed variable file)
  file(READ ${CMAKE_SOURCE_DIR}/${file} EMBEDDED_TEXT)
  set(EMBEDDED_NAME ${variable})
  set_property(DIRECTORY APPEND PROPERTY CMAKE_CONFIGURE_DEPENDS ${CMAKE_SOURCE_DIR}/${file})
  configure_file(${CMAKE_SOURCE_DIR}/cmake/embedded.h.in ${CMAKE_BINARY_DIR}/generated/embedded/${variable}.h @ONLY)
endfunction()
