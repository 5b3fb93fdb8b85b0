local a = ('x'):rep(2e6) while true do a:find(('x'):rep(1e6) .. 'y', 1, true) end
