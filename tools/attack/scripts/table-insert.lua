table.insert(setmetatable({}, {__len = function() return 1e15 end}), 1, 1) while true do end
