return ('a'):rep(2e6):gsub('a-a-a-b', '')
