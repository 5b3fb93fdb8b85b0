#include "script/engine.h"

#include <fmt/format.h>

#include <locale.h>

#include <algorithm>
#include <cstdlib>
#include <lua.hpp>

#include "script/rules.h"
#include "script/sandbox.h"

namespace script {

namespace {

/// “name.lua:12: …”: the line, when the message begins with a place in the script's own file.
int lineOf(const std::string& message, const std::string& name) {
    const std::string head = name + ":";
    if (!message.starts_with(head)) return 0;
    return std::atoi(message.c_str() + head.size());
}

}  // namespace

namespace {

/// While it lives, this thread reads and compares as the C language does, whatever the desktop's is: a script comes to
/// the same everywhere, and comparing takes no longer than it has to.
class InC {
  public:
    InC() : before_(uselocale(plain())) {}
    ~InC() { uselocale(before_); }
    InC(const InC&) = delete;
    InC& operator=(const InC&) = delete;

  private:
    static locale_t plain() {
        static const locale_t c = newlocale(LC_ALL_MASK, "C", nullptr);
        return c;
    }
    locale_t before_;
};

/// While it lives, what is written through the draft counts as the program's.
class Metered {
  public:
    Metered(edit::Draft* draft, Engine& engine) : draft_(draft) {
        if (draft_ != nullptr)
            before_ = draft_->setMeter(
                [&engine](std::size_t rows, std::size_t objects) { return engine.mayWrite(rows, objects); });
    }
    ~Metered() {
        if (draft_ != nullptr) draft_->setMeter(std::move(before_));
    }
    Metered(const Metered&) = delete;
    Metered& operator=(const Metered&) = delete;

  private:
    edit::Draft* draft_;
    edit::Draft::Meter before_;
};

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
        c.found.clear();
        c.lookedAt.clear();
        engine.refusal.clear();
        engine.line = 0;
        Outcome outcome;
        lua_settop(L, 0);
        lua_pushcfunction(L, function);
        std::string message;
        const InC locale;
        const Metered metered(place ? place->draft : nullptr, engine);
        bool fine = lua_pcall(L, 0, results, 0) == LUA_OK;
        if (!fine) {
            const char* text = lua_type(L, -1) == LUA_TSTRING ? lua_tostring(L, -1) : nullptr;
            message = text != nullptr ? text : "an error that is no text";
        } else {
            try {
                c.flush();  // poses that still waited
            } catch (const Trouble& trouble) {
                fine = false;
                message = trouble.message;
                engine.refusal = trouble.refused ? message : "";
            }
        }
        if (!fine) {
            outcome.message = message;
            outcome.ending = engine.cancelled                         ? Ending::Cancelled
                             : engine.overBudget || engine.overMemory ? Ending::Cap
                             : isRefusal(message)                     ? Ending::Refused
                                                                      : Ending::Error;
            if (engine.overMemory && message.find("not enough memory") != std::string::npos)
                outcome.message +=
                    fmt::format(" (at most {} MB in all, 2 MB for one text, a million entries in a table)",
                                settings.limits.memoryBytes >> 20);
            outcome.line = lineOf(message, source.name) > 0 ? lineOf(message, source.name) : engine.line;
            if (place && c.acts() && (place->draft != nullptr || place->snapshot != nullptr)) {
                const model::Scene& scene = c.scene();
                const model::Slot at = scene.find(c.atHand);
                if (at != model::kNoSlot) outcome.message += fmt::format("\nat hand: “{}”", scene.nameText(at));
            }
        }
        outcome.said = c.said;
        outcome.files = c.files;
        outcome.marks = c.marks;
        outcome.instructions = engine.instructions;
        return outcome;
    }

    /// Is the error that ended it a verb's word, and not one that came of something else after that was caught?
    bool isRefusal(const std::string& message) const {
        const std::string first = message.substr(0, message.find('\n'));
        return !engine.refusal.empty() && first.ends_with(engine.refusal.substr(0, engine.refusal.find('\n')));
    }

    Source source;
    Settings settings;
    std::optional<Place> place;
    Engine engine;
    lua_State* L = nullptr;
    Outcome read;

