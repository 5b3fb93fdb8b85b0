local function f() xpcall(error, f) xpcall(error, f) end f() while true do pcall(f) end
