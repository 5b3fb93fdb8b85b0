for i = 1, 1e5 do prefab(copy(find('item:bench')), 'P' .. i) end
