-- Patterns as the reference manual has them (6.4.1): each line holds in Lua 5.4 itself.
assert(("lantern 12"):find("%d+") == 9 and select(2, ("lantern 12"):find("%d+")) == 10)
assert(("a.b"):find(".", 1, true) == 2 and ("a.b"):find("b", -1) == 3 and ("a"):find("b") == nil)
assert(("key = value"):match("^(%w+)%s*=%s*(%w+)$") == "key")
assert(("f(a(b)c)d"):match("%b()") == "(a(b)c)")
assert(("THE (quick) fox"):find("%((%a+)%)") == 5)
assert(("hello"):match("()ll()") == 3 and select(2, ("hello"):match("()ll()")) == 5)
assert(("abab"):match("^(ab)%1$") == "ab")
assert(("[a]"):match("[]]") == "]" and ("a-z"):match("[a%-]+") == "a-" and ("x^"):match("[^x]") == "^")
assert(("THE fox"):gsub("%f[%a]%a+", string.lower) == "the fox")
assert(("abc"):gsub("", "-") == "-a-b-c-")
assert(("hello world"):gsub("o", "0", 1) == "hell0 world")
assert(("$name is $age"):gsub("%$(%w+)", {name = "Ada", age = 3}) == "Ada is 3")
assert(("abc"):gsub("%w", "%0%0") == "aabbcc" and ("abc"):gsub("(a)(b)", "%2%1") == "bac")
assert(select(2, ("aaa"):gsub("a", "b")) == 3)
local words = {}
for w in ("one two  three"):gmatch("%a+") do words[#words + 1] = w end
assert(table.concat(words, ",") == "one,two,three")
local n = 0
for k, v in ("a=1, b=2"):gmatch("(%w+)=(%w+)") do n = n + tonumber(v) end
assert(n == 3)
local empty = 0
for _ in ("abc"):gmatch("x*") do empty = empty + 1 end
assert(empty == 4)
for _, bad in ipairs {"(", "[a", "%", "%f", "(()", "%b"} do
  assert(not pcall(string.find, "abc", bad), bad)
end
assert(("a\0b"):find("\0") == 2 and ("x"):rep(3, ",") == "x,x,x")
