-- Stays open: what lies within reach of the selected object, as the selection changes.
command {
  name = "Within reach", menu = "Heron Lock/Report", stays = true,
  help = "Draws how far one reaches from the selection; doing it selects what lies within.",
  form = { reach = number{4, min = 0.2, max = 60, unit = "m"} },
  marks = function(f)
    for _, o in ipairs(selected()) do
      circle(o:at(), f.reach)
      caption(o:at() + vec(f.reach, 0, 0), string.format("%.1f m", f.reach))
    end
  end,
  run = function(f)
    local from, found = selected(), {}
    for _, o in ipairs(find()) do
      for _, s in ipairs(from) do
        if o ~= s and o:item() ~= "" and o:at():to(s:at()) <= f.reach then
          found[#found + 1] = o
          break
        end
      end
    end
    choose(found)
    say(#found, "within reach")
  end
}
