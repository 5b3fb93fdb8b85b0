-- A module: which item takes the place of which on market day. Used by swap-by-table.lua.
return {
  ["awning-ember"] = "awning-moss",
  ["awning-moss"] = "awning-tide",
  ["awning-tide"] = "awning-ember",
}
