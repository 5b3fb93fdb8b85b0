local o = find('item:bench')[1] for i = 1, 40 do o = group(copy({o})) end while true do copy({o}) end
