-- Evens out the spacing between the first and the last of the selected, in the order of their places.
local lineThrough = require("line-through")
command {
  name = "Even spacing", menu = "Heron Lock/Tidy up", shortcut = "Ctrl+Alt+E",
  help = "Spreads the selected objects evenly on the line between the two outermost.",
  enabled = function() return #selected() > 2 end,
  run = function()
    local all = selected()
    local a, b, far = lineThrough(all)
    local from, to = a:at(), b:at()
    local along = to - from
    table.sort(all, function(p, q) return (p:at() - from):dot(along) < (q:at() - from):dot(along) end)
    for i, o in ipairs(all) do o:at(mix(from, to, (i - 1) / (#all - 1))) end
    say(#all, "spread,", far / (#all - 1), "m apart")
  end
}
