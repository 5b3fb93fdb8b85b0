for s in ('('):rep(2e6):gmatch('%b()') do end
