for i = 1, 1e7 do place('bench', i % 1000, 0, i // 1000) end
