// The functions of table. They look at a table as it is, without metamethods: so none can be made to run for ever.
#include <lua.hpp>

#include "script/lua_library.h"

namespace script {
namespace {

constexpr lua_Integer kMostUnpacked = 250'000;
constexpr lua_Integer kTurns = 1024;

lua_Integer sizeOf(lua_State* L, int index) {
    luaL_checktype(L, index, LUA_TTABLE);
    return static_cast<lua_Integer>(lua_rawlen(L, index));
}
/// Of a loop's turn `i`: counts from time to time.
void counted(lua_State* L, lua_Integer i) {
    if (i % kTurns == 0) charge(L, kTurns * 2);
}

int insert(lua_State* L) {
    const lua_Integer end = sizeOf(L, 1) + 1;
    const int given = lua_gettop(L);
    if (given == 2) {
        charge(L, 2);
        lua_rawseti(L, 1, end);
        return 0;
    }
    if (given != 3) return luaL_error(L, "wrong number of arguments to 'insert'");
    const lua_Integer at = luaL_checkinteger(L, 2);
    luaL_argcheck(L, at >= 1 && at <= end, 2, "position out of bounds");
    charge(L, static_cast<double>(end - at));
    for (lua_Integer i = end; i > at; --i) {
        counted(L, i);
        lua_rawgeti(L, 1, i - 1);
        lua_rawseti(L, 1, i);
    }
    lua_rawseti(L, 1, at);
    return 0;
}

int remove(lua_State* L) {
    const lua_Integer size = sizeOf(L, 1);
    lua_Integer at = luaL_optinteger(L, 2, size);
    if (lua_gettop(L) > 1)
        luaL_argcheck(L, (size == 0 && at == 0) || (at >= 1 && at <= size + 1), 2, "position out of bounds");
    charge(L, static_cast<double>(size - at) + 2);
    lua_rawgeti(L, 1, at);
    for (; at < size; ++at) {
        counted(L, at);
        lua_rawgeti(L, 1, at + 1);
        lua_rawseti(L, 1, at);
    }
    lua_pushnil(L);
    lua_rawseti(L, 1, at);
    return 1;
}

int move(lua_State* L) {
    luaL_checktype(L, 1, LUA_TTABLE);
    const lua_Integer from = luaL_checkinteger(L, 2), to = luaL_checkinteger(L, 3), at = luaL_checkinteger(L, 4);
    const int into = lua_isnoneornil(L, 5) ? 1 : 5;
    luaL_checktype(L, into, LUA_TTABLE);
    if (to >= from) {
        luaL_argcheck(L, from > 0 || to < LUA_MAXINTEGER + from, 3, "too many elements to move");
        const lua_Integer n = to - from + 1;
        luaL_argcheck(L, at <= LUA_MAXINTEGER - n + 1, 4, "destination wrap around");
        charge(L, static_cast<double>(n));
        const bool forward = at > to || at <= from || (into != 1 && lua_rawequal(L, 1, into) == 0);
        for (lua_Integer k = 0; k < n; ++k) {
            counted(L, k + 1);
            const lua_Integer i = forward ? k : n - 1 - k;
            lua_rawgeti(L, 1, from + i);
            lua_rawseti(L, into, at + i);
        }
    }
    lua_pushvalue(L, into);
    return 1;
}

int concat(lua_State* L) {
    const lua_Integer size = sizeOf(L, 1);
    std::size_t length = 0;
    const char* between = luaL_optlstring(L, 2, "", &length);
    const lua_Integer from = luaL_optinteger(L, 3, 1), to = luaL_optinteger(L, 4, size);
    luaL_Buffer out;
    luaL_buffinit(L, &out);
    for (lua_Integer i = from; i <= to; ++i) {
        counted(L, i);
        lua_rawgeti(L, 1, i);
        if (lua_isstring(L, -1) == 0)
            return luaL_error(L, "invalid value (at index %I) in table for 'concat'", static_cast<LUAI_UACINT>(i));
        luaL_addvalue(&out);
        if (i == to) break;  // also at the largest number there is
        if (length > 0) luaL_addlstring(&out, between, length);
    }
    luaL_pushresult(&out);
    charge(L, static_cast<double>(lua_rawlen(L, -1)) / 16);
    return 1;
}

int unpack(lua_State* L) {
    const lua_Integer size = sizeOf(L, 1);
    const lua_Integer from = luaL_optinteger(L, 2, 1), to = luaL_optinteger(L, 3, size);
    if (from > to) return 0;
    if (from < to - kMostUnpacked || (from < 0 && to > LUA_MAXINTEGER + from))
        return luaL_error(L, "too many results to unpack");
    const int n = static_cast<int>(to - from) + 1;
    charge(L, n);
    luaL_checkstack(L, n, "too many results to unpack");
    for (int i = 0; i < n; ++i) lua_rawgeti(L, 1, from + i);
    return n;
}

int pack(lua_State* L) {
    const int n = lua_gettop(L);
    charge(L, n);
    lua_createtable(L, n, 1);
    lua_insert(L, 1);
    for (int i = n; i >= 1; --i) lua_rawseti(L, 1, i);
    lua_pushinteger(L, n);
    lua_setfield(L, 1, "n");
    return 1;
}

/// Is the value at `a` to stand before that at `b`? By the function that was given, or as < has it.
bool before(lua_State* L, int a, int b) {
    if (lua_isnil(L, 2)) {
        if (lua_type(L, a) == LUA_TSTRING) charge(L, static_cast<double>(lua_rawlen(L, a)) / 16);
        return lua_compare(L, a, b, LUA_OPLT) != 0;
    }
    lua_pushvalue(L, 2);
    lua_pushvalue(L, a < 0 ? a - 1 : a);
    lua_pushvalue(L, b < 0 ? b - 2 : b);
    lua_call(L, 2, 1);
    const bool is = lua_toboolean(L, -1) != 0;
    lua_settop(L, -2);
    return is;
}

/// Merges runs of growing length from one table into the other and back: what is equal stays in order, and whatever a
/// comparing function says, it ends. Stack: 1 the table, 2 the function or nil, 3 a second table.
int sort(lua_State* L) {
    const lua_Integer size = sizeOf(L, 1);
    if (!lua_isnoneornil(L, 2)) luaL_checktype(L, 2, LUA_TFUNCTION);
    lua_settop(L, 2);
    charge(L, static_cast<double>(size));
    lua_createtable(L, size < 2 ? 0 : static_cast<int>(size), 0);
    int from = 1, to = 3;
    lua_Integer turn = 0;
    for (lua_Integer run = 1; run < size; run *= 2) {
        for (lua_Integer left = 1; left <= size; left += 2 * run) {
            const lua_Integer middle = left + run < size + 1 ? left + run : size + 1;
            const lua_Integer end = left + 2 * run < size + 1 ? left + 2 * run : size + 1;
            lua_Integer i = left, k = middle;
            for (lua_Integer out = left; out < end; ++out) {
                counted(L, ++turn);
                bool second = i >= middle;
                if (!second && k < end) {
                    lua_rawgeti(L, from, k);
                    lua_rawgeti(L, from, i);
                    second = before(L, -2, -1);
                    lua_settop(L, 3);
                }
                lua_rawgeti(L, from, second ? k++ : i++);
                lua_rawseti(L, to, out);
            }
        }
        const int other = from;
        from = to;
        to = other;
    }
    for (lua_Integer i = 1; from != 1 && i <= size; ++i) {
        counted(L, i);
        lua_rawgeti(L, from, i);
        lua_rawseti(L, 1, i);
    }
    return 0;
}

}  // namespace

void openTables(lua_State* L) {
    const luaL_Reg all[] = {{"insert", insert}, {"remove", remove}, {"move", move}, {"concat", concat},
                            {"unpack", unpack}, {"pack", pack},     {"sort", sort}, {nullptr, nullptr}};
    lua_getglobal(L, "table");
    luaL_setfuncs(L, all, 0);
    lua_settop(L, -2);
}

}  // namespace script
