-- Loose goods without a body fall through the quay in play: they get the hull of their mesh.
command {
  name = "Bodies for goods", menu = "Heron Lock/Tidy up",
  help = "Gives a hull body to all loose goods that have none.",
  form = { role = choice{"loose", "loose when touched", "fixed"} },
  run = function(f)
    local n = 0
    for _, o in ipairs(find('kind:"Loose goods"')) do
      if o:item() ~= "" and o:body() == nil and not o:protected() then
        o:body("hull", f.role)
        n = n + 1
      end
    end
    say(n, "got a body")
  end
}
