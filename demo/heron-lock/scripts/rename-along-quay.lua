-- Numbers things of one item by their order along the quay, from the first selected one or from the west.
local lineThrough = require("line-through")
command {
  name = "Number along the quay", menu = "Heron Lock/Tidy up",
  help = "Names all objects of an item by their order along the line through them.",
  form = {
    item = item{"bollard", help = "Which ones"},
    name = text{"Bollard", help = "What stands before the number"},
    first = whole{1, min = 0, max = 9999, label = "First number"},
  },
  run = function(f)
    local all = find("item:" .. f.item)
    if #all == 0 then error("there is no " .. f.item .. " in this scene", 0) end
    -- The line runs between the two that are farthest apart, west to east (or north to south).
    local a, b = lineThrough(all)
    local from, along = a:at(), b:at() - a:at()
    if along.x < -0.001 or (math.abs(along.x) <= 0.001 and along.z < 0) then from, along = b:at(), -along end
    local start = selected()[1]
    if start and start:item() == f.item and (start:at() - from):dot(along) > along:dot(along) / 2 then along = -along end
    table.sort(all, function(p, q)
      local s, t = p:at():dot(along), q:at():dot(along)
      if s ~= t then return s < t end
      return p:id() < q:id()
    end)
    for i, o in ipairs(all) do o:name(f.name .. " " .. (f.first + i - 1)) end
    say(#all, "numbered")
  end
}
