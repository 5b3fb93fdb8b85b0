while true do copy(find()) end
