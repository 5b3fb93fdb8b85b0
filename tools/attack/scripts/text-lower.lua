local a = ('x'):rep(2e6) while true do utf8.len(a) a:lower() a:rep(1) end
