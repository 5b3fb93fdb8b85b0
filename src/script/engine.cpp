#include "script/engine.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdlib>
#include <cstring>
#include <lua.hpp>

#include "script/bindings.h"
#include "script/prelude.h"

// Lua leaves functions by longjmp, past destructors. So nothing here that owns memory is alive on the C++ stack while a
// function of Lua's may raise: arguments are read with what cannot raise, calls are made in a function of their own
// that throws and catches, and results wait in the engine until they are pushed.
namespace script {

namespace {

constexpr std::size_t kLongestText = std::size_t{16} << 20;
constexpr int kHookEvery = 1000;
constexpr double kPatternWork = 2e7;

const char kVec = 0, kTurn = 0, kAsk = 0;  // their places in Lua's registry

struct Engine {
    Engine(const Source& from, const Settings& with, const Place* place)
        : context(with, place), source(from), settings(with) {}
    Context context;
    const Source& source;
    const Settings& settings;
    std::size_t memory = 0;
    std::uint64_t instructions = 0;
    bool overBudget = false, cancelled = false, refused = false, overMemory = false;
    Data in, out;
    std::string message;
    int line = 0;  // where the error was, in the script's own file
    using Clock = std::chrono::steady_clock;
    Clock::time_point began = Clock::now(), asked = began;

    std::uint64_t nextLook = 0;  // at the clock, and at who may call it off

