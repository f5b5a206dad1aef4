# What waits for people most of the time: a Release optimises it less, which halves the time to compile it.
function(scorrere_calm target)
  target_compile_options(${target} PRIVATE $<$<CONFIG:Release>:-O1>)
endfunction()

# One folder is one target: every .cpp and .h in it, and the layers it may know. Dependencies point one way.
# ALONE: files that are not compiled together with others where the preset asks for that (CMAKE_UNITY_BUILD), since they
# put types of an anonymous namespace into a class.
# CALM: see above.
function(scorrere_layer name)
  cmake_parse_arguments(LAYER "CALM" "" "PUBLIC;PRIVATE;ALONE" ${ARGN})
  file(GLOB sources CONFIGURE_DEPENDS *.cpp *.h)
  set_source_files_properties(${LAYER_ALONE} PROPERTIES SKIP_UNITY_BUILD_INCLUSION ON)
  add_library(scorrere_${name} STATIC ${sources})
  target_include_directories(scorrere_${name} PUBLIC ${PROJECT_SOURCE_DIR}/src)
  target_link_libraries(scorrere_${name} PUBLIC ${LAYER_PUBLIC} PRIVATE ${LAYER_PRIVATE})
  if(LAYER_CALM)
    scorrere_calm(scorrere_${name})
  endif()
endfunction()

# A layer that may use Qt.
function(scorrere_qt_layer name)
  scorrere_layer(${name} ${ARGN})
  set_target_properties(scorrere_${name} PROPERTIES AUTOMOC ON)
  target_compile_definitions(scorrere_${name} PUBLIC QT_NO_CAST_FROM_ASCII QT_NO_FOREACH QT_NO_KEYWORDS)
endfunction()
