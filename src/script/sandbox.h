#pragma once
// Lua itself, shut in: its memory and instructions counted, what is not for scripts taken away, our functions put in.
// For this room's sources.
#include <chrono>

#include "script/bindings.h"

struct lua_State;

namespace script {

constexpr int kHookEvery = 200;  ///< instructions
constexpr std::size_t kLongestText = std::size_t{2} << 20;

/// What one state of Lua belongs to.
struct Engine {
    Engine(const Source& from, const Settings& with, const Place* place)
        : context(with, place), source(from), settings(with) {}
    Context context;
    const Source& source;
    const Settings& settings;
    std::size_t memory = 0;
    std::uint64_t instructions = 0;
    bool overBudget = false, cancelled = false, overMemory = false;
    std::size_t textBytes = 0, written = 0;  // of the call under way; of all of them, for each object
    std::size_t created = 0;                 // objects
    std::string refusal;                     // what a verb refused last, as a script sees it
    Data in, out;
    std::string message;
    int line = 0;  // where the error was, in the script's own file
    using Clock = std::chrono::steady_clock;
    Clock::time_point began = Clock::now(), asked = began;

    static constexpr std::uint64_t kLookEvery = 1000;
    std::uint64_t nextLook = 0;  // at the clock, and at who may call it off

    void spend(std::uint64_t work) {
        instructions += work;
        overBudget = overBudget || instructions > settings.limits.instructions;
        if (instructions < nextLook) return;
        nextLook = instructions + kLookEvery;
        cancelled = cancelled || (settings.cancel != nullptr && *settings.cancel);
        const auto now = Clock::now();
        if (settings.pulse && now - asked > std::chrono::milliseconds(100)) {
            cancelled = !settings.pulse(context.share, context.doing) || cancelled;
            asked = Clock::now();
            began += asked - now;  // what showing it took is not the script's
        }
        overBudget = overBudget || std::chrono::duration<double>(now - began).count() > settings.limits.seconds;
    }
    /// From here on the whole budget is there again.
    void renew() {
        instructions = nextLook = 0;
        overBudget = cancelled = false;
        began = asked = Clock::now();
    }
    bool over() const { return cancelled || overBudget; }
    /// For the draft: so many rows are to be written, so many objects made. Errors: the run is over.
    base::Status mayWrite(std::size_t rows, std::size_t objects) {
        created += objects;
        if (created > settings.limits.objects) {
            overBudget = true;
            return base::fail(base::ErrorCode::Refused,
                              "a script may make at most " + std::to_string(settings.limits.objects) + " objects");
        }
        spend(20 * rows + 1);
        return over() ? base::fail(base::ErrorCode::Cancelled, "the run is over") : base::Status{};
    }
};

Engine& engineOf(lua_State* L);

/// A state whose memory is the engine's; null: there is none. Close it with lua_close.
lua_State* newState(Engine& engine);

// To be called in protected mode.
/// Opens what scripts have, and runs the engine's source.
int start(lua_State* L);
/// Calls the prelude's asking function with what waits in the engine's `in`; gives one result.
int askIt(lua_State* L);

}  // namespace script
