for i = 1, 1e9 do seat(find()) end
