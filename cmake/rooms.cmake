option(MELLOW_PARCELS "Compile the sources of a room in parcels: quicker for all of them, slower for one" OFF)

# mellow_room(NAME DEPS...): one static library per room, of every source in its folder.
function(mellow_room name)
  file(GLOB_RECURSE sources CONFIGURE_DEPENDS ${CMAKE_CURRENT_SOURCE_DIR}/${name}/*.cpp)
  list(FILTER sources EXCLUDE REGEX "/main\\.cpp$")
  add_library(${name} STATIC ${sources})
  set_target_properties(${name} PROPERTIES UNITY_BUILD ${MELLOW_PARCELS} UNITY_BUILD_BATCH_SIZE 6)
  target_link_libraries(${name} PUBLIC mellow_options ${ARGN})
endfunction()

# Headers read once for all: the standard library and the few that nearly every file names. Each file still includes what
# it uses; the dev preset builds without these and so finds what was forgotten.
set(common_headers <algorithm> <array> <cmath> <cstdint> <filesystem> <functional> <map> <memory> <optional> <set> <span>
  <string> <string_view> <unordered_map> <unordered_set> <variant> <vector>
  <fmt/format.h> <glm/glm.hpp> <glm/gtc/quaternion.hpp> <tl/expected.hpp>)
