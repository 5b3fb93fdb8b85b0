local t = {} for i = 1, 9e5 do t[i * 7] = i end for i = 1, 9e5 do t[i * 7] = nil end while true do next(t) end
