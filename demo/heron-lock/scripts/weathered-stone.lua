-- The nearer to the water, the darker and greener the stone.
command {
  name = "Weathered stone", menu = "Heron Lock/Look",
  help = "Tints objects by their height above the water: dark and green at it, as they are above the reach.",
  form = {
    which = text{"item:coping", help = "As typed in the Roster; empty: the selection"},
    water = number{0.4, label = "Water at", unit = "m"},
    reach = number{3, min = 0.1, max = 50, label = "Reaches up", unit = "m"},
  },
  run = function(f)
    local all = f.which == "" and selected() or find(f.which)
    local wet, n = vec(0.42, 0.52, 0.38), 0
    for _, o in ipairs(all) do
      local low = o:box()
      if low then
        local share = math.max(0, math.min(1, (low.y - f.water) / f.reach))
        o:tint(mix(wet, vec(1, 1, 1), share))
        n = n + 1
      end
    end
    say(n, "tinted")
  end
}
