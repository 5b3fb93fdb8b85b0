// The part of what scripts see that is written in Lua itself: vectors, turns, and how commands, fields and behaviours
// are declared. It runs before a script does, and keeps to itself what it needs of Lua's own functions.
#include "script/prelude.h"

namespace script {

const char* const kPrelude = R"lua(
local private = ...
local type, error, pairs, ipairs, select = type, error, pairs, ipairs, select
local rawget, rawset, setmetatable, getmetatable, tostring = rawget, rawset, setmetatable, getmetatable, tostring
local sort, sqrt, format = table.sort, math.sqrt, string.format

-- Vectors

local V, vectors = {__metatable = "vec", __name = "vec"}, {}
local axis = {x = 1, y = 2, z = 3}
local function isVec(v) return type(v) == "table" and getmetatable(v) == "vec" end
local function new(x, y, z) return setmetatable({x, y, z}, V) end
local function vecIn(v, what)
  if not isVec(v) then error(what .. " takes a vector", 3) end
  return v
end
function V.__index(v, k)
  local i = axis[k]
  if i then return rawget(v, i) end
  return vectors[k]
end
function V.__newindex(v, k, value)
  local i = axis[k]
  if not i or type(value) ~= "number" then error("a vector has only the numbers x, y and z", 2) end
  rawset(v, i, value)
end
function V.__add(a, b) vecIn(a, "+") vecIn(b, "+") return new(a[1] + b[1], a[2] + b[2], a[3] + b[3]) end
function V.__sub(a, b) vecIn(a, "-") vecIn(b, "-") return new(a[1] - b[1], a[2] - b[2], a[3] - b[3]) end
function V.__unm(a) return new(-a[1], -a[2], -a[3]) end
function V.__mul(a, b)
  if type(a) == "number" then return new(a * b[1], a * b[2], a * b[3]) end
  if type(b) == "number" then return new(a[1] * b, a[2] * b, a[3] * b) end
  vecIn(a, "*") vecIn(b, "*")
  return new(a[1] * b[1], a[2] * b[2], a[3] * b[3])
end
function V.__div(a, n)
  if type(n) ~= "number" then error("a vector is divided by a number", 2) end
  return new(a[1] / n, a[2] / n, a[3] / n)
end
function V.__eq(a, b) return a[1] == b[1] and a[2] == b[2] and a[3] == b[3] end
function V.__tostring(v) return format("(%.6g, %.6g, %.6g)", v[1], v[2], v[3]) end
function vectors.length(v) return sqrt(v[1] * v[1] + v[2] * v[2] + v[3] * v[3]) end
function vectors.unit(v)
  local l = vectors.length(v)
  if l == 0 then error("a vector of no length has no direction", 2) end
  return new(v[1] / l, v[2] / l, v[3] / l)
end
function vectors.dot(a, b) vecIn(b, "dot") return a[1] * b[1] + a[2] * b[2] + a[3] * b[3] end
function vectors.cross(a, b)
  vecIn(b, "cross")
  return new(a[2] * b[3] - a[3] * b[2], a[3] * b[1] - a[1] * b[3], a[1] * b[2] - a[2] * b[1])
end
function vectors.level(v) return new(v[1], 0, v[3]) end
function vectors.parts(v) return v[1], v[2], v[3] end
function vectors.to(a, b) return vectors.length(b - a) end

function readTable(path)
  local head, cells = private.tableOf(path)
  local rows, row = {}, nil
  for i = 1, #cells do
    local column = (i - 1) % #head + 1
    if column == 1 then
      row = {}
      rows[#rows + 1] = row
    end
    row[head[column]] = cells[i]
  end
  return rows, head
end

function vec(x, y, z)
  if isVec(x) then return new(x[1], x[2], x[3]) end
  if type(x) ~= "number" or type(y) ~= "number" or type(z) ~= "number" then error("vec takes three numbers", 2) end
  return new(x, y, z)
end
function mix(a, b, share)
  if type(share) ~= "number" then error("mix takes two numbers or vectors, and a share", 2) end
  return a + (b - a) * share
end

-- Turns: unit quaternions x, y, z, w

local T, turns = {__metatable = "turn", __name = "turn"}, {}
local function isTurn(t) return type(t) == "table" and getmetatable(t) == "turn" end
local function newTurn(x, y, z, w) return setmetatable({x, y, z, w}, T) end
T.__index = turns
function T.__newindex() error("a turn is not changed: make a new one", 2) end
function T.__mul(a, b)
  if not isTurn(a) then error("a turn stands before what it turns", 2) end
  local ax, ay, az, aw = a[1], a[2], a[3], a[4]
  if isTurn(b) then
    local bx, by, bz, bw = b[1], b[2], b[3], b[4]
    return newTurn(aw * bx + ax * bw + ay * bz - az * by, aw * by - ax * bz + ay * bw + az * bx,
                   aw * bz + ax * by - ay * bx + az * bw, aw * bw - ax * bx - ay * by - az * bz)
  end
  if not isVec(b) then error("a turn turns a vector or another turn", 2) end
  local u = new(ax, ay, az)
  local t = u:cross(b) * 2
  return b + t * aw + u:cross(t)
end
function T.__eq(a, b) return a[1] == b[1] and a[2] == b[2] and a[3] == b[3] and a[4] == b[4] end
function T.__tostring(t) return "turn" .. tostring(turns.degrees(t)) end
function turns.degrees(t) return private.toDegrees(t) end
function turns.inverse(t) return newTurn(-t[1], -t[2], -t[3], t[4]) end
function turns.ahead(t) return t * new(0, 0, -1) end
function turn(x, y, z)
  if isVec(x) then return private.turnFrom(x) end
  return private.turnFrom(x, y or 0, z or 0)
end
function about(direction, degrees) return private.turnAbout(direction, degrees) end

-- What a form asks for

local fields, serial = {__metatable = "field"}, 0
local function isField(f) return type(f) == "table" and getmetatable(f) == "field" end
local function field(sort)
  return function(t)
    if type(t) ~= "table" or isVec(t) then t = {t} end
    serial = serial + 1
    return setmetatable({sort = sort, order = serial, says = t}, fields)
  end
end
for _, sort in ipairs {"number", "whole", "text", "switch", "choice", "colour", "angle", "vector", "point", "object",
                       "item"} do
  _G[sort] = field(sort)
end

local function declareFields(form)
  local order = {}
  for key, f in pairs(form) do
    if type(key) ~= "string" or not isField(f) then
      error("form = { name = number{5, min = 1}, … }: “" .. tostring(key) .. "” is no such field", 3)
    end
    order[#order + 1] = {key, f}
  end
  sort(order, function(a, b) return a[2].order < b[2].order end)
  for _, entry in ipairs(order) do
    local f = entry[2]
    local t, usual, choices = f.says, f.says[1], nil
    if f.sort == "choice" then
      choices, usual = {}, t.usual or t[1]
      for i, word in ipairs(t) do choices[i] = word end
    end
    private.field(entry[1], f.sort, t.label, t.help, t.unit, t.min, t.max, t.step, t.shownIf, usual, choices,
                  t.kinds or t.kind and {t.kind})
  end
end

-- What a file declares

local commands, behaviours, checks, handles = {}, {}, {}, {}
local function known(t, what, keys)
  for k in pairs(t) do
    if not keys[k] then error(what .. " has no “" .. tostring(k) .. "”", 3) end
  end
end
local function isFunction(t, key, what)
  if t[key] ~= nil and type(t[key]) ~= "function" then error(what .. ": " .. key .. " is a function", 3) end
  return t[key] ~= nil
end
local function inText(t, key, what)
  if t[key] ~= nil and type(t[key]) ~= "string" then error(what .. ": " .. key .. " is a text", 3) end
end
local ofCommand = {name = 1, menu = 1, help = 1, shortcut = 1, form = 1, run = 1, enabled = 1, stays = 1, marks = 1}
function command(t)
  if type(t) ~= "table" then error("command { name = \"…\", run = function(f) … end }", 2) end
  known(t, "a command", ofCommand)
  for _, key in ipairs {"name", "menu", "help", "shortcut"} do inText(t, key, "a command") end
  if type(t.name) ~= "string" then error("a command has a name", 2) end
  if not isFunction(t, "run", "a command") then error("the command “" .. t.name .. "” has no run = function(f) … end", 2) end
  if t.form ~= nil and type(t.form) ~= "table" then error("a command: form is a table", 2) end
  private.command(t.name, t.menu, t.help, t.shortcut, isFunction(t, "enabled", "a command"), t.stays == true,
                  isFunction(t, "marks", "a command"))
  declareFields(t.form or {})
  commands[#commands + 1] = t
end
local ofBehaviour = {kind = 1, touches = 1, allow = 1, changed = 1, opened = 1, look = 1}
function behaviour(t)
  if type(t) ~= "table" or type(t.kind) ~= "string" then
    error("behaviour { kind = \"…\", changed = function(o, before) … end }", 2)
  end
  known(t, "a behaviour", ofBehaviour)
  private.behaviour(t.kind, isFunction(t, "allow", "a behaviour"), isFunction(t, "changed", "a behaviour"),
                    isFunction(t, "opened", "a behaviour"), isFunction(t, "look", "a behaviour"), t.touches)
  behaviours[#behaviours + 1] = t
end

local ofCheck = {id = 1, label = 1, why = 1, severity = 1, kind = 1, kinds = 1, looks = 1, reach = 1, parameters = 1,
                 find = 1, fix = 1, fixLabel = 1}
function check(t)
  if type(t) ~= "table" then error("check { id = \"…\", find = function(o, p) … end }", 2) end
  known(t, "a check", ofCheck)
  for _, key in ipairs {"id", "label", "why", "severity", "kind", "looks", "fixLabel"} do inText(t, key, "a check") end
  if type(t.id) ~= "string" then error("a check has an id", 2) end
  if not isFunction(t, "find", "a check") then error("the check “" .. t.id .. "” has no find = function(o, p) … end", 2) end
  if isFunction(t, "fix", "a check") ~= (t.fixLabel ~= nil) then error("a check: fix and fixLabel go together", 2) end
  if t.parameters ~= nil and type(t.parameters) ~= "table" then error("a check: parameters is a table", 2) end
  private.check(t.id, t.label, t.why, t.severity, t.looks, t.reach, t.fixLabel, t.kinds or t.kind and {t.kind})
  declareFields(t.parameters or {})
  checks[#checks + 1] = t
end
function found(text, with)
  with = with or {}
  if type(with) ~= "table" then error("found(text, {other = …, part = …})", 2) end
  known(with, "found", {object = 1, other = 1, part = 1})
  private.found(text, with.object, with.other, with.part)
end

function handle(point, does)
  if type(does) == "string" then
    private.handle(point, does)
    handles[#handles + 1] = function(o, p)
      local now = o:get(does)
      if isVec(now) then o:set(does, o:toOwn(p)) else o:set(does, o:at():to(p)) end
    end
  elseif type(does) == "function" then
    private.handle(point, "")
    handles[#handles + 1] = does
  else
    error("handle(point, property) or handle(point, function(o, p) … end)", 2)
  end
end

-- How the program asks

local function pairsIn(...)
  local t = {}
  for i = 1, select("#", ...), 2 do t[select(i, ...)] = select(i + 1, ...) end
  return t
end
local ask = {}
function ask.run(i, ...) commands[i].run(pairsIn(...)) end
function ask.enabled(i) return commands[i].enabled() and true or false end
function ask.marks(i, ...) handles = {} commands[i].marks(pairsIn(...)) end
function ask.allow(i, o, ...)
  local may, why = behaviours[i].allow(o, pairsIn(...))
  if may == false then return type(why) == "string" and why or "a behaviour of its kind does not allow it" end
  return ""
end
function ask.changed(i, o, ...) behaviours[i].changed(o, pairsIn(...)) end
function ask.opened(i, o) behaviours[i].opened(o) end
function ask.look(i, o)
  handles = {}
  local is = behaviours[i].look(o)
  if is == nil then return end
  if type(is) ~= "table" then error("look gives a table, or nothing", 0) end
  known(is, "a look", {item = 1, tint = 1, hides = 1, badge = 1})
  private.look(is.item, is.tint, is.hides, is.badge)
end
function ask.find(i, o, ...)
  local is = checks[i].find(o or nil, pairsIn(...))
  if type(is) == "string" then private.found(is) end
end
function ask.fix(i, o, other, part, text, ...)
  checks[i].fix(o or nil, {other = other or nil, part = part, text = text}, pairsIn(...))
end
function ask.moved(n, o, p)
  if handles[n] then handles[n](o, p) end
end
return V, T, function(what, ...) return ask[what](...) end
)lua";

const std::vector<Function>& preludeFunctions() {
    static const std::vector<Function> all = {
        {"command", "table",
         "Declares a command: name, menu, help, shortcut, form, run(form), enabled(), stays, marks(form)."},
        {"behaviour", "table",
         "Declares what a kind does while one edits: kind, touches, allow(o, before), changed(o, before), opened(o), "
         "look(o)."},
        {"check", "table",
         "Declares a check: id, label, why, severity, kind or kinds, looks (object, around, scene), reach, parameters, "
         "find(o, p), fixLabel, fix(o, finding, p)."},
        {"found", "text [, {object, other, part}]",
         "In a check's find: says what is wrong; marks drawn after it explain it in the view. Returning a text does "
         "the "
         "same."},
        {"number", "{usual, min, max, step, label, help, unit, shownIf}",
         "A field of a form for a number. Alike: whole, text, switch, angle, colour, vector."},
        {"choice", "{words..., usual}", "A field for one of some words."},
        {"point", "{label, help}", "A field for a place in the world, which can be pointed at in the view."},
        {"object", "{kind, kinds}", "A field for an object, of any kind or of those; gives nil while there is none."},
        {"item", "{usual}", "A field for an item of the Stock."},
        {"handle", "point, property or function(o, point)",
         "Draws a handle to be dragged: sets a property (a vector in own axes, or the distance from the object), or "
         "calls the function; one drag is one step."},
        {"readTable", "path",
         "The rows of a CSV file inside the project, each a table by the names in its head line; and those names."},
        {"vec", "x, y, z",
         "A vector: v.x, v.y, v.z, + - * /, v:length(), v:unit(), v:dot(w), v:cross(w), v:level(), v:parts(), "
         "v:to(w)."},
        {"turn", "x, y, z",
         "A turn from degrees as Properties shows them: turn * turn, turn * vector, t:degrees(), t:inverse(), "
         "t:ahead()."},
        {"about", "axis, degrees", "A turn about a direction."},
        {"mix", "a, b, share", "What lies between two numbers or vectors; share 0 is the first, 1 the second."},
    };
    return all;
}

}  // namespace script
