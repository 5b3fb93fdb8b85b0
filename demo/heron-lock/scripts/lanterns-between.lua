-- Lanterns between two picked points, evenly, seated on the towpath.
command {
  name = "Lanterns between", menu = "Heron Lock/Build",
  help = "Places lanterns in a row between two points and seats them on what is below.",
  form = {
    item = item{"lantern-post"},
    count = whole{5, min = 2, max = 60},
    from = point{vec(-58, 1, 17)},
    to = point{vec(-18, 1, 17)},
    facing = switch{true, label = "Face along the row"},
  },
  marks = function(f)
    line(f.from, f.to)
    for i = 0, f.count - 1 do dot(mix(f.from, f.to, i / (f.count - 1))) end
  end,
  run = function(f)
    local along, placed = f.to - f.from, {}
    local degrees = f.facing and math.deg(math.atan(-along.x, -along.z)) or 0
    for i = 0, f.count - 1 do
      local o = place(f.item, mix(f.from, f.to, i / (f.count - 1)) + vec(0, 3, 0), degrees)
      progress(i / f.count, "placing")
      if below(o:at(), o) then seat(o) else o:at(mix(f.from, f.to, i / (f.count - 1))) end
      placed[#placed + 1] = o
    end
    choose(placed)
    say(#placed, "placed,", along:length() / (f.count - 1), "m apart")
  end
}
