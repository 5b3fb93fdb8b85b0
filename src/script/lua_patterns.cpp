// Lua's patterns (reference manual 6.4.1), matched by code of our own that counts every step: one that backtracks for
// ages ends with the run's budget.
#include <cctype>
#include <cstring>
#include <lua.hpp>

#include "script/lua_library.h"

// Raising leaves by longjmp: nothing here owns memory.
namespace script {
namespace {

constexpr int kMostCaptures = 32, kDeepest = 200;
constexpr std::ptrdiff_t kOpen = -1, kPosition = -2;
constexpr unsigned kEvery = 1024;  // steps between two looks at the budget

struct Capture {
    const char* at = nullptr;
    std::ptrdiff_t length = 0;  // or kOpen, kPosition
};

class Matcher {
  public:
    Matcher(lua_State* state, const char* text, std::size_t size, const char* patternEnd)
        : L(state), text_(text), end_(text + size), patternEnd_(patternEnd) {}

    /// Where a match of the pattern at `p` that begins at `s` ends; null: there is none.
    const char* from(const char* s, const char* p) {
        level_ = 0;
        deep_ = 0;
        return match(s, p);
    }
    /// Pushes the captures, or the whole match when there are none; gives how many.
    int pushCaptures(const char* s, const char* e) {
        const int count = level_ == 0 && s != nullptr ? 1 : level_;
        luaL_checkstack(L, count, "too many captures");
        for (int i = 0; i < count; ++i) pushCapture(i, s, e);
        return count;
    }
    void pushCapture(int i, const char* s, const char* e) {
        if (i >= level_) {
            if (i != 0) luaL_error(L, "invalid capture index %%%d", i + 1);
            lua_pushlstring(L, s, static_cast<std::size_t>(e - s));
            return;
        }
        const Capture& c = captures_[i];
        if (c.length == kOpen) luaL_error(L, "unfinished capture");
        if (c.length == kPosition)
            lua_pushinteger(L, (c.at - text_) + 1);
        else
            lua_pushlstring(L, c.at, static_cast<std::size_t>(c.length));
    }
    int level() const { return level_; }

  private:
    void step() {
        if (++steps_ % kEvery == 0) charge(L, kEvery * 2);
    }
    static int byte(char c) { return static_cast<unsigned char>(c); }

