local a = (' '):rep(2e6) while true do pcall(function() return a + 1 end) end
