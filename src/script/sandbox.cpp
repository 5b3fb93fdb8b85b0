#include "script/sandbox.h"

#include <fmt/format.h>

#include <cmath>
#include <cstdlib>
#include <cstring>
#include <lua.hpp>

#include "base/text.h"
#include "script/lua_library.h"
#include "script/prelude.h"

// Lua leaves functions by longjmp, past destructors. So nothing here that owns memory is alive on the C++ stack while a
// function of Lua's may raise: arguments are read with what cannot raise, calls are made in a function of their own
// that throws and catches, and results wait in the engine until they are pushed.
namespace script {

namespace {

constexpr std::size_t kLargestPiece = std::size_t{48} << 20;  // a table of a million entries

const char kVec = 0, kTurn = 0, kAsk = 0;  // their places in Lua's registry

void* allocate(void* owner, void* old, std::size_t oldSize, std::size_t size) {
    auto& engine = *static_cast<Engine*>(owner);
    const std::size_t had = old != nullptr ? oldSize : 0;  // of a new piece it is its type
    if (size == 0) {
        engine.memory -= had;
        std::free(old);
        return nullptr;
    }
    const bool isText = old == nullptr && oldSize == LUA_TSTRING;
    const bool tooLarge = size > (isText ? kLongestText + 64 : kLargestPiece);
    if (size > had && (tooLarge || engine.memory - had + size > engine.settings.limits.memoryBytes)) {
        engine.overMemory = true;
        return nullptr;
    }
    void* piece = std::realloc(old, size);
    if (piece == nullptr) return size <= had ? old : nullptr;  // shrinking must not fail
    engine.memory += size - had;
    engine.instructions += size / 64;  // what fills it takes as long
    return piece;
}

/// Once the budget is used up it strikes at every instruction: no pcall keeps a script alive.
void hook(lua_State* L, lua_Debug*);
void endIfOver(lua_State* L) {
    const Engine& engine = engineOf(L);
    if (!engine.over()) return;
    lua_sethook(L, hook, LUA_MASKCOUNT, 1);
    luaL_error(L, engine.cancelled ? "the run was called off" : "the run takes too long: its budget is used up");
}
void hook(lua_State* L, lua_Debug*) {
    Engine& engine = engineOf(L);
    engine.spend(engine.over() ? 1 : kHookEvery);
    endIfOver(L);
}

/// Is the metatable of what lies at `index` the one kept under `key`?
bool isOf(lua_State* L, int index, const void* key) {
    if (lua_getmetatable(L, index) == 0) return false;
    lua_rawgetp(L, LUA_REGISTRYINDEX, key);
    const bool same = lua_rawequal(L, -1, -2) != 0;
    lua_settop(L, -3);
    return same;
}
bool readNumbers(lua_State* L, int index, double* numbers, int count) {
    for (int i = 0; i < count; ++i) {
        const bool is = lua_rawgeti(L, index, i + 1) == LUA_TNUMBER;
        if (is) numbers[i] = lua_tonumber(L, -1);
        lua_settop(L, -2);
        if (!is) return false;
    }
    return true;
}
bool readVec(lua_State* L, int index, base::Vec3& out) {
    double n[3];
    if (lua_type(L, index) != LUA_TTABLE || !isOf(L, index, &kVec) || !readNumbers(L, index, n, 3)) return false;
    out = {n[0], n[1], n[2]};
    return true;
}

/// A vector, a turn, or a list of objects, of texts or of vectors.
bool readTable(lua_State* L, int index, Datum& out) {
    if (lua_checkstack(L, 8) == 0) return false;
    if (base::Vec3 v; readVec(L, index, v)) {
        out = v;
        return true;
    }
    if (double n[4]; isOf(L, index, &kTurn)) {
        if (!readNumbers(L, index, n, 4)) return false;
        out = base::Quat(n[3], n[0], n[1], n[2]);
        return true;
    }
    const auto count = static_cast<lua_Integer>(lua_rawlen(L, index));
    Objects ids;
    std::vector<std::string> texts;
    std::vector<base::Vec3> points;
    for (lua_Integer i = 1; i <= count; ++i) {
        const int type = lua_rawgeti(L, index, i);
        bool fits = true;
        if (type == LUA_TLIGHTUSERDATA) {
            ids.push_back({reinterpret_cast<std::uintptr_t>(lua_touserdata(L, -1))});
        } else if (type == LUA_TSTRING) {
            std::size_t length = 0;
            const char* text = lua_tolstring(L, -1, &length);
            if (!base::isValidUtf8({text, length})) throw Trouble{"a text that is no UTF-8 is of no use here", false};
            engineOf(L).textBytes += length;
            texts.emplace_back(text, length);
        } else {
            base::Vec3 v;
            fits = readVec(L, lua_gettop(L), v);
            points.push_back(v);
        }
        lua_settop(L, -2);
        if (!fits) return false;
    }
    const auto all = static_cast<std::size_t>(count);
    if (ids.size() == all)
        out = std::move(ids);
    else if (texts.size() == all)
        out = std::move(texts);
    else if (points.size() == all)
        out = std::move(points);
    else
        return false;
    return true;
}

/// A value of Lua's as one of ours, without anything that could raise in Lua. Throws Trouble for a text that is no
/// UTF-8. False: it is none a function takes.
bool read(lua_State* L, int index, Datum& out) {
    Engine& engine = engineOf(L);
    switch (lua_type(L, index)) {
        case LUA_TNIL:
        case LUA_TNONE: out = Nothing{}; return true;
        case LUA_TBOOLEAN: out = lua_toboolean(L, index) != 0; return true;
        case LUA_TNUMBER: out = lua_tonumber(L, index); return true;
        case LUA_TSTRING: {
            std::size_t length = 0;
            const char* text = lua_tolstring(L, index, &length);
            if (!base::isValidUtf8({text, length})) throw Trouble{"a text that is no UTF-8 is of no use here", false};
            engine.textBytes += length;
            out = std::string(text, length);
            return true;
        }
        case LUA_TLIGHTUSERDATA:
            out = base::ObjectId{reinterpret_cast<std::uintptr_t>(lua_touserdata(L, index))};
            return true;
        case LUA_TTABLE: return readTable(L, index, out);
        default: return false;
    }
}

/// What a call may write weighs as much as its texts, once for each object it is given: that counts as memory, although
/// it is the scene's.
void weigh(Engine& engine) {
    std::size_t objects = 1;
    for (const Datum& datum : engine.in)
        if (const auto* list = std::get_if<Objects>(&datum)) objects = std::max(objects, list->size());
    engine.written += engine.textBytes * objects;
    if (engine.written <= engine.settings.limits.writtenBytes) return;
    engine.overMemory = true;
    trouble(fmt::format("a script may write at most {} MB of text", engine.settings.limits.writtenBytes >> 20));
}

/// Calls a binding with what is on the stack. True: results wait in `out`; else the message does.
bool callBinding(lua_State* L, const Binding& binding) {
    Engine& engine = engineOf(L);
    try {
        engine.in.clear();
        engine.textBytes = 0;
        const int count = lua_gettop(L);
        if (count > 200) throw Trouble{"too many arguments", false};
        for (int i = 1; i <= count; ++i) {
            Datum datum;
            if (!read(L, i, datum))
                throw Trouble{fmt::format("argument {} is of no use here: {}", i, lua_typename(L, lua_type(L, i))),
                              false};
            engine.in.push_back(std::move(datum));
        }
        if (binding.onObject && (engine.in.empty() || !std::holds_alternative<base::ObjectId>(engine.in[0])))
            throw Trouble{fmt::format("write object:{}(…), with a colon", binding.about.name), false};
        weigh(engine);
        if (binding.needs == Binding::Needs::Scene) engine.context.flush();
        engine.context.method = binding.onObject;
        engine.out = binding.call(engine.context, engine.in);
        return true;
    } catch (const Trouble& trouble) {
        engine.message = fmt::format("{}: {}", binding.about.name, trouble.message);
        engine.refusal = trouble.refused ? engine.message : std::string();
    } catch (const std::exception& problem) {
        engine.message = fmt::format("{}: {}", binding.about.name, problem.what());
    }
    return false;
}

void pushNumbers(lua_State* L, const double* numbers, int count, const void* metatable) {
    lua_createtable(L, count, 0);
    for (int i = 0; i < count; ++i) {
        lua_pushnumber(L, numbers[i]);
        lua_rawseti(L, -2, i + 1);
    }
    lua_rawgetp(L, LUA_REGISTRYINDEX, metatable);
    lua_setmetatable(L, -2);
}
void pushNumber(lua_State* L, double n) {
    if (n == std::floor(n) && std::abs(n) < 1e15)
        lua_pushinteger(L, static_cast<lua_Integer>(n));  // “Post 3”, not “Post 3.0”
    else
        lua_pushnumber(L, n);
}
void push(lua_State* L, const Datum& datum);
template <class T>
void pushList(lua_State* L, const std::vector<T>& list) {
    lua_createtable(L, static_cast<int>(list.size()), 0);
    for (std::size_t i = 0; i < list.size(); ++i) {
        if constexpr (std::is_same_v<T, base::ObjectId>)
            lua_pushlightuserdata(L, reinterpret_cast<void*>(static_cast<std::uintptr_t>(list[i].value)));
        else if constexpr (std::is_same_v<T, std::string>)
            lua_pushlstring(L, list[i].data(), list[i].size());
        else
            pushNumbers(L, &list[i].x, 3, &kVec);
        lua_rawseti(L, -2, static_cast<lua_Integer>(i) + 1);
    }
}
void push(lua_State* L, const Datum& datum) {
    if (const auto* b = std::get_if<bool>(&datum)) return lua_pushboolean(L, *b ? 1 : 0);
    if (const auto* n = std::get_if<double>(&datum)) return pushNumber(L, *n);
    if (const auto* t = std::get_if<std::string>(&datum)) return (void)lua_pushlstring(L, t->data(), t->size());
    if (const auto* o = std::get_if<base::ObjectId>(&datum)) {
        if (!*o) return lua_pushnil(L);
        return lua_pushlightuserdata(L, reinterpret_cast<void*>(static_cast<std::uintptr_t>(o->value)));
    }
    if (const auto* v = std::get_if<base::Vec3>(&datum)) return pushNumbers(L, &v->x, 3, &kVec);
    if (const auto* q = std::get_if<base::Quat>(&datum)) {
        const double n[4] = {q->x, q->y, q->z, q->w};
        return pushNumbers(L, n, 4, &kTurn);
    }
    if (const auto* list = std::get_if<Objects>(&datum)) return pushList(L, *list);
    if (const auto* list = std::get_if<std::vector<std::string>>(&datum)) return pushList(L, *list);
    if (const auto* list = std::get_if<std::vector<base::Vec3>>(&datum)) return pushList(L, *list);
    lua_pushnil(L);
}

/// The line of the script's own file that is running: that of the innermost function in it.
int lineIn(lua_State* L, const std::string& name) {
    lua_Debug at;
    for (int level = 0; level < 40 && lua_getstack(L, level, &at) != 0; ++level) {
        lua_getinfo(L, "Sl", &at);
        if (at.source[0] == '@' && name == at.source + 1 && at.currentline > 0) return at.currentline;
    }
    return 0;
}

int trampoline(lua_State* L) {
    const auto* binding = static_cast<const Binding*>(lua_touserdata(L, lua_upvalueindex(1)));
    Engine& engine = engineOf(L);
    charge(L, 20);  // it takes as long as so many instructions
    if (binding->needs == Binding::Needs::Nothing) engine.context.line = lineIn(L, engine.source.name);
    if (!callBinding(L, *binding)) {
        endIfOver(L);
        luaL_where(L, 1);
        lua_pushlstring(L, engine.message.data(), engine.message.size());
        lua_concat(L, 2);
        return lua_error(L);
    }
    endIfOver(L);  // what it did has counted
    lua_settop(L, 0);
    luaL_checkstack(L, static_cast<int>(engine.out.size()) + 4, "too many results");
    for (const Datum& datum : engine.out) push(L, datum);
    return static_cast<int>(engine.out.size());
}

/// Fetches a module's text into the engine; false: there is none.
bool fetchModule(Engine& engine, const char* name) {
    try {
        const std::string wanted(name);
        const bool plain = !wanted.empty() && wanted.size() < 100 &&
                           wanted.find_first_not_of(
                               "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789_-") == std::string::npos;
        auto text = plain && engine.source.module ? engine.source.module(wanted) : std::nullopt;
        engine.message = text.value_or("");
        return text.has_value();
    } catch (const std::exception&) {
        return false;
    }
}

int require(lua_State* L) {
    const char* name = luaL_checkstring(L, 1);
    lua_pushvalue(L, lua_upvalueindex(1));
    if (lua_getfield(L, -1, name) != LUA_TNIL) return 1;
    lua_settop(L, 2);
    Engine& engine = engineOf(L);
    if (!fetchModule(engine, name)) return luaL_error(L, "there is no module “%s” among the project's scripts", name);
    lua_pushfstring(L, "@%s.lua", name);
    if (luaL_loadbufferx(L, engine.message.data(), engine.message.size(), lua_tostring(L, -1), "t") != LUA_OK)
        return lua_error(L);
    lua_call(L, 0, 1);
    if (lua_isnil(L, -1)) lua_pushboolean(L, 1);
    lua_pushvalue(L, -1);
    lua_setfield(L, 2, name);
    return 1;
}

int chain(lua_State* L) {
    if (Engine& engine = engineOf(L); engine.line == 0) engine.line = lineIn(L, engine.source.name);
    const char* text = lua_tostring(L, 1);
    luaL_traceback(L, L, text != nullptr ? text : "an error that is no text", 1);
    return 1;
}

int shownAs(lua_State* L) {
    lua_getfield(L, lua_upvalueindex(1), "label");
    lua_pushvalue(L, 1);
    lua_call(L, 1, 1);
    return 1;
}

void pushBinding(lua_State* L, const Binding& binding) {
    lua_pushlightuserdata(L, const_cast<Binding*>(&binding));
    lua_pushcclosure(L, trampoline, 1);
}

void openBindings(lua_State* L) {
    lua_pushlightuserdata(L, nullptr);  // objects are light: one table of methods for all of them
    lua_newtable(L);
    lua_newtable(L);
    for (const Binding& binding : bindings()) {
        pushBinding(L, binding);
        if (binding.onObject)
            lua_setfield(L, -2, binding.about.name.c_str());
        else
            lua_setglobal(L, binding.about.name.c_str());
    }
    lua_pushvalue(L, -1);
    lua_pushcclosure(L, shownAs, 1);
    lua_setfield(L, -3, "__tostring");
    lua_setfield(L, -2, "__index");
    lua_pushboolean(L, 0);
    lua_setfield(L, -2, "__metatable");
    lua_setmetatable(L, -2);
    lua_settop(L, 0);
    lua_getglobal(L, "say");
    lua_setglobal(L, "print");
}

void openPrelude(lua_State* L) {
    if (luaL_loadbufferx(L, kPrelude, std::strlen(kPrelude), "=mellow", "t") != LUA_OK) lua_error(L);
    lua_newtable(L);
    for (const Binding& binding : primitives()) {
        pushBinding(L, binding);
        lua_setfield(L, -2, binding.about.name.c_str());
    }
    lua_call(L, 1, 3);
    lua_rawsetp(L, LUA_REGISTRYINDEX, &kAsk);
    lua_rawsetp(L, LUA_REGISTRYINDEX, &kTurn);
    lua_rawsetp(L, LUA_REGISTRYINDEX, &kVec);
}

}  // namespace

Engine& engineOf(lua_State* L) {
    return **static_cast<Engine**>(lua_getextraspace(L));
}

void charge(lua_State* L, double work) {
    engineOf(L).spend(static_cast<std::uint64_t>(work));
    endIfOver(L);
}

lua_State* newState(Engine& engine) {
    lua_State* L = lua_newstate(allocate, &engine);
    if (L != nullptr) *static_cast<Engine**>(lua_getextraspace(L)) = &engine;
    return L;
}

int start(lua_State* L) {
    Engine& engine = engineOf(L);
    openLibrary(L);
    lua_newtable(L);
    lua_pushcclosure(L, require, 1);
    lua_setglobal(L, "require");
    openBindings(L);
    openPrelude(L);
    lua_sethook(L, hook, LUA_MASKCOUNT, kHookEvery);
    lua_pushcfunction(L, chain);
    lua_pushfstring(L, "@%s", engine.source.name.c_str());
    const int loaded =
        luaL_loadbufferx(L, engine.source.text.data(), engine.source.text.size(), lua_tostring(L, -1), "t");
    lua_remove(L, 2);
    if (loaded != LUA_OK) return lua_error(L);
    if (lua_pcall(L, 0, 0, 1) != LUA_OK) return lua_error(L);
    return 0;
}

int askIt(lua_State* L) {
    Engine& engine = engineOf(L);
    lua_sethook(L, hook, LUA_MASKCOUNT, kHookEvery);
    lua_pushcfunction(L, chain);
    lua_rawgetp(L, LUA_REGISTRYINDEX, &kAsk);
    luaL_checkstack(L, static_cast<int>(engine.in.size()) + 4, "too many arguments");
    for (const Datum& datum : engine.in) push(L, datum);
    if (lua_pcall(L, static_cast<int>(engine.in.size()), 1, 1) != LUA_OK) return lua_error(L);
    return 1;
}

}  // namespace script