    static bool inClass(int c, int letter) {
        bool is = false;
        switch (std::tolower(letter)) {
            case 'a': is = std::isalpha(c) != 0; break;
            case 'c': is = std::iscntrl(c) != 0; break;
            case 'd': is = std::isdigit(c) != 0; break;
            case 'g': is = std::isgraph(c) != 0; break;
            case 'l': is = std::islower(c) != 0; break;
            case 'p': is = std::ispunct(c) != 0; break;
            case 's': is = std::isspace(c) != 0; break;
            case 'u': is = std::isupper(c) != 0; break;
            case 'w': is = std::isalnum(c) != 0; break;
            case 'x': is = std::isxdigit(c) != 0; break;
            default: return letter == c;
        }
        return std::isupper(letter) != 0 ? !is : is;
    }
    /// One past the single-character class that begins at `p`.
    const char* classEnd(const char* p) {
        if (*p == '%') {
            if (p + 1 == patternEnd_) luaL_error(L, "malformed pattern (ends with '%%')");
            return p + 2;
        }
        if (*p++ != '[') return p;
        if (p != patternEnd_ && *p == '^') ++p;
        do {  // a ] right here stands for itself
            if (p == patternEnd_) luaL_error(L, "malformed pattern (missing ']')");
            step();
            if (*p++ == '%' && p != patternEnd_) ++p;
        } while (p == patternEnd_ || *p != ']');
        return p + 1;
    }
    /// Is `c` in the set from [ to its ]?
    bool inSet(int c, const char* set, const char* last) {
        bool is = true;
        if (set[1] == '^') {
            is = false;
            ++set;
        }
        while (++set < last) {
            step();
            if (*set == '%') {
                ++set;
                if (inClass(c, byte(*set))) return is;
            } else if (set[1] == '-' && set + 2 < last) {
                set += 2;
                if (byte(set[-2]) <= c && c <= byte(*set)) return is;
            } else if (byte(*set) == c) {
                return is;
            }
        }
        return !is;
    }
    bool single(const char* s, const char* p, const char* after) {
        if (s >= end_) return false;
        step();
        switch (*p) {
            case '.': return true;
            case '%': return inClass(byte(*s), byte(p[1]));
            case '[': return inSet(byte(*s), p, after - 1);
            default: return *p == *s;
        }
    }
    /// %bxy
    const char* balance(const char* s, const char* p) {
        if (p >= patternEnd_ - 1) luaL_error(L, "malformed pattern (missing arguments to '%%b')");
        if (s == end_ || *s != p[0]) return nullptr;
        int open = 1;
        while (++s < end_) {
            step();
            if (*s == p[1]) {
                if (--open == 0) return s + 1;
            } else if (*s == p[0]) {
                ++open;
            }
        }
        return nullptr;
    }
    const char* longest(const char* s, const char* p, const char* after) {
        std::ptrdiff_t count = 0;
        while (single(s + count, p, after)) ++count;
        for (; count >= 0; --count) {
            step();
            if (const char* e = match(s + count, after + 1); e != nullptr) return e;
        }
        return nullptr;
    }
    const char* shortest(const char* s, const char* p, const char* after) {
        for (;; ++s) {
            if (const char* e = match(s, after + 1); e != nullptr) return e;
            if (!single(s, p, after)) return nullptr;
        }
    }
    const char* begin(const char* s, const char* p, std::ptrdiff_t what) {
        if (level_ >= kMostCaptures) luaL_error(L, "too many captures");
        captures_[level_++] = {s, what};
        const char* e = match(s, p);
        if (e == nullptr) --level_;
        return e;
    }
    const char* finish(const char* s, const char* p) {
        int open = level_ - 1;
        while (open >= 0 && captures_[open].length != kOpen) --open;
        if (open < 0) luaL_error(L, "invalid pattern capture");
        captures_[open].length = s - captures_[open].at;
        const char* e = match(s, p);
        if (e == nullptr) captures_[open].length = kOpen;
        return e;
    }
    /// %1 to %9
    const char* again(const char* s, int digit) {
        const int i = digit - '1';
        if (i < 0 || i >= level_ || captures_[i].length == kOpen) luaL_error(L, "invalid capture index %%%d", i + 1);
        const auto length = captures_[i].length;
        if (length < 0 || end_ - s < length) return nullptr;
        charge(L, 1 + static_cast<double>(length) / 16);
        return std::memcmp(captures_[i].at, s, static_cast<std::size_t>(length)) == 0 ? s + length : nullptr;
    }
    /// %f[set]
    bool atFrontier(const char* s, const char*& p) {
        if (p == patternEnd_ || *p != '[') luaL_error(L, "missing '[' after '%%f' in pattern");
        const char* after = classEnd(p);
        const int before = s == text_ ? 0 : byte(s[-1]), here = s == end_ ? 0 : byte(*s);
        const bool is = !inSet(before, p, after - 1) && inSet(here, p, after - 1);
        p = after;
        return is;
    }

    const char* match(const char* s, const char* p) {
        if (++deep_ > kDeepest) luaL_error(L, "pattern too complex");
        const char* e = go(s, p);
        --deep_;
        return e;
    }
    const char* go(const char* s, const char* p) {
        while (p != patternEnd_) {
            step();
            if (*p == '(')
                return p + 1 != patternEnd_ && p[1] == ')' ? begin(s, p + 2, kPosition) : begin(s, p + 1, kOpen);
            if (*p == ')') return finish(s, p + 1);
            if (*p == '$' && p + 1 == patternEnd_) return s == end_ ? s : nullptr;
            if (*p == '%' && p + 1 != patternEnd_) {
                if (p[1] == 'b') {
                    s = balance(s, p + 2);
                    if (s == nullptr) return nullptr;
                    p += 4;
                    continue;
                }
                if (p[1] == 'f') {
                    p += 2;
                    if (!atFrontier(s, p)) return nullptr;
                    continue;
                }
                if (std::isdigit(byte(p[1])) != 0) {
                    s = again(s, byte(p[1]));
                    if (s == nullptr) return nullptr;
                    p += 2;
                    continue;
                }
            }
            const char* after = classEnd(p);
            const char mark = after != patternEnd_ ? *after : '\0';
            if (mark == '*') return longest(s, p, after);
            if (mark == '-') return shortest(s, p, after);
            const bool fits = single(s, p, after);
            if (mark == '+') return fits ? longest(s + 1, p, after) : nullptr;
            if (mark == '?') {
                if (fits)
                    if (const char* e = match(s + 1, after + 1); e != nullptr) return e;
                p = after + 1;
                continue;
            }
            if (!fits) return nullptr;
            ++s;
            p = after;
        }
        return s;
    }

