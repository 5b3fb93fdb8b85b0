table.concat(setmetatable({}, {__index = function() return 'x' end}), '', 1, 1e15)
