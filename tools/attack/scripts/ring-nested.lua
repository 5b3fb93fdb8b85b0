local o = find('item:bench')[1] for i = 1, 40 do o = ring({o}, 90, 5) end
