-- Checks of this world, beside those that the editor has.

check {
  id = "windlass-apart",
  label = "Windlass away from its gate",
  why = "Whoever turns it does not see what it moves.",
  severity = "caution",
  kind = "Water control",
  looks = "around",
  reach = 12,
  parameters = { most = number{8, min = 1, max = 12, unit = "m", label = "Away up to"} },
  find = function(o, p)
    if o:item() ~= "windlass" then return end
    local leaf, away = nearest(o:at(), find("item:gate-leaf"))
    if leaf and away <= p.most then return end
    found(o:name() .. " has no gate leaf within " .. p.most .. " m.")
    circle(o:at(), p.most)
  end
}

check {
  id = "lantern-off-grid",
  label = "Lantern post off the grid",
  why = "Lantern posts stand on tenths of a metre, so that quays can be paved around them.",
  severity = "hint",
  kind = "Lantern",
  parameters = { grid = number{0.1, min = 0.01, max = 10, unit = "m"} },
  find = function(o, p)
    local at, to = o:at(), onGrid(o:at(), p.grid)
    if (at - to):length() < 0.0001 then return end
    found(string.format("%s stands %.3f m beside the grid.", o:name(), (at - to):length()))
    arrow(at, to)
  end,
  fixLabel = "Put it on the grid",
  fix = function(o, f, p) o:at(onGrid(o:at(), p.grid)) end
}

function onGrid(at, step)
  return vec(math.floor(at.x / step + 0.5) * step, at.y, math.floor(at.z / step + 0.5) * step)
end
