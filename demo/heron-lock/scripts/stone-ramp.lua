-- A ramp of steps, from a foot on the ground up to a picked height.
command {
  name = "Stone ramp", menu = "Heron Lock/Build",
  help = "Builds a ramp from its foot up to a picked point: one wedge, or steps of stone.",
  form = {
    foot = point{vec(-40, 0, 24)},
    top = point{vec(-34, 2, 24), help = "Its height is where the ramp ends"},
    width = number{2, min = 0.2, max = 50, unit = "m"},
    steps = switch{false, label = "Steps"},
    rise = number{0.2, min = 0.05, max = 1, unit = "m", label = "Height of a step", shownIf = "steps"},
  },
  marks = function(f)
    arrow(f.foot, f.top)
    caption(f.top, string.format("%.2f m up", f.top.y - f.foot.y))
  end,
  run = function(f)
    local along = (f.top - f.foot):level()
    local length, height = along:length(), f.top.y - f.foot.y
    if height <= 0 then error("the top has to be above the foot", 0) end
    if length < 0.1 then error("the top is straight above the foot: there is no room for a ramp", 0) end
    local degrees = math.deg(math.atan(-along.x, -along.z))
    if not f.steps then
      local ramp = solid("wedge", vec(f.width, height, length), mix(f.foot, vec(f.top.x, f.foot.y, f.top.z), 0.5), degrees)
      ramp:name("Stone ramp")
      return choose(ramp)
    end
    local parts, n = {}, math.max(1, math.ceil(height / f.rise - 1e-9))
    for i = 1, n do
      -- Each step stands on the ground, so that there is no hollow below.
      local centre = f.foot + along * ((i - 0.5) / n)
      parts[i] = solid("box", vec(f.width, height * i / n, length / n), centre, degrees)
      progress(i / n)
    end
    choose(group(parts, "Stone ramp"))
  end
}
