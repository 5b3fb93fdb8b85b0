# What every target of ours is compiled with. Warnings are errors.
add_library(mellow_options INTERFACE)
target_compile_options(mellow_options INTERFACE
  -Wall -Wextra -Wshadow -Wconversion -Werror)
# GCC 12 sees these in strings and variants of its own library that are moved out of results, and is mistaken.
target_compile_options(mellow_options INTERFACE -Wno-array-bounds -Wno-stringop-overflow -Wno-stringop-overread -Wno-restrict)
target_include_directories(mellow_options INTERFACE ${CMAKE_SOURCE_DIR}/src)

set(MELLOW_SANITIZE "" CACHE STRING "Sanitizers, as -fsanitize takes them")
if(MELLOW_SANITIZE)
  # Null, skew and foreign pointers end a test without these four, which cost a third of the whole compiling.
  set(MELLOW_UNASKED -fno-sanitize=null,alignment,object-size,vptr)
  add_compile_options(-fsanitize=${MELLOW_SANITIZE} ${MELLOW_UNASKED} -fno-omit-frame-pointer -fno-sanitize-recover=all -Og)
  add_link_options(-fsanitize=${MELLOW_SANITIZE})
endif()

# A release still checks what its own code asserts nowhere in a hot path; -O2 is faster to build than -O3 here.
set(CMAKE_CXX_FLAGS_RELEASE "-O2 -DNDEBUG")
