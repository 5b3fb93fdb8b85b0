#include "app/panels/script_templates.h"

#include <QCoreApplication>

namespace app {

const std::vector<ScriptTemplate>& scriptTemplates() {
    auto tr = [](const char* text) { return QCoreApplication::translate("ScriptTemplates", text); };
    static const std::vector<ScriptTemplate> all = {
        {"plain", tr("A few lines"), tr("Runs from top to bottom, as one step"), "lines",
         R"(-- Runs from top to bottom, as one step or nothing.
for i, o in ipairs(selected()) do
  say(i, o, o:at())
end
)"},
        {"command", tr("A command with a form"), tr("In the menus and in find; asks for values before it runs"),
         "command",
         R"(-- In the menu Scripts once it is saved.
command {
  name = "Row of copies",
  help = "Repeats the selected object along X.",
  form = {
    count = whole{4, min = 1, max = 100},
    apart = number{2, min = 0.1, max = 50, unit = "m"},
  },
  enabled = function() return #selected() == 1 end,
  run = function(f)
    local first = selected()[1]
    for i = 1, f.count do
      local o = copy(first)[1]
      o:at(first:at() + vec(f.apart * i, 0, 0))
    end
  end
}
)"},
        {"panel", tr("A panel that stays"), tr("Its form stays open, follows the selection and draws in the view"),
         "panel",
         R"(-- The form stays open; marks() draws as the selection and the values change.
command {
  name = "Reach",
  help = "What lies within reach of the selected object.",
  stays = true,
  form = { reach = number{5, min = 0.5, max = 50, unit = "m"} },
  marks = function(f)
    for _, o in ipairs(selected()) do
      circle(o:at(), f.reach)
    end
  end,
  run = function(f)
    local found = {}
    for _, o in ipairs(find()) do
      for _, s in ipairs(selected()) do
        if o ~= s and o:at():to(s:at()) <= f.reach then found[#found + 1] = o end
      end
    end
    choose(found)
    say(#found, "within reach")
  end
}
)"},
        {"behaviour", tr("A behaviour of a kind"), tr("Reacts to changes of its objects, and gives them a look"),
         "behaviour",
         R"(-- Works while one edits, within the step that caused it. Nothing of it is part of the game.
behaviour {
  kind = "KIND",
  -- before: what changed, with the old values: before.at, before.turn, before.size, before.name, properties
  changed = function(o, before)
    if before.at then say(o, "was at", before.at) end
  end,
  look = function(o)
    circle(o:at(), 1)
    return { badge = "KIND" }
  end
}
)"},
        {"check", tr("A check"), tr("Finds faults while one edits and on build machines, and may fix them"), "check",
         R"(-- A rule beside those of the editor; set, accepted and switched off in the page Checks.
check {
  id = "too-high",
  label = "Too high to reach",
  why = "The player cannot take it down.",
  severity = "caution",
  kind = "KIND",
  parameters = { most = number{2.5, min = 0, max = 100, unit = "m"} },
  find = function(o, p)
    local ground, point = below(o:at(), o)
    if not ground or o:at().y - point.y <= p.most then return end
    found(o:name() .. " hangs too high.")
    arrow(o:at(), point)
  end,
  fixLabel = "Lower it",
  fix = function(o, finding, p)
    local ground, point = below(o:at(), o)
    local at = o:at()
    o:at(vec(at.x, point.y + p.most, at.z))
  end
}
)"}};
    return all;
}

}  // namespace app
