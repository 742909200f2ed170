# One function makes a module: its library, its tests and its declared dependencies.
#
#   jointer_module(fit USES base numerics models LINKS PUBLIC Eigen3::Eigen)
#
# takes src/fit/*.cpp into the library jointer_fit and tests/fit/*.cpp into the program test_fit.
# FAST: loops over many numbers, to be optimised further.
# USES names the modules whose headers it may include; tests/borders checks that it includes no others.

set(JOINTER_BORDERS_FILE "${CMAKE_BINARY_DIR}/module_borders.txt")
file(WRITE "${JOINTER_BORDERS_FILE}" "")

add_library(jointer_options INTERFACE)
target_compile_features(jointer_options INTERFACE cxx_std_23)
target_include_directories(jointer_options INTERFACE "${PROJECT_SOURCE_DIR}/src")
target_compile_options(jointer_options INTERFACE -fPIC -Wall -Wextra -Wpedantic $<$<CXX_COMPILER_ID:GNU>:-Wshadow=local> -Wnon-virtual-dtor -Wno-missing-field-initializers)
if(CMAKE_CXX_COMPILER_ID STREQUAL "GNU")
  target_compile_options(jointer_options INTERFACE -Wno-restrict -Wno-array-bounds -Wno-stringop-overflow -Wno-stringop-overread -Wno-maybe-uninitialized) # false alarms of g++ 12
endif()
target_compile_definitions(jointer_options INTERFACE QT_NO_KEYWORDS)
if(JOINTER_WERROR)
  target_compile_options(jointer_options INTERFACE -Werror)
endif()
if(JOINTER_SANITIZE)
  target_compile_options(jointer_options INTERFACE -fsanitize=${JOINTER_SANITIZE} -fno-omit-frame-pointer -fno-sanitize-recover=all)
  target_link_options(jointer_options INTERFACE -fsanitize=${JOINTER_SANITIZE})
  target_compile_definitions(jointer_options INTERFACE JOINTER_SANITIZED)
endif()

# Headers that most sources take, read once: for the modules, and (with the test library, unoptimised) for their tests.
# What a source uses it still includes itself; a build with CMAKE_DISABLE_PRECOMPILE_HEADERS=ON shows that it does.
file(WRITE "${CMAKE_BINARY_DIR}/nothing.cpp" "")
function(jointer_headers name)
  cmake_parse_arguments(H "" "" "HEADERS;LINKS;OPTIONS" ${ARGN})
  add_library(${name} OBJECT "${CMAKE_BINARY_DIR}/nothing.cpp")
  target_link_libraries(${name} PRIVATE jointer_options ${H_LINKS})
  target_compile_options(${name} PRIVATE ${H_OPTIONS})
  target_precompile_headers(${name} PRIVATE ${H_HEADERS})
endfunction()

# Of these modules each source reads much and says little.
function(jointer_unity target)
  if(JOINTER_UNITY AND target MATCHES "^(jointer_(app|cli|session)|test_(window|analyses|numerics))$")
    set_target_properties(${target} PROPERTIES UNITY_BUILD ON UNITY_BUILD_BATCH_SIZE 6)
  endif()
endfunction()

function(jointer_module name)
  cmake_parse_arguments(M "FAST" "" "USES;LINKS" ${ARGN})
  file(APPEND "${JOINTER_BORDERS_FILE}" "${name}: ${M_USES}\n")
  file(GLOB_RECURSE sources CONFIGURE_DEPENDS "${PROJECT_SOURCE_DIR}/src/${name}/*.cpp" "${PROJECT_SOURCE_DIR}/src/${name}/*.h")
  add_library(jointer_${name} STATIC ${sources})
  target_link_libraries(jointer_${name} PUBLIC jointer_options)
  if(M_LINKS)
    target_link_libraries(jointer_${name} ${M_LINKS})
  endif()
  foreach(used ${M_USES})
    target_link_libraries(jointer_${name} PUBLIC jointer_${used})
  endforeach()
  if(M_FAST AND NOT JOINTER_SANITIZE AND CMAKE_BUILD_TYPE STREQUAL "Release")
    target_compile_options(jointer_${name} PRIVATE -O3)
  endif()
  if(NOT name STREQUAL "app") # has Qt's headers
    target_precompile_headers(jointer_${name} REUSE_FROM jointer_core_headers)
  endif()
  jointer_unity(jointer_${name})
  jointer_tests(${name} jointer_${name} ${JOINTER_TEST_EXTRA_${name}})
endfunction()

# The test program of a folder under tests/, made when the folder has sources.
function(jointer_tests name)
  file(GLOB_RECURSE tests CONFIGURE_DEPENDS "${PROJECT_SOURCE_DIR}/tests/${name}/*.cpp")
  if(NOT BUILD_TESTING OR NOT tests)
    return()
  endif()
  add_executable(test_${name} ${tests})
  # A folder with a main.cpp of its own (one that needs an application object) takes no other.
  set(main GTest::gmock_main)
  if(EXISTS "${PROJECT_SOURCE_DIR}/tests/${name}/main.cpp")
    set(main GTest::gmock)
  endif()
  target_link_libraries(test_${name} PRIVATE ${ARGN} ${main})
  target_link_libraries(test_${name} PRIVATE jointer_options ${core_libraries}) # as the headers were read with
  target_include_directories(test_${name} PRIVATE "${PROJECT_SOURCE_DIR}/tests")
  target_compile_options(test_${name} PRIVATE ${JOINTER_TEST_OPTIONS})
  jointer_unity(test_${name})
  set(headers jointer_test_headers)
  if(name STREQUAL "window")
    set(headers jointer_window_test_headers)
  endif()
  target_precompile_headers(test_${name} REUSE_FROM ${headers})
  target_compile_definitions(test_${name} PRIVATE
    JOINTER_SOURCE_DIR="${PROJECT_SOURCE_DIR}" JOINTER_BINARY_DIR="${CMAKE_BINARY_DIR}")
  gtest_discover_tests(test_${name} TEST_PREFIX "${name}." DISCOVERY_MODE PRE_TEST
    PROPERTIES ENVIRONMENT "QT_QPA_PLATFORM=offscreen;LC_ALL=C.UTF-8" TIMEOUT 300)
endfunction()
