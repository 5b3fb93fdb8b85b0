-- Replaces items by a table that stands in a module of its own; poses, properties and links stay.
local swaps = require("market-swaps")
command {
  name = "Swap items by the table", menu = "Heron Lock/Tidy up",
  help = "Makes each object of an item in market-swaps.lua one of the item beside it there.",
  form = { only = switch{false, label = "Only the selection"} },
  run = function(f)
    local n, to = 0, {}
    for _, o in ipairs(f.only and selected() or find()) do
      if swaps[o:item()] then to[#to + 1] = {o, swaps[o:item()]} end
    end
    for _, one in ipairs(to) do
      one[1]:item(one[2])
      n = n + 1
    end
    say(n, "swapped")
  end
}
