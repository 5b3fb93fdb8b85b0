local o = find('item:bench')[1] for i = 1, 9 do o = grid({o}, 90, 90, 90, vec(2, 2, 2)) end
