return ('x'):rep(2e6):find('x*y')