    void load(Context::Access access) {
        L = newState(engine);
        if (L == nullptr) {
            read.ending = Ending::Cap;
            read.message = "There is no memory for a script.";
            return;
        }
        engine.context.setAccess(access);
        read = guarded(start, 0);
        engine.context.setAccess(Context::Access::Open);
    }
};

namespace {

/// The values of a command's fields as pairs of key and value.
void appendForm(const std::vector<model::Property>& fields, const model::ValueMap& form, Data& data) {
    for (const model::Property& field : fields) {
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
    appendForm(declared().commands[index].form, form, data);
    return ask("run", data);
}
Outcome Program::enabled(std::size_t index, bool& is) {
    Outcome outcome = ask("enabled", {static_cast<double>(index + 1)});
    is = outcome.done() && lua_toboolean(body_->L, -1) != 0;
    return outcome;
}
Outcome Program::marks(std::size_t index, const model::ValueMap& form) {
    Data data = {static_cast<double>(index + 1)};
    appendForm(declared().commands[index].form, form, data);
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
Outcome Program::find(std::size_t index, base::ObjectId object, const model::ValueMap& parameters,
                      std::vector<Found>& found) {
    Context& c = body_->engine.context;
    body_->engine.renew();
    c.notesLooks = declared().checks[index].looks == CheckSpec::Looks::Object;
    c.atHand = object;
    Data data = {static_cast<double>(index + 1), object ? Datum(object) : Datum(false)};
    appendForm(declared().checks[index].parameters, parameters, data);
    Outcome outcome = ask("find", data);
    found = std::move(c.found);
    return outcome;
}
Outcome Program::fix(std::size_t index, const Found& found, const model::ValueMap& parameters) {
    Data data = {static_cast<double>(index + 1), found.object ? Datum(found.object) : Datum(false),
                 found.other ? Datum(found.other) : Datum(false), found.part, found.message};
    appendForm(declared().checks[index].parameters, parameters, data);
    return ask("fix", data);
}
bool Program::askedFor(const std::string& argument) const {
    return body_->engine.context.argumentsAsked.contains(argument);
}
const std::vector<base::ObjectId>& Program::lookedAt() const {
    return body_->engine.context.lookedAt;
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
    Program program(source, settings, Place(draft), true);
    const auto& commands = program.declared().commands;
    if (!program.outcome().done()) return program.outcome();
    if (program.declared().plain()) {
        for (const auto& [name, value] : settings.args)
            if (!program.askedFor(name))
                return failed(Ending::Error, fmt::format("{} asks for no argument “{}”.", source.name, name));
        return program.outcome();
    }
    std::string names;
    std::size_t index = commands.size() == 1 && settings.command.empty() ? 0 : commands.size();
    for (std::size_t i = 0; i < commands.size(); ++i) {
        names += (names.empty() ? "" : ", ") + commands[i].name;
        if (commands[i].name == settings.command) index = i;
    }
    if (commands.empty() && !program.declared().checks.empty())
        return tryChecks(draft, source, settings, program.declared().checks);
    if (commands.empty())
        return failed(Ending::Error, source.name + " has no command to run: behaviours work once the file is saved.");
    if (index == commands.size())
        return failed(Ending::Error,
                      settings.command.empty()
                          ? fmt::format("{} has several commands; say which: {}.", source.name, names)
                          : fmt::format("{} has no command “{}”; it has: {}.", source.name, settings.command, names));
    for (const auto& [name, value] : settings.args) {
        const auto& fields = commands[index].form;
        if (std::none_of(fields.begin(), fields.end(), [&](const model::Property& f) { return f.name == name; }))
            return failed(Ending::Error, fmt::format("“{}” has no field “{}”.", commands[index].name, name));
    }
    if (bool can = true; commands[index].asksEnabled) {
        Outcome asked = program.enabled(index, can);
        if (!asked.done()) return asked;
        if (!can) return failed(Ending::Refused, fmt::format("“{}” cannot be run now.", commands[index].name));
    }
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
