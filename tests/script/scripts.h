#pragma once
// A project of blocks, and scripts run on it as the programs run them.
#include "script/engine.h"
#include "support/blocks.h"

namespace test {

struct Scripts : Blocks {
    base::ObjectId a = put("cube", {1, 0, 0}), b = put("cube", {5, 0, 0}), c = put("slab", {0, 0, 20});
    script::Settings settings;
    Scripts() { settings.shapes = lookup(); }

    /// Runs it as the programs do: one step, or nothing.
    script::Outcome run(const std::string& text) {
        const std::string before = bytes();
        script::Source source;
        source.name = "test.lua";
        source.text = text;
        source.module = [](const std::string& name) -> std::optional<std::string> {
            if (name == "tools") return "local t = {} function t.twice(x) return 2 * x end return t";
            if (name == "broken") return "local = 1";
            return std::nullopt;
        };
        edit::Draft draft(session(), "first", "Script");
        script::Outcome outcome = script::run(draft, source, settings);
        if (outcome.ending == script::Ending::Done) {
            if (!draft.commit()) qFatal("no step");
            return outcome;
        }
        draft.rollback();
        if (bytes() != before) qFatal("a script that failed left something behind");
        return outcome;
    }
    base::Vec3 at(base::ObjectId id) { return scene().world(slot(id)).translation; }
};

}  // namespace test
