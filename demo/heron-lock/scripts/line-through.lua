-- A module: the two of some objects that are farthest apart. Used by even-spacing.lua and rename-along-quay.lua.
return function(objects)
  local a, b, far = objects[1], objects[1], -1
  for _, p in ipairs(objects) do
    for _, q in ipairs(objects) do
      local d = p:at():to(q:at())
      if d > far then a, b, far = p, q, d end
    end
  end
  return a, b, far
end
