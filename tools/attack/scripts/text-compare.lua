local a, b = ('x'):rep(2e6) .. 'a', ('x'):rep(2e6) .. 'b' while true do local c = a < b end
