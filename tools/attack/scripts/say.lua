local s = ('x'):rep(2e6) while true do say(s) end
