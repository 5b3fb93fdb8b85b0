-- The functions of table, on tables without metamethods (6.6).
local t = {5, 2, 8, 1, 9, 3}
table.sort(t)
assert(table.concat(t, " ") == "1 2 3 5 8 9")
table.sort(t, function(a, b) return a > b end)
assert(table.concat(t, " ") == "9 8 5 3 2 1")
local pairsOf = {}
for i = 1, 100 do pairsOf[i] = {i % 5, i} end
table.sort(pairsOf, function(a, b) return a[1] < b[1] end)
for i = 2, 100 do
  local a, b = pairsOf[i - 1], pairsOf[i]
  assert(a[1] < b[1] or (a[1] == b[1] and a[2] < b[2]))  -- equal ones stay in order
end
table.sort(t, function() return true end)  -- nonsense, and it ends
table.insert(t, 4) table.insert(t, 1, 7)
assert(t[1] == 7 and t[#t] == 4 and #t == 8)
assert(table.remove(t) == 4 and table.remove(t, 1) == 7 and #t == 6)
assert(table.remove({}) == nil and table.unpack({1, 2, 3}, 2) == 2)
assert(table.pack(1, nil, 3).n == 3 and select("#", table.unpack({1, nil, 3}, 1, 3)) == 3)
local m = table.move({1, 2, 3}, 1, 3, 2)
assert(m[1] == 1 and m[2] == 1 and m[4] == 3)
local count = 0
for k, v in pairs({a = 1, b = 2, 3}) do count = count + 1 end
assert(count == 3 and next({}) == nil)
assert(not pcall(table.sort, {1, "x"}) and not pcall(table.insert, {}, 5, 1))
