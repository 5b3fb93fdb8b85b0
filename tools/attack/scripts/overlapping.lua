while true do overlapping(vec(-1e5, -1e5, -1e5), vec(1e5, 1e5, 1e5)) end
