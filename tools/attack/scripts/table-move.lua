table.move({}, 1, 1e15, 2)
