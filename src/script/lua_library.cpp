#include "script/lua_library.h"

#include <lua.hpp>

#include "script/sandbox.h"

namespace script {
namespace {

/// Calls what a wrapped function has as its upvalue with all the arguments.
int original(lua_State* L) {
    const int count = lua_gettop(L);
    lua_pushvalue(L, lua_upvalueindex(1));
    lua_insert(L, 1);
    lua_call(L, count, LUA_MULTRET);
    return lua_gettop(L);
}

/// For functions that go through their arguments: each letter of a text counts, and each argument.
int chargedByArguments(lua_State* L) {
    const int count = lua_gettop(L);
    double work = 2.0 + count;
    for (int i = 1; i <= count; ++i)
        if (lua_type(L, i) == LUA_TSTRING) work += static_cast<double>(lua_rawlen(L, i)) / 2;
    charge(L, work);
    return original(L);
}

int repeat(lua_State* L) {
    std::size_t length = 0, between = 0;
    luaL_checklstring(L, 1, &length);
    const lua_Integer count = luaL_checkinteger(L, 2);
    luaL_optlstring(L, 3, "", &between);
    const double size = count > 0 ? static_cast<double>(length + between) * static_cast<double>(count) : 0;
    if (size > static_cast<double>(kLongestText)) return luaL_error(L, "a text of more than 2 MB is too long");
    charge(L, 2 + size / 16 + static_cast<double>(count > 0 && size > 0 ? count : 0));
    return original(L);
}

/// A table that was emptied may take long to say that it is.
int nextOf(lua_State* L) {
    luaL_checktype(L, 1, LUA_TTABLE);
    lua_settop(L, 2);
    charge(L, 4);
    if (lua_next(L, 1) != 0) return 2;
    lua_pushnil(L);
    return 1;
}
int pairsOf(lua_State* L) {
    luaL_checkany(L, 1);
    if (luaL_getmetafield(L, 1, "__pairs") != LUA_TNIL) {
        lua_pushvalue(L, 1);
        lua_call(L, 1, 3);
        return 3;
    }
    luaL_checktype(L, 1, LUA_TTABLE);
    lua_getglobal(L, "next");
    lua_pushvalue(L, 1);
    lua_pushnil(L);
    return 3;
}

/// Lua's own runs its handler before it leaves the error, and so within the hook, where no budget counts: here it is
/// called afterwards.
int safeProtectedCall(lua_State* L) {
    luaL_checkany(L, 2);
    charge(L, 10);
    const int count = lua_gettop(L) - 2;
    lua_pushvalue(L, 1);
    lua_copy(L, 2, 1);  // the handler waits at the bottom, then the function, then its arguments
    lua_replace(L, 2);
    if (lua_pcall(L, count, LUA_MULTRET, 0) == LUA_OK) {
        lua_pushboolean(L, 1);
        lua_replace(L, 1);
        return lua_gettop(L);
    }
    charge(L, 10);
    lua_call(L, 1, 1);
    lua_pushboolean(L, 0);
    lua_insert(L, 1);
    return 2;
}
int protectedCall(lua_State* L) {
    luaL_checkany(L, 1);
    charge(L, 10);
    lua_pushboolean(L, 1);
    lua_insert(L, 1);
    if (lua_pcall(L, lua_gettop(L) - 2, LUA_MULTRET, 0) == LUA_OK) return lua_gettop(L);
    charge(L, 10);
    lua_pushboolean(L, 0);
    lua_insert(L, -2);
    return 2;
}

/// A finalizer would run where no budget counts, and one that says when values go would make the collector slow.
int safeSetMetatable(lua_State* L) {
    luaL_checktype(L, 1, LUA_TTABLE);
    if (lua_type(L, 2) == LUA_TTABLE)
        for (const char* key : {"__gc", "__mode", "__close"}) {
            lua_pushstring(L, key);
            lua_rawget(L, 2);
            if (!lua_isnil(L, -1)) return luaL_error(L, "%s is not for scripts", key);
            lua_settop(L, 2);
        }
    lua_settop(L, 2);
    return original(L);
}

/// random of math: of our own chance.
int mathRandom(lua_State* L) {
    Engine& engine = engineOf(L);
    const double unit = engine.context.random.unit();
    if (lua_gettop(L) == 0) return lua_pushnumber(L, unit), 1;
    const lua_Integer low = lua_gettop(L) > 1 ? luaL_checkinteger(L, 1) : 1;
    const lua_Integer high = luaL_checkinteger(L, lua_gettop(L) > 1 ? 2 : 1);
    if (high < low || static_cast<double>(high) - static_cast<double>(low) > 1e15)
        return luaL_error(L, "math.random: the interval is empty or too wide");
    lua_pushinteger(L, low + static_cast<lua_Integer>(unit * (static_cast<double>(high - low) + 1)));
    return 1;
}

void wrap(lua_State* L, const char* table, const char* name, lua_CFunction with) {
    lua_getglobal(L, table);
    lua_getfield(L, -1, name);
    lua_pushcclosure(L, with, 1);
    lua_setfield(L, -2, name);
    lua_settop(L, -2);
}
void put(lua_State* L, const char* table, const char* name, lua_CFunction function) {
    lua_getglobal(L, table);
    if (function != nullptr)
        lua_pushcfunction(L, function);
    else
        lua_pushnil(L);
    lua_setfield(L, -2, name);
    lua_settop(L, -2);
}

}  // namespace

void openLibrary(lua_State* L) {
    for (const luaL_Reg& library : {luaL_Reg{"_G", luaopen_base},
                                    {"table", luaopen_table},
                                    {"string", luaopen_string},
                                    {"math", luaopen_math},
                                    {"utf8", luaopen_utf8}}) {
        luaL_requiref(L, library.name, library.func, 1);
        lua_settop(L, -2);
    }
    for (const char* name : {"load", "loadfile", "dofile", "collectgarbage", "warn"}) put(L, "_G", name, nullptr);
    put(L, "string", "dump", nullptr);
    put(L, "math", "randomseed", nullptr);
    put(L, "math", "random", mathRandom);
    put(L, "_G", "next", nextOf);
    put(L, "_G", "pairs", pairsOf);
    put(L, "_G", "pcall", protectedCall);
    put(L, "_G", "xpcall", safeProtectedCall);
    wrap(L, "_G", "setmetatable", safeSetMetatable);
    for (const char* name : {"tonumber", "tostring", "rawequal", "select"}) wrap(L, "_G", name, chargedByArguments);
    for (const char* name :
         {"byte", "char", "format", "lower", "upper", "reverse", "sub", "pack", "packsize", "unpack"})
        wrap(L, "string", name, chargedByArguments);
    wrap(L, "string", "rep", repeat);
    for (const char* name : {"len", "codepoint", "char", "offset", "codes"}) wrap(L, "utf8", name, chargedByArguments);
    openPatterns(L);
    openTables(L);
}

}  // namespace script
