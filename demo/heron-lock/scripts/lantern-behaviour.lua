-- While one edits: the glow of a lantern that is not lit is not seen in play; a ring shows how long the oil lasts.
behaviour {
  kind = "Lantern", touches = {"children"},
  allow = function(o, before)
    if before.oil and o:get("lit") and o:get("oil") == 0 then
      return false, "a lantern that is lit has some oil: put it out first"
    end
  end,
  changed = function(o, before)
    if before.lit == nil and not before.created then return end
    for _, child in ipairs(o:children()) do
      if child:kind() == "Lamp" then child:unseen(not o:get("lit")) end
    end
  end,
  look = function(o)
    if not o:get("lit") then return end
    local oil = o:get("oil")
    circle(o:at(), oil, vec(0.75, 0.5, 0.12))
    handle(o:at() + vec(oil, 0, 0), "oil")
  end
}
