local s = ('x'):rep(2e6) for _, o in ipairs(find('kind:Notice')) do for i = 1, 1e6 do o:set('text', s .. i) end end while true do end
