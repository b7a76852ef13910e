# One interface target carries the language level and the warnings; a few functions keep each folder's
# CMakeLists.txt a list of names.
add_library(wavechroma_options INTERFACE)
target_compile_features(wavechroma_options INTERFACE cxx_std_20)
target_compile_options(wavechroma_options INTERFACE -Wall -Wextra -Wpedantic -Werror -Wshadow -Wnon-virtual-dtor)
target_include_directories(wavechroma_options INTERFACE ${CMAKE_SOURCE_DIR}/src ${CMAKE_BINARY_DIR}/generated)
target_compile_definitions(wavechroma_options INTERFACE WAVECHROMA_VERSION="${PROJECT_VERSION}")
find_program(WAVECHROMA_MOLD mold)
if(WAVECHROMA_MOLD) # several times as fast as the ordinary linker
  target_link_options(wavechroma_options INTERFACE -fuse-ld=mold)
endif()
if(WAVECHROMA_SANITIZE) # line tables only, so that a report names its lines
  # What a null pointer or a wrong object does, the address sanitizer sees; asked before each access as well it costs a
  # quarter of the compiler's time. Alignment is asked where bytes of files are read (WAVECHROMA_PARSERS); elsewhere it is
  # the compiler's own, and costs another quarter.
  target_compile_options(wavechroma_options INTERFACE -fsanitize=address,undefined -fno-sanitize-recover=undefined
    -fno-sanitize=null,alignment,pointer-overflow,vptr,object-size,nonnull-attribute,returns-nonnull-attribute,return -fno-omit-frame-pointer -g1)
  target_link_options(wavechroma_options INTERFACE -fsanitize=address,undefined)
  target_compile_definitions(wavechroma_options INTERFACE WAVECHROMA_SANITIZE)
endif()

# The tests' own files and libraries where no time is spent (which put others' work together, or lay out windows) are
# compiled in half the time; all of the core so would make it more than twice as slow.
set(WAVECHROMA_QUICK -Og)
set(WAVECHROMA_QUICK_LIBRARIES words tasks job jobstore report)
if(WAVECHROMA_SANITIZE) # whose compiler takes two thirds of its time to optimise what sanitizers have put in
  set(WAVECHROMA_QUICK -O0)
  list(APPEND WAVECHROMA_QUICK_LIBRARIES facts station)
endif()

set(WAVECHROMA_PARSERS base raw formats)

# Headers that nearly every file reads are compiled once: for the core, for tests, for the window.
set(WAVECHROMA_STANDARD_HEADERS <algorithm> <array> <atomic> <cmath> <cstdint> <filesystem> <functional> <map> <memory>
    <optional> <span> <string> <string_view> <utility> <variant> <vector>)

function(wavechroma_precompiled name)
  cmake_parse_arguments(ARG "" "" "HEADERS;LIBS" ${ARGN})
  file(WRITE ${CMAKE_BINARY_DIR}/generated/${name}.cpp "// compiles the headers\n")
  add_library(${name} STATIC ${CMAKE_BINARY_DIR}/generated/${name}.cpp)
  target_link_libraries(${name} PRIVATE wavechroma_options ${ARG_LIBS})
  target_precompile_headers(${name} PRIVATE ${WAVECHROMA_STANDARD_HEADERS} ${ARG_HEADERS})
  if(name MATCHES "test|quick|window|document")
    target_compile_options(${name} PRIVATE ${WAVECHROMA_QUICK})
  endif()
endfunction()

# wavechroma_library(name SOURCES ... [PUBLIC libs] [PRIVATE libs] [HEADERS_FROM precompiled | QUICK])
function(wavechroma_library name)
  cmake_parse_arguments(ARG "QUICK" "HEADERS_FROM" "SOURCES;PUBLIC;PRIVATE" ${ARGN})
  add_library(wavechroma_${name} STATIC ${ARG_SOURCES})
  target_link_libraries(wavechroma_${name} PUBLIC wavechroma_options ${ARG_PUBLIC} PRIVATE ${ARG_PRIVATE})
  if(WAVECHROMA_SANITIZE AND name IN_LIST WAVECHROMA_PARSERS) # for the fuzzing targets in bench/fuzz
    target_compile_options(wavechroma_${name} PRIVATE -fsanitize-coverage=inline-8bit-counters,pc-table,trace-cmp
      -fsanitize=alignment,pointer-overflow)
  endif()
  if(name IN_LIST WAVECHROMA_QUICK_LIBRARIES)
    target_compile_options(wavechroma_${name} PRIVATE ${WAVECHROMA_QUICK})
    target_precompile_headers(wavechroma_${name} REUSE_FROM wavechroma_quick_headers)
  elseif(ARG_QUICK)
    target_compile_options(wavechroma_${name} PRIVATE ${WAVECHROMA_QUICK})
  elseif(ARG_HEADERS_FROM)
    target_compile_options(wavechroma_${name} PRIVATE ${WAVECHROMA_QUICK})
    target_precompile_headers(wavechroma_${name} REUSE_FROM ${ARG_HEADERS_FROM})
  else()
    target_precompile_headers(wavechroma_${name} REUSE_FROM wavechroma_core_headers)
  endif()