    void spend(std::uint64_t work) {
        instructions += work;
        overBudget = overBudget || instructions > settings.limits.instructions;
        if (instructions < nextLook) return;
        nextLook = instructions + kHookEvery;
        cancelled = cancelled || (settings.cancel != nullptr && *settings.cancel);
        const auto now = Clock::now();
        if (settings.pulse && now - asked > std::chrono::milliseconds(100)) {
            cancelled = !settings.pulse(context.share, context.doing) || cancelled;
            asked = Clock::now();
            began += asked - now;  // what showing it took is not the script's
        }
        overBudget = overBudget || std::chrono::duration<double>(now - began).count() > settings.limits.seconds;
    }
    bool over() const { return cancelled || overBudget; }
};

Engine& engineOf(lua_State* L) {
    return **static_cast<Engine**>(lua_getextraspace(L));
}

void* allocate(void* owner, void* old, std::size_t oldSize, std::size_t size) {
    auto& engine = *static_cast<Engine*>(owner);
    const std::size_t had = old != nullptr ? oldSize : 0;  // of a new piece it is its type
    if (size == 0) {
        engine.memory -= had;
        std::free(old);
        return nullptr;
    }
    if (size > had && engine.memory - had + size > engine.settings.limits.memoryBytes) {
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
/// For functions that do much in one instruction.
void charge(lua_State* L, double work) {
    engineOf(L).spend(static_cast<std::uint64_t>(work));
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

/// A value of Lua's as one of ours, without anything that could raise. False: it is none a function takes.
bool read(lua_State* L, int index, Datum& out) {
    switch (lua_type(L, index)) {
        case LUA_TNIL:
        case LUA_TNONE: out = Nothing{}; return true;
        case LUA_TBOOLEAN: out = lua_toboolean(L, index) != 0; return true;
        case LUA_TNUMBER: out = lua_tonumber(L, index); return true;
        case LUA_TSTRING: {
            std::size_t length = 0;
            const char* text = lua_tolstring(L, index, &length);
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

/// Calls a binding with what is on the stack. True: results wait in `out`; else the message does.
bool callBinding(lua_State* L, const Binding& binding) {
    Engine& engine = engineOf(L);
    try {
        engine.in.clear();
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
        if (binding.needs == Binding::Needs::Scene) engine.context.flush();
        engine.context.method = binding.onObject;
        engine.out = binding.call(engine.context, engine.in);
        return true;
    } catch (const Trouble& trouble) {
        engine.refused = trouble.refused;
        engine.message = fmt::format("{}: {}", binding.about.name, trouble.message);
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
        luaL_where(L, 1);
        lua_pushlstring(L, engine.message.data(), engine.message.size());
        lua_concat(L, 2);
        return lua_error(L);
    }
    lua_settop(L, 0);
    luaL_checkstack(L, static_cast<int>(engine.out.size()) + 4, "too many results");
    for (const Datum& datum : engine.out) push(L, datum);
    return static_cast<int>(engine.out.size());
}

/// What a wrapped function has as its upvalue, called with all the arguments.
int original(lua_State* L) {
    const int count = lua_gettop(L);
    lua_pushvalue(L, lua_upvalueindex(1));
    lua_insert(L, 1);
    lua_call(L, count, LUA_MULTRET);
    return lua_gettop(L);
}

/// string.find and its like: what could backtrack for ages is refused. Upvalue: the original.
int boundedPattern(lua_State* L) {
    std::size_t subject = 0, length = 0;
    const char* text = lua_type(L, 1) == LUA_TSTRING ? lua_tolstring(L, 1, &subject) : nullptr;
    const char* pattern = lua_type(L, 2) == LUA_TSTRING ? lua_tolstring(L, 2, &length) : nullptr;
    if (text != nullptr && pattern != nullptr) {
        double work = 1;
        for (std::size_t i = 0; i < length; ++i) {
            if (pattern[i] == '%') {
                ++i;
            } else if (std::strchr("*+-?", pattern[i]) != nullptr && i > 0) {
                work *= static_cast<double>(subject) + 1;
            }
        }
        if (work > kPatternWork && work > 10.0 * static_cast<double>(subject))
            return luaL_error(L, "this pattern could take too long for a text of %d characters",
                              static_cast<int>(subject));
    }
    charge(L, static_cast<double>(subject + length) / 16);
    return original(L);
}

/// Functions of table, which may go over all of it. Upvalue: the original.
int chargedTable(lua_State* L) {
    if (lua_type(L, 1) == LUA_TTABLE) charge(L, static_cast<double>(lua_rawlen(L, 1)));
    return original(L);
}

int boundedRepeat(lua_State* L) {
    std::size_t length = 0, between = 0;
    luaL_checklstring(L, 1, &length);
    const lua_Integer count = luaL_checkinteger(L, 2);
    luaL_optlstring(L, 3, "", &between);
    if (count > 0 &&
        static_cast<double>(length + between) * static_cast<double>(count) > static_cast<double>(kLongestText))
        return luaL_error(L, "a text of more than 16 MB is too long");
    return original(L);
}

/// Lua's own runs its handler before it leaves the error, and so within the hook, where no budget counts: here it is
/// called afterwards.
int safeProtectedCall(lua_State* L) {
    luaL_checkany(L, 2);
    const int count = lua_gettop(L) - 2;
    lua_pushvalue(L, 1);
    lua_copy(L, 2, 1);  // the handler waits at the bottom, then the function, then its arguments
    lua_replace(L, 2);
    if (lua_pcall(L, count, LUA_MULTRET, 0) == LUA_OK) {
        lua_pushboolean(L, 1);
        lua_replace(L, 1);
        return lua_gettop(L);
    }
    lua_call(L, 1, 1);
    lua_pushboolean(L, 0);
    lua_insert(L, 1);
    return 2;
}

/// A finalizer would run where no budget counts.
int safeSetMetatable(lua_State* L) {
    luaL_checktype(L, 1, LUA_TTABLE);
    if (lua_type(L, 2) == LUA_TTABLE) {
        lua_pushstring(L, "__gc");
        lua_rawget(L, 2);
        if (!lua_isnil(L, -1)) return luaL_error(L, "__gc is not for scripts");
        lua_settop(L, 2);
    }
    lua_settop(L, 2);
    return original(L);
}

/// random and randomseed of math: of our own chance.
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

void wrap(lua_State* L, const char* table, const char* name, lua_CFunction with) {
    lua_getglobal(L, table);
    lua_getfield(L, -1, name);
    lua_pushcclosure(L, with, 1);
    lua_setfield(L, -2, name);
    lua_settop(L, -2);
}

void erase(lua_State* L, const char* table, const char* name) {
    lua_getglobal(L, table);
    lua_pushnil(L);
    lua_setfield(L, -2, name);
    lua_settop(L, -2);
}

void openLibraries(lua_State* L) {
    for (const luaL_Reg& library : {luaL_Reg{"_G", luaopen_base},
                                    {"table", luaopen_table},
                                    {"string", luaopen_string},
                                    {"math", luaopen_math},
                                    {"utf8", luaopen_utf8}}) {
        luaL_requiref(L, library.name, library.func, 1);
        lua_settop(L, -2);
    }
    for (const char* name : {"load", "loadfile", "dofile", "collectgarbage", "warn"}) erase(L, "_G", name);
    erase(L, "string", "dump");
    for (const char* name : {"find", "match", "gmatch", "gsub"}) wrap(L, "string", name, boundedPattern);
    wrap(L, "string", "rep", boundedRepeat);
    for (const char* name : {"insert", "remove", "sort", "concat", "move", "unpack"})
        wrap(L, "table", name, chargedTable);
    lua_pushcfunction(L, safeProtectedCall);
    lua_setglobal(L, "xpcall");
    wrap(L, "_G", "setmetatable", safeSetMetatable);
    lua_getglobal(L, "math");
    lua_pushcfunction(L, mathRandom);
    lua_setfield(L, -2, "random");
    lua_settop(L, -2);
    erase(L, "math", "randomseed");
    lua_newtable(L);
    lua_pushcclosure(L, require, 1);
    lua_setglobal(L, "require");
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

int start(lua_State* L) {
    Engine& engine = engineOf(L);
    openLibraries(L);
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

/// Calls the prelude's asking function with what waits in `in`; one result comes to `out`.
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

/// “name.lua:12: …”: the line, when the message begins with a place in the script's own file.
int lineOf(const std::string& message, const std::string& name) {
    const std::string head = name + ":";
    if (!message.starts_with(head)) return 0;
    return std::atoi(message.c_str() + head.size());
}

}  // namespace

struct Program::Body {
    Body(const Source& s, const Settings& with, const Place* p)
        : source(s),
          settings(with),
          place(p != nullptr ? std::optional(*p) : std::nullopt),
          engine(source, settings, place ? &*place : nullptr) {}
    ~Body() {
        if (L == nullptr) return;
        lua_sethook(L, nullptr, 0, 0);
        lua_close(L);
    }
    Body(const Body&) = delete;
    Body& operator=(const Body&) = delete;

    /// Calls one of ours in protected mode, and says how it went.
    Outcome guarded(lua_CFunction function, int results) {
        Context& c = engine.context;
        c.said.clear();
        c.marks.clear();
        c.handles = 0;
        c.look = {};
        engine.refused = false;
        engine.line = 0;
        Outcome outcome;
        lua_settop(L, 0);
        lua_pushcfunction(L, function);
        std::string message;
        bool fine = lua_pcall(L, 0, results, 0) == LUA_OK;
        if (!fine) {
            const char* text = lua_type(L, -1) == LUA_TSTRING ? lua_tostring(L, -1) : nullptr;
            message = text != nullptr ? text : "an error that is no text";
        } else {
            try {
                c.flush();  // poses that still waited
            } catch (const Trouble& trouble) {
                fine = false;
                engine.refused = trouble.refused;
                message = trouble.message;
            }
        }
        if (!fine) {
            outcome.message = message;
            outcome.ending = engine.cancelled                         ? Ending::Cancelled
                             : engine.overBudget || engine.overMemory ? Ending::Cap
                             : engine.refused                         ? Ending::Refused
                                                                      : Ending::Error;
            outcome.line = lineOf(message, source.name) > 0 ? lineOf(message, source.name) : engine.line;
            if (place && place->draft != nullptr) {
                const model::Scene& scene = place->draft->scene();
                const model::Slot at = scene.find(c.atHand);
                if (at != model::kNoSlot) outcome.message += fmt::format("\nat hand: “{}”", scene.nameText(at));
            }
        }
        outcome.said = c.said;
        outcome.marks = c.marks;
        outcome.instructions = engine.instructions;
        return outcome;
    }

    Source source;
    Settings settings;
    std::optional<Place> place;
    Engine engine;
    lua_State* L = nullptr;
    Outcome read;

    void load(Context::Access access) {
        L = lua_newstate(allocate, &engine);
        if (L == nullptr) {
            read.ending = Ending::Cap;
            read.message = "There is no memory for a script.";
            return;
        }
        *static_cast<Engine**>(lua_getextraspace(L)) = &engine;
        engine.context.setAccess(access);
        read = guarded(start, 0);
        engine.context.setAccess(Context::Access::Open);
    }
};

namespace {

/// The values of a command's fields as pairs of key and value.
void appendForm(const CommandSpec& spec, const model::ValueMap& form, Data& data) {
    for (const model::Property& field : spec.form) {
        const auto given =
            std::find_if(form.begin(), form.end(), [&](const auto& entry) { return entry.first == field.name; });
        data.emplace_back(field.name);
        data.push_back(datumOf(field, given != form.end() ? given->second : model::defaultOf(field)));
    }
}

}  // namespace

Reading declare(const Source& source, const Limits& limits) {
    Settings settings;
    settings.limits = limits;
    Program::Body body(source, settings, nullptr);
    body.load(Context::Access::Closed);
    Reading reading{body.engine.context.declared, body.read, body.engine.context.asked()};
    // One that asks for the scene at once, and has declared nothing, is to be run as it stands.
    if (!body.read.done() && body.engine.context.asked() && reading.declared.plain()) reading.outcome = {};
    return reading;
}

Program::Program(const Source& source, const Settings& settings, const Place& place, bool acts)
    : body_(std::make_unique<Body>(source, settings, &place)) {
    body_->load(acts ? Context::Access::UnlessDeclared : Context::Access::Closed);
}
Program::~Program() = default;

const Outcome& Program::outcome() const {
    return body_->read;
}
const Declared& Program::declared() const {
    return body_->engine.context.declared;
}

Outcome Program::ask(const char* what, const Data& arguments) {
    if (!body_->read.done()) return body_->read;
    Data& in = body_->engine.in;
    in.assign(1, Datum(std::string(what)));
    in.insert(in.end(), arguments.begin(), arguments.end());
    return body_->guarded(askIt, 1);
}

Outcome Program::command(std::size_t index, const model::ValueMap& form) {
    Data data = {static_cast<double>(index + 1)};
    appendForm(declared().commands[index], form, data);
    return ask("run", data);
}
Outcome Program::enabled(std::size_t index, bool& is) {
    Outcome outcome = ask("enabled", {static_cast<double>(index + 1)});
    is = outcome.done() && lua_toboolean(body_->L, -1) != 0;
    return outcome;
}
Outcome Program::marks(std::size_t index, const model::ValueMap& form) {
    Data data = {static_cast<double>(index + 1)};
    appendForm(declared().commands[index], form, data);
    return ask("marks", data);
}

namespace {

Data changeData(std::size_t index, base::ObjectId object, const Program::Before& before) {
    Data data = {static_cast<double>(index + 1), object};
    for (const auto& [key, value] : before) {
        data.emplace_back(key);
        data.push_back(std::holds_alternative<Nothing>(value) ? Datum(false) : value);
    }
    return data;
}

}  // namespace

Outcome Program::allow(std::size_t index, base::ObjectId object, const Before& before, std::string& reason) {
    Outcome outcome = ask("allow", changeData(index, object, before));
    if (outcome.done() && lua_type(body_->L, -1) == LUA_TSTRING) reason = lua_tostring(body_->L, -1);
    return outcome;
}
Outcome Program::changed(std::size_t index, base::ObjectId object, const Before& before) {
    return ask("changed", changeData(index, object, before));
}
Outcome Program::opened(std::size_t index, base::ObjectId object) {
    return ask("opened", {static_cast<double>(index + 1), object});
}
Outcome Program::look(std::size_t index, base::ObjectId object, Look& look) {
    body_->engine.context.atHand = object;
    Outcome outcome = ask("look", {static_cast<double>(index + 1), object});
    look = body_->engine.context.look;
    look.marks = outcome.marks;
    for (Mark& mark : look.marks)
        if (mark.shape == Mark::Shape::Handle) mark.object = object;
    return outcome;
}
Outcome Program::moved(std::size_t handle, base::ObjectId object, const base::Vec3& to) {
    return ask("moved", {static_cast<double>(handle + 1), object, to});
}

namespace {

/// A field's value as it was typed; objects by their id or their name.
base::Result<model::Value> typedField(const model::Scene& scene, const model::Property& field,
                                      const std::string& text) {
    if (field.type == model::PropertyType::Object)
        for (model::Slot s : scene.subtree(model::kNoSlot))
            if (scene.nameText(s) == text) return model::objectLink(scene.id(s));
    return model::parsedValue(field, text);
}

}  // namespace

Outcome failed(Ending ending, std::string message) {
    Outcome outcome;
    outcome.ending = ending;
    outcome.message = std::move(message);
    return outcome;
}

Outcome run(edit::Draft& draft, const Source& source, const Settings& settings) {
    if (!draft.state()) return failed(Ending::Refused, draft.state().error().message);
    const Place place{draft.session(), draft.scene().name(), &draft, {}};
    Program program(source, settings, place, true);
    const auto& commands = program.declared().commands;
    if (!program.outcome().done() || program.declared().plain()) return program.outcome();
    std::string names;
    std::size_t index = commands.size() == 1 && settings.command.empty() ? 0 : commands.size();
    for (std::size_t i = 0; i < commands.size(); ++i) {
        names += (names.empty() ? "" : ", ") + commands[i].name;
        if (commands[i].name == settings.command) index = i;
    }
    if (commands.empty()) return failed(Ending::Error, source.name + " has no command to run.");
    if (index == commands.size())
        return failed(Ending::Error,
                      settings.command.empty()
                          ? fmt::format("{} has several commands; say which: {}.", source.name, names)
                          : fmt::format("{} has no command “{}”; it has: {}.", source.name, settings.command, names));
    model::ValueMap form = settings.form;
    for (const model::Property& field : commands[index].form) {
        const auto typed = settings.args.find(field.name);
        if (typed == settings.args.end()) continue;
        auto value = typedField(draft.scene(), field, typed->second);
        if (!value) return failed(Ending::Error, fmt::format("{}: {}", field.name, value.error().message));
        form.emplace_back(field.name, *value);
    }
    return program.command(index, form);
}

}  // namespace script
