#pragma once
// The part of Lua's own library that scripts have, each function bounded: whatever it is given, a call takes a short
// time, or counts what it does and can be ended in between. For this room's sources.
struct lua_State;

namespace script {

/// Opens what is for scripts and takes away the rest. To be called in protected mode.
void openLibrary(lua_State* L);

// By file, each puts its functions into the global tables.
void openPatterns(lua_State* L);  ///< find, match, gmatch, gsub of string
void openTables(lua_State* L);    ///< those of table, which look at tables as they are, without metamethods

/// Counts work, one about as long as an instruction; raises when the run is over.
void charge(lua_State* L, double work);

}  // namespace script
