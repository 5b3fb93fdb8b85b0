local function f() return f() + 1 end f()