    lua_State* L;
    const char *text_, *end_, *patternEnd_;
    Capture captures_[kMostCaptures];
    int level_ = 0, deep_ = 0;
    unsigned steps_ = 0;
};

struct Text {
    const char* at;
    std::size_t size;
};
Text textAt(lua_State* L, int index) {
    Text t{};
    t.at = luaL_checklstring(L, index, &t.size);
    return t;
}

/// A place in a text, from 1; negative from its end.
std::size_t startOf(lua_State* L, int index, std::size_t size) {
    const lua_Integer i = luaL_optinteger(L, index, 1);
    if (i > 0) return static_cast<std::size_t>(i) - 1;
    if (i == 0 || i < -static_cast<lua_Integer>(size)) return 0;
    return size - static_cast<std::size_t>(-i);
}

int findOrMatch(lua_State* L, bool find) {
    const Text s = textAt(L, 1), p = textAt(L, 2);
    charge(L, static_cast<double>(s.size + p.size) / 64);
    const std::size_t from = startOf(L, 3, s.size);
    if (from > s.size) return lua_pushnil(L), 1;
    if (find && (lua_toboolean(L, 4) != 0 || std::strpbrk(p.at, "^$*+?.([%-") == nullptr)) {
        const void* found = memmem(s.at + from, s.size - from, p.at, p.size);
        if (found == nullptr) return lua_pushnil(L), 1;
        const auto at = static_cast<const char*>(found) - s.at;
        lua_pushinteger(L, at + 1);
        lua_pushinteger(L, at + static_cast<std::ptrdiff_t>(p.size));
        return 2;
    }
    const bool anchored = p.size > 0 && *p.at == '^';
    Matcher matcher(L, s.at, s.size, p.at + p.size);
    for (const char* at = s.at + from; at <= s.at + s.size; ++at) {
        if (const char* e = matcher.from(at, p.at + (anchored ? 1 : 0)); e != nullptr) {
            if (!find) return matcher.pushCaptures(at, e);
            lua_pushinteger(L, (at - s.at) + 1);
            lua_pushinteger(L, e - s.at);
            return matcher.pushCaptures(nullptr, nullptr) + 2;
        }
        if (anchored) break;
    }
    return lua_pushnil(L), 1;
}
int stringFind(lua_State* L) {
    return findOrMatch(L, true);
}
int stringMatch(lua_State* L) {
    return findOrMatch(L, false);
}

/// Upvalues: text, pattern, where to go on, where the last match ended (-1: there was none).
int nextMatch(lua_State* L) {
    const Text s{lua_tostring(L, lua_upvalueindex(1)), lua_rawlen(L, lua_upvalueindex(1))};
    const Text p{lua_tostring(L, lua_upvalueindex(2)), lua_rawlen(L, lua_upvalueindex(2))};
    const auto last = lua_tointeger(L, lua_upvalueindex(4));
    Matcher matcher(L, s.at, s.size, p.at + p.size);
    for (auto at = lua_tointeger(L, lua_upvalueindex(3)); at <= static_cast<lua_Integer>(s.size); ++at) {
        const char* e = matcher.from(s.at + at, p.at);
        if (e == nullptr || e - s.at == last) continue;
        lua_pushinteger(L, e - s.at);
        lua_copy(L, -1, lua_upvalueindex(3));
        lua_replace(L, lua_upvalueindex(4));
        return matcher.pushCaptures(s.at + at, e);
    }
    return 0;
}
int stringGmatch(lua_State* L) {
    const Text s = textAt(L, 1);
    (void)textAt(L, 2);
    const std::size_t from = startOf(L, 3, s.size);
    lua_settop(L, 2);
    lua_pushinteger(L, static_cast<lua_Integer>(from > s.size ? s.size + 1 : from));
    lua_pushinteger(L, -1);
    lua_pushcclosure(L, nextMatch, 4);
    return 1;
}

/// What a match is replaced by, appended. True: it is something else than the match.
bool appendReplacement(lua_State* L, Matcher& matcher, luaL_Buffer& out, const char* s, const char* e, int type) {
    if (type == LUA_TFUNCTION) {
        lua_pushvalue(L, 3);
        const int n = matcher.pushCaptures(s, e);
        lua_call(L, n, 1);
    } else if (type == LUA_TTABLE) {
        matcher.pushCapture(0, s, e);
        lua_gettable(L, 3);
    } else {
        std::size_t size = 0;
        const char* with = lua_tolstring(L, 3, &size);
        charge(L, 1 + static_cast<double>(size) / 8);
        for (std::size_t i = 0; i < size; ++i) {
            if (with[i] != '%') {
                luaL_addchar(&out, with[i]);
                continue;
            }
            const int c = ++i < size ? static_cast<unsigned char>(with[i]) : 0;
            if (c == '%') {
                luaL_addchar(&out, '%');
            } else if (c == '0') {
                luaL_addlstring(&out, s, static_cast<std::size_t>(e - s));
            } else if (std::isdigit(c) != 0) {
                matcher.pushCapture(c - '1', s, e);
                luaL_tolstring(L, -1, nullptr);
                lua_remove(L, -2);
                luaL_addvalue(&out);
            } else {
                luaL_error(L, "invalid use of '%%' in replacement string");
            }
        }
        return true;
    }
    if (lua_toboolean(L, -1) == 0) {
        lua_pop(L, 1);
        luaL_addlstring(&out, s, static_cast<std::size_t>(e - s));
        return false;
    }
    if (lua_isstring(L, -1) == 0) luaL_error(L, "invalid replacement value (a %s)", luaL_typename(L, -1));
    luaL_addvalue(&out);
    return true;
}

int stringGsub(lua_State* L) {
    const Text s = textAt(L, 1), p = textAt(L, 2);
    const int type = lua_type(L, 3);
    luaL_argexpected(L, type == LUA_TNUMBER || type == LUA_TSTRING || type == LUA_TFUNCTION || type == LUA_TTABLE, 3,
                     "string/function/table");
    const lua_Integer most = luaL_optinteger(L, 4, static_cast<lua_Integer>(s.size) + 1);
    const bool anchored = p.size > 0 && *p.at == '^';
    charge(L, static_cast<double>(s.size + p.size) / 16);
    Matcher matcher(L, s.at, s.size, p.at + p.size);
    luaL_Buffer out;
    luaL_buffinit(L, &out);
    const char *at = s.at, *last = nullptr, *const end = s.at + s.size;
    lua_Integer count = 0;
    while (count < most) {
        const char* e = matcher.from(at, p.at + (anchored ? 1 : 0));
        if (e != nullptr && e != last) {
            ++count;
            charge(L, 4);
            (void)appendReplacement(L, matcher, out, at, e, type);
            at = last = e;
        } else if (at < end) {
            luaL_addchar(&out, *at++);
        } else {
            break;
        }
        if (anchored) break;
    }
    luaL_addlstring(&out, at, static_cast<std::size_t>(end - at));
    luaL_pushresult(&out);
    lua_pushinteger(L, count);
    return 2;
}

}  // namespace

void openPatterns(lua_State* L) {
    const luaL_Reg all[] = {{"find", stringFind},
                            {"match", stringMatch},
                            {"gmatch", stringGmatch},
                            {"gsub", stringGsub},
                            {nullptr, nullptr}};
    lua_getglobal(L, "string");
    luaL_setfuncs(L, all, 0);
    lua_settop(L, -2);
}

}  // namespace script
