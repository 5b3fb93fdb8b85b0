return ('('):rep(2e6):find('%b()')