endfunction()

include(WavechromaBriefTests)
# wavechroma_tests(folder TESTS ... [LIBS ...] [WIDGETS]): one program of all Qt Test classes of a folder; each file
# registers its class under its own name, which is run as a test of its own.
set(WAVECHROMA_DEMO_DAY ${CMAKE_SOURCE_DIR}/build/demo-day) # see tests/support/demo_day.h
# The longest go first, so that no core waits for one of them at the end.
set(WAVECHROMA_LONG_TESTS outside_readers_test cli_test agreement_test other_charts_test take_task_test set_test window_test
    mishap_test delivery_test product_window_test hostile_test refusals_test fit_task_test parts_test fit_test settle_test)
# The window's tests and these take more than half of the sanitizer round's time, and the core that they use is tested by
# itself: left to ./dev sanitize. What is fed broken files and wrong calls (hostile_test, refusals_test) stays in.
set(WAVECHROMA_WHOLE_ROUND cli_test delivery_test finished_pictures_test own_charts_test)
add_custom_target(core_tests) # all programs of the core and the command line: what CI runs under sanitizers
function(wavechroma_tests folder)
  cmake_parse_arguments(ARG "WIDGETS" "" "TESTS;LIBS" ${ARGN})
  if(NOT BUILD_TESTING)
    return()
  endif()
  set(program ${folder}_tests)
  list(TRANSFORM ARG_TESTS APPEND .cpp OUTPUT_VARIABLE sources)
  add_executable(${program} ${sources} ${CMAKE_SOURCE_DIR}/tests/support/test_main.cpp)
  set_target_properties(${program} PROPERTIES AUTOMOC ON)
  target_include_directories(${program} PRIVATE ${CMAKE_SOURCE_DIR}/tests)
  target_link_libraries(${program} PRIVATE wavechroma_options ${ARG_LIBS} Qt6::Test)
  target_compile_options(${program} PRIVATE ${WAVECHROMA_QUICK})
  if(NOT ARG_WIDGETS)
    add_dependencies(core_tests ${program})
  endif()
  if(ARG_WIDGETS)
    target_compile_definitions(${program} PRIVATE WAVECHROMA_TEST_WIDGETS)
    target_link_libraries(${program} PRIVATE Qt6::Widgets)
  else()
    target_precompile_headers(${program} REUSE_FROM wavechroma_test_headers)
  endif()
  foreach(test ${ARG_TESTS})
    set(brief)
    if(WAVECHROMA_SANITIZE)
      set(brief ${WAVECHROMA_BRIEF_${test}})
    endif()
    add_test(NAME ${test} COMMAND ${program} ${test} ${brief})
    if(test IN_LIST WAVECHROMA_LONG_TESTS)
      set_tests_properties(${test} PROPERTIES COST 100)
    endif()
    if(ARG_WIDGETS OR test IN_LIST WAVECHROMA_WHOLE_ROUND)
      set_tests_properties(${test} PROPERTIES LABELS whole_round)
    endif()
    set_tests_properties(${test} PROPERTIES TIMEOUT 900 FIXTURES_REQUIRED demo_day ENVIRONMENT
      "LSAN_OPTIONS=suppressions=${CMAKE_SOURCE_DIR}/tests/support/leaks.txt;WAVECHROMA_DEMO_DAY=${WAVECHROMA_DEMO_DAY};QT_QPA_PLATFORM=offscreen;WAVECHROMA_SOURCE_DIR=${CMAKE_SOURCE_DIR};WAVECHROMA_CLI=${CMAKE_BINARY_DIR}/bin/wavechroma-cli")
  endforeach()
endfunction()

# wavechroma_bench(name LIBS ...): bench/<name>_bench.cpp, built only where asked for
function(wavechroma_bench name)
  cmake_parse_arguments(ARG "" "" "LIBS" ${ARGN})
  add_executable(wavechroma-bench-${name} ${name}_bench.cpp)
  target_link_libraries(wavechroma-bench-${name} PRIVATE wavechroma_options ${ARG_LIBS} fmt::fmt)
  target_include_directories(wavechroma-bench-${name} PRIVATE ${CMAKE_SOURCE_DIR})
  add_dependencies(benches wavechroma-bench-${name})
endfunction()

# wavechroma_embed(variable file): generated/embedded/<variable>.h holds the file as a string constant, so the core
# needs no data files at run time and each table has one source.
function(wavechroma_embed variable file)
  file(READ ${CMAKE_SOURCE_DIR}/${file} EMBEDDED_TEXT)
  set(EMBEDDED_NAME ${variable})
  set_property(DIRECTORY APPEND PROPERTY CMAKE_CONFIGURE_DEPENDS ${CMAKE_SOURCE_DIR}/${file})
  configure_file(${CMAKE_SOURCE_DIR}/cmake/embedded.h.in ${CMAKE_BINARY_DIR}/generated/embedded/${variable}.h @ONLY)
endfunction()
