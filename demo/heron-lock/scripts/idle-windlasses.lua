-- A windlass that serves no leaf does nothing in play: each is named, marked and selected.
command {
  name = "Windlasses that serve no leaf", menu = "Heron Lock/Report",
  help = "Lists, marks and selects windlasses without a link to a leaf.",
  run = function()
    local idle = {}
    for _, o in ipairs(find("item:windlass")) do
      local serves = 0
      for _, leaf in ipairs(o:get("serves")) do
        if leaf:alive() and leaf:item() == "gate-leaf" then serves = serves + 1 end
      end
      if serves == 0 then
        idle[#idle + 1] = o
        local low, high = o:box()
        frame(low, high, vec(0.9, 0.2, 0.3))
        caption(high, "serves no leaf")
        say(o, "serves no leaf")
      end
    end
    choose(idle)
    say(#idle, "of", #find("item:windlass"), "windlasses serve no leaf")
  end
}
