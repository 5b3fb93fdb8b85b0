local t = {} for i = 1, 3e6 do t[i] = -i end while true do table.sort(t) end
