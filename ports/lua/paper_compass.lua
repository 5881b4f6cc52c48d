-- Paper Compass for Lua 5.1 to 5.4 and LuaJIT: plays a bundle by the contract. One file, nothing else is needed.
--
--   local compass = require "paper_compass"
--   local story = compass.load(text_of_the_bundle)
--   local game = story:begin { language = "de", given = { on_desk = true }, seed = 7 }
--   for _, line in ipairs(game.lines) do print(line.name, line.text) end
--   for _, choice in ipairs(game:choices()) do print(choice.id, choice.text, choice.open) end
--   game:choose("quay.morning.pay")
--
-- What can't be done raises an error { of = "choice", message = "…" }, and nothing has changed.

local M = {}

local null = setmetatable({}, { __tostring = function() return "null" end })
M.null = null

local MAX = 9007199254740991
local VISITS_MAX = 99
local floor, abs = math.floor, math.abs

local Trouble = {}
Trouble.__index = Trouble
Trouble.__tostring = function(self) return self.message end

local function refuse(of, message)
  error(setmetatable({ of = of, message = message }, Trouble), 0)
end

-- JSON ------------------------------------------------------------------------------------------------------------

local ESCAPES = { b = "\b", f = "\f", n = "\n", r = "\r", t = "\t", ['"'] = '"', ["\\"] = "\\", ["/"] = "/" }

local function utf8_of(code)
  if code < 0x80 then return string.char(code) end
  if code < 0x800 then return string.char(0xC0 + floor(code / 0x40), 0x80 + code % 0x40) end
  if code < 0x10000 then
    return string.char(0xE0 + floor(code / 0x1000), 0x80 + floor(code / 0x40) % 0x40, 0x80 + code % 0x40)
  end
  return string.char(
    0xF0 + floor(code / 0x40000), 0x80 + floor(code / 0x1000) % 0x40, 0x80 + floor(code / 0x40) % 0x40, 0x80 + code % 0x40)
end

--- Reads JSON; null is compass.null. Raises { of = "json" } with the place where it can't be read.
function M.decode(text)
  local at = 1
  local depth = 0
  local function fail(what) refuse("json", "this is not JSON: " .. what .. " at byte " .. at) end
  local function skip() at = string.find(text, "[^ \t\r\n]", at) or #text + 1 end
  local function string_here()
    local parts = {}
    at = at + 1
    while true do
      local stop = string.find(text, '["\\]', at)
      if not stop then fail("a text that does not end") end
      parts[#parts + 1] = string.sub(text, at, stop - 1)
      if string.sub(text, stop, stop) == '"' then
        at = stop + 1
        return table.concat(parts)
      end
      local sign = string.sub(text, stop + 1, stop + 1)
      at = stop + 2
      if sign == "u" then
        local code = tonumber(string.match(text, "^%x%x%x%x", at) or fail("a broken \\u"), 16)
        at = at + 4
        if code >= 0xD800 and code < 0xDC00 then
          local low = string.match(text, "^\\u(%x%x%x%x)", at)
          local second = low and tonumber(low, 16)
          if second and second >= 0xDC00 and second < 0xE000 then
            code = 0x10000 + (code - 0xD800) * 0x400 + (second - 0xDC00)
            at = at + 6
          end
        end
        parts[#parts + 1] = utf8_of(code)
      else
        parts[#parts + 1] = ESCAPES[sign] or fail("an unknown escape")
      end
    end
  end
  local value
  local function list_or_object(close, read)
    depth = depth + 1
    if depth > 1000 then fail("too much nesting") end
    local all = {}
    at = at + 1
    skip()
    if string.sub(text, at, at) == close then
      at = at + 1
    else
      while true do
        read(all)
        skip()
        local sign = string.sub(text, at, at)
        at = at + 1
        if sign == close then break end
        if sign ~= "," then
          at = at - 1
          fail("something unexpected")
        end
        skip()
      end
    end
    depth = depth - 1
    return all
  end
  function value()
    skip()
    local sign = string.sub(text, at, at)
    if sign == "{" then
      return list_or_object("}", function(all)
        if string.sub(text, at, at) ~= '"' then fail("a key is missing") end
        local key = string_here()
        skip()
        if string.sub(text, at, at) ~= ":" then fail("a : is missing") end
        at = at + 1
        all[key] = value()
      end)
    elseif sign == "[" then
      return list_or_object("]", function(all) all[#all + 1] = value() end)
    elseif sign == '"' then
      return string_here()
    end
    for word, meant in pairs { ["true"] = true, ["false"] = false, ["null"] = null } do
      if string.sub(text, at, at + #word - 1) == word then
        at = at + #word
        return meant
      end
    end
    local number = string.match(text, "^-?%d+%.?%d*[eE]?[+-]?%d*", at)
    if not number or not tonumber(number) then fail("a value is missing") end
    at = at + #number
    return tonumber(number)
  end
  if string.sub(text, 1, 3) == "\239\187\191" then at = 4 end
  local read = value()
  skip()
  if at <= #text then fail("something after the end") end
  return read
end

local LIST = {}

local function quoted(text)
  return '"' .. string.gsub(text, '[%c"\\]', function(sign)
    return string.format("\\u%04x", string.byte(sign))
  end) .. '"'
end

local function plain_number(value)
  return string.format("%.0f", value + 0)
end

--- Writes a save as JSON.
function M.encode(value)
  local kind = type(value)
  if value == null or kind == "nil" then return "null" end
  if kind == "string" then return quoted(value) end
  if kind == "boolean" then return tostring(value) end
  if kind == "number" then return plain_number(value) end
  local parts = {}
  if getmetatable(value) == LIST then
    for at, item in ipairs(value) do parts[at] = M.encode(item) end
    return "[" .. table.concat(parts, ",") .. "]"
  end
  for key, item in pairs(value) do parts[#parts + 1] = quoted(key) .. ":" .. M.encode(item) end
  table.sort(parts)
  return "{" .. table.concat(parts, ",") .. "}"
end

-- Exact whole numbers: plain numbers up to 2^53 - 1 on both sides of 0, beyond them lists of digits to the base 10^7 ---

local BASE = 10000000

local function is_big(value) return type(value) == "table" end

local function to_big(value)
  if is_big(value) then return value end
  local big = { negative = value < 0 }
  local rest = abs(value)
  while rest > 0 do
    big[#big + 1] = rest % BASE
    rest = floor(rest / BASE)
  end
  return big
end

local function normal(big)
  while #big > 0 and big[#big] == 0 do big[#big] = nil end
  local value = 0
  if #big <= 3 then
    for at = #big, 1, -1 do
      if value > MAX / BASE then return big end
      value = value * BASE + big[at]
    end
    if value <= MAX then return big.negative and 0 - value or value end
  end
  return big
end

local function compare_size(a, b)
  if #a ~= #b then return #a < #b and -1 or 1 end
  for at = #a, 1, -1 do
    if a[at] ~= b[at] then return a[at] < b[at] and -1 or 1 end
  end
  return 0
end

local function add_big(a, b)
  local sum = { negative = a.negative }
  if a.negative == b.negative then
    local carry = 0
    for at = 1, math.max(#a, #b) do
      local digit = (a[at] or 0) + (b[at] or 0) + carry
      carry = digit >= BASE and 1 or 0
      sum[at] = digit - carry * BASE
    end
    if carry > 0 then sum[#sum + 1] = carry end
    return normal(sum)
  end
  if compare_size(a, b) < 0 then a, b = b, a end
  sum.negative = a.negative
  local borrow = 0
  for at = 1, #a do
    local digit = a[at] - (b[at] or 0) - borrow
    borrow = digit < 0 and 1 or 0
    sum[at] = digit + borrow * BASE
  end
  return normal(sum)
end

local function opposite(value)
  if not is_big(value) then return 0 - value end
  local other = { negative = not value.negative }
  for at, digit in ipairs(value) do other[at] = digit end
  return other
end

local function add(a, b)
  if not is_big(a) and not is_big(b) then
    local sum = a + b
    if abs(sum) <= MAX then return sum end
  end
  return add_big(to_big(a), to_big(b))
end

local function multiply(a, b)
  if not is_big(a) and not is_big(b) and abs(a * 1.0 * b) <= MAX then return a * b + 0 end
  a, b = to_big(a), to_big(b)
  local product = { negative = a.negative ~= b.negative }
  for at = 1, #a + #b do product[at] = 0 end
  for i = 1, #a do
    local carry = 0
    for j = 1, #b do
      local digit = product[i + j - 1] + a[i] * b[j] + carry
      carry = floor(digit / BASE)
      product[i + j - 1] = digit - carry * BASE
    end
    product[i + #b] = product[i + #b] + carry
  end
  return normal(product)
end

local function compare(a, b)
  if not is_big(a) and not is_big(b) then return a < b and -1 or a > b and 1 or 0 end
  a, b = to_big(a), to_big(b)
  if a.negative ~= b.negative then return a.negative and -1 or 1 end
  local size = compare_size(a, b)
  return a.negative and -size or size
end

local function same(a, b)
  if is_big(a) or is_big(b) then return type(a) ~= "boolean" and type(a) ~= "string" and compare(a, b) == 0 end
  return a == b
end

-- Words -----------------------------------------------------------------------------------------------------------

local BLANKS = { ["\194\160"] = true, ["\225\154\128"] = true, ["\226\128\168"] = true, ["\226\128\169"] = true,
  ["\226\128\175"] = true, ["\226\129\159"] = true, ["\227\128\128"] = true, ["\239\187\191"] = true }
for last = 128, 138 do BLANKS["\226\128" .. string.char(last)] = true end

--- Without blanks at both ends, those of Unicode too.
local function trim(word)
  while true do
    local short = string.match(word, "^[ \t\n\v\f\r]+()")
    if short then word = string.sub(word, short)
    elseif BLANKS[string.sub(word, 1, 2)] then word = string.sub(word, 3)
    elseif BLANKS[string.sub(word, 1, 3)] then word = string.sub(word, 4)
    else break end
  end
  while true do
    local short = string.match(word, "()[ \t\n\v\f\r]+$")
    if short then word = string.sub(word, 1, short - 1)
    elseif BLANKS[string.sub(word, -2)] then word = string.sub(word, 1, -3)
    elseif BLANKS[string.sub(word, -3)] then word = string.sub(word, 1, -4)
    else break end
  end
  return word
end

-- The story -------------------------------------------------------------------------------------------------------

local Story = {}
Story.__index = Story
local Game = {}
Game.__index = Game

local function numbered(list, key)
  local numbers = {}
  for at, item in ipairs(list) do numbers[key and item[key] or item] = at - 1 end
  return numbers
end

--- Takes up a bundle, as text or decoded already.
function M.load(source)
  local bundle = source
  if type(source) == "string" then
    local ok, read = pcall(M.decode, source)
    if not ok then refuse("bundle", "this bundle can not be read, it may have been cut off: " .. tostring(read)) end
    bundle = read
  end
  if type(bundle) ~= "table" or bundle.paperCompassBundle ~= 1 then
    refuse("bundle", "this is no bundle of format 1, which is what this runtime reads")
  end
  for _, key in ipairs { "scenes", "entries", "quests", "endings", "cues", "people", "beats", "texts", "locales" } do
    if type(bundle[key]) ~= "table" then refuse("bundle", "this bundle has no " .. key .. ": it may have been cut off") end
  end
  local story = setmetatable({ bundle = bundle, title = bundle.title, choices = {}, groups = {} }, Story)
  for number, beat in ipairs(bundle.beats) do
    for _, choice in ipairs(beat.choices or {}) do
      choice.number = #story.choices
      choice.beat = number - 1
      story.choices[#story.choices + 1] = choice
    end
    local function group(turns)
      turns.number = #story.groups
      story.groups[#story.groups + 1] = turns
    end
    for _, line in ipairs(beat.lines or {}) do
      if line.inTurn then group(line) end
      for _, variant in ipairs(line.firstOf or {}) do
        if variant.turns then group(variant.turns) end
      end
    end
  end
  story.entry_of = numbered(bundle.entries, "id")
  story.quest_of = numbered(bundle.quests, "id")
  story.beat_of = numbered(bundle.beats, "id")
  story.choice_of = numbered(story.choices, "id")
  story.group_of = numbered(story.groups, "group")
  story.scene_of = numbered(bundle.scenes)
  story.person_of = numbered(bundle.people, "id")
  story.stage_of = {}
  for number, quest in ipairs(bundle.quests) do story.stage_of[number - 1] = numbered(quest.stages, "id") end
  return story
end

local function in_domain(entry, value)
  local kind = entry.kind
  if kind == "flag" then return type(value) == "boolean" end
  if kind == "text" then return type(value) == "string" and trim(value) == value end
  if kind == "switch" then
    for _, position in ipairs(entry.positions) do if position == value then return true end end
    return false
  end
  return type(value) == "number" and floor(value) == value and value >= entry.min and value <= entry.max
end

local function check_given(story, given, when)
  for id, value in pairs(given) do
    local number = story.entry_of[id]
    local entry = number and story.bundle.entries[number + 1]
    if not entry then refuse("given", 'there is no ledger entry "' .. tostring(id) .. '"') end
    if not entry.given then refuse("given", '"' .. id .. "\" is the story's own: the game does not set it") end
    if entry.given == "begin" and when == "rest" then
      refuse("given", '"' .. id .. '" is given before the story begins and can not change afterwards')
    end
    if not in_domain(entry, value) then refuse("given", '"' .. id .. '" can not be ' .. tostring(value)) end
  end
end

local function fresh(story)
  local state = { status = "nowhere", at = -1, place = -1, entries = {}, stages = {}, visits = {}, taken = {}, turns = {} }
  for number, entry in ipairs(story.bundle.entries) do state.entries[number - 1] = entry.initial end
  for number in ipairs(story.bundle.quests) do state.stages[number - 1] = 0 end
  return state
end

local function copy_list(list)
  local copy = {}
  for key, value in pairs(list) do copy[key] = value end
  return copy
end

local function copy_state(state)
  local copy = copy_list(state)
  for _, name in ipairs { "entries", "stages", "visits", "taken", "turns" } do copy[name] = copy_list(state[name]) end
  return copy
end

-- Expressions -----------------------------------------------------------------------------------------------------

local evaluate

local OPERATIONS = {
  entry = function(story, state, expr) return state.entries[expr[2]] end,
  quest = function(story, state, expr) return story.bundle.quests[expr[2] + 1].stages[state.stages[expr[2]] + 1].id end,
  visits = function(story, state, expr) return state.visits[expr[2]] or 0 end,
  taken = function(story, state, expr) return state.taken[expr[2]] == true end,
  ["not"] = function(story, state, expr) return not evaluate(story, state, expr[2]) end,
  negate = function(story, state, expr) return opposite(evaluate(story, state, expr[2])) end,
  ["and"] = function(story, state, expr)
    for at = 2, #expr do if not evaluate(story, state, expr[at]) then return false end end
    return true
  end,
  ["or"] = function(story, state, expr)
    for at = 2, #expr do if evaluate(story, state, expr[at]) then return true end end
    return false
  end,
  ["in"] = function(story, state, expr)
    local left = evaluate(story, state, expr[2])
    for _, item in ipairs(expr[3]) do if same(left, evaluate(story, state, item)) then return true end end
    return false
  end,
}

local function rank(story, state, subject)
  if subject[1] == "quest" then return state.stages[subject[2]] end
  local positions = story.bundle.entries[subject[2] + 1].positions
  for at, position in ipairs(positions) do if position == state.entries[subject[2]] then return at - 1 end end
  return -1
end

function OPERATIONS.atLeast(story, state, expr) return rank(story, state, expr[2]) >= expr[3] end
function OPERATIONS.before(story, state, expr) return rank(story, state, expr[2]) < expr[3] end

local function binary(name, work)
  OPERATIONS[name] = function(story, state, expr)
    return work(evaluate(story, state, expr[2]), evaluate(story, state, expr[3]))
  end
end
binary("==", same)
binary("!=", function(a, b) return not same(a, b) end)
binary("<", function(a, b) return compare(a, b) < 0 end)
binary("<=", function(a, b) return compare(a, b) <= 0 end)
binary(">", function(a, b) return compare(a, b) > 0 end)
binary(">=", function(a, b) return compare(a, b) >= 0 end)
binary("+", add)
binary("-", function(a, b) return add(a, opposite(b)) end)
binary("*", multiply)

function evaluate(story, state, expr)
  if type(expr) ~= "table" then return expr end
  return OPERATIONS[expr[1]](story, state, expr)
end

local function holds(story, state, when)
  return when == nil or evaluate(story, state, when) == true
end

-- Effects and choices ---------------------------------------------------------------------------------------------

local function apply(story, state, effects)
  for _, effect in ipairs(effects or {}) do
    local kind, target = effect[1], effect[2]
    if kind == "stage" then
      state.stages[target] = effect[3]
    else
      local value = evaluate(story, state, effect[3])
      local entry = story.bundle.entries[target + 1]
      if kind == "+=" then value = add(state.entries[target], value) end
      if kind == "-=" then value = add(state.entries[target], opposite(value)) end
      if entry.kind == "counter" or entry.kind == "item" then
        if compare(value, entry.min) < 0 then value = entry.min end
        if compare(value, entry.max) > 0 then value = entry.max end
      end
      state.entries[target] = value
    end
  end
end

local function leads(state, road)
  if road == "return" then return state.place ~= -1 end
  return road ~= null and road ~= nil
end

local function first_rule(story, state, rules)
  for _, rule in ipairs(rules or {}) do
    if holds(story, state, rule.when) and leads(state, rule.to) then return rule end
  end
end

--- Whether a choice is open, and of a list the rule that would be used; else why not.
local function openness(story, state, choice)
  if not holds(story, state, choice.when) then return false, "gate" end
  if choice.once and state.taken[choice.number] then return false, "once" end
  if type(choice.to) ~= "table" or choice.to == null then
    if leads(state, choice.to) then return true end
    return false, choice.to == "return" and "no-place" or "nowhere"
  end
  local trial = copy_state(state)
  trial.taken[choice.number] = true
  apply(story, trial, choice["do"])
  local rule = first_rule(story, trial, choice.to)
  if rule then return true, rule end
  return false, "rules"
end

-- The order of play -----------------------------------------------------------------------------------------------

local function phase_after(turns, times)
  local count = #turns.inTurn
  if turns.order == "again" then return times % count end
  if turns.order == "any" then return 0 end
  return math.min(times, turns.order == "once" and count or count - 1)
end

local function same_state(story, a, b)
  if a.at ~= b.at or a.place ~= b.place then return false end
  for number = 0, #story.bundle.entries - 1 do if a.entries[number] ~= b.entries[number] then return false end end
  for number = 0, #story.bundle.quests - 1 do if a.stages[number] ~= b.stages[number] then return false end end
  for _, name in ipairs { "visits", "taken" } do
    for key, value in pairs(a[name]) do if b[name][key] ~= value then return false end end
    for key, value in pairs(b[name]) do if a[name][key] ~= value then return false end end
  end
  for number, turns in ipairs(story.groups) do
    if phase_after(turns, a.turns[number - 1] or 0) ~= phase_after(turns, b.turns[number - 1] or 0) then return false end
  end
  return true
end

-- Park and Miller's multiplier, so that every product is exact as a double.
local function pick_turn(seed, group, times, count)
  local function next_of(value, more) return (value * 48271 + more + 1) % 2147483647 end
  local value = next_of(next_of(seed % 2147483647, group), times % 2147483647)
  return next_of(next_of(value, 0), 0) % count
end

function Game:_show(state, line)
  local story = self.story
  if not holds(story, state, line.when) then return end
  local beat = story.bundle.beats[state.at + 1]
  self.lines[#self.lines + 1] = {
    text = self:_text(state, line.text),
    speaker = line.speaker,
    name = line.speaker and self:_person(state, line.speaker),
    manner = line.manner,
    key = line.id and "line/" .. beat.id .. "/" .. line.id,
    beat = beat.id,
  }
  self:_issue(line.cues)
  apply(story, state, line["do"])
end

function Game:_issue(cues)
  for _, use in ipairs(cues or {}) do
    local cue = self.story.bundle.cues[use[1] + 1]
    self.cues[#self.cues + 1] = { id = cue.id, name = cue.name, with = use[2] }
  end
end

function Game:_show_turn(state, turns)
  local times = state.turns[turns.number] or 0
  local count = #turns.inTurn
  local at = phase_after(turns, times)
  if turns.order == "any" and self.seed then at = pick_turn(self.seed, turns.number, times, count) end
  state.turns[turns.number] = times + 1
  for _, line in ipairs(turns.inTurn[at + 1] or {}) do self:_show(state, line) end
end

function Game:_follow(state, rule)
  apply(self.story, state, rule["do"])
  if rule.to == "return" then return state.place end
  return rule.to
end

local function rest(state, status)
  state.status = status
end

function Game:_onward(state, beat)
  local rule = first_rule(self.story, state, beat.onward)
  if not rule then return rest(state, "stuck") end
  return self:_follow(state, rule)
end

function Game:_come_to_choices(state, beat)
  if not beat.ask then
    for _, choice in ipairs(beat.choices or {}) do
      if openness(self.story, state, choice) then return rest(state, "choice") end
    end
  end
  return self:_onward(state, beat)
end

function Game:_come_to_rest(state, beat)
  if beat.ending then return rest(state, "ended") end
  if beat.ask then return rest(state, "word") end
  return self:_come_to_choices(state, beat)
end

--- One beat: gives the next one's number, or nil where the story rests.
function Game:_visit(state, number)
  local story = self.story
  local beat = story.bundle.beats[number + 1]
  local before = state.at == -1 and -1 or story.bundle.beats[state.at + 1].scene
  if before ~= beat.scene then
    for at, entry in ipairs(story.bundle.entries) do
      if entry.scene == beat.scene then state.entries[at - 1] = entry.initial end
    end
  end
  state.at = number
  local redirect = first_rule(story, state, beat.redirects)
  if redirect then return self:_follow(state, redirect) end
  if beat.place then state.place = number end
  state.visits[number] = math.min(VISITS_MAX, (state.visits[number] or 0) + 1)
  for _, rule in ipairs(beat.arrive or {}) do
    if holds(story, state, rule.when) then apply(story, state, rule["do"]) end
  end
  for _, line in ipairs(beat.lines or {}) do
    if line.inTurn then
      if holds(story, state, line.when) then self:_show_turn(state, line) end
    elseif line.firstOf then
      for _, variant in ipairs(line.firstOf) do
        if holds(story, state, variant.when) then
          for _, inner in ipairs(variant.lines or {}) do self:_show(state, inner) end
          if variant.turns then self:_show_turn(state, variant.turns) end
          break
        end
      end
    else
      self:_show(state, line)
    end
  end
  return self:_come_to_rest(state, beat)
end

--- Follows the story to where it rests. Brent's cycle detection (1980) finds a run that never does.
function Game:_travel(state, target)
  local kept, kept_target
  local steps, power = 0, 1
  while target do
    if kept and target == kept_target and same_state(self.story, kept, state) then
      state.status = "endless"
      return state
    end
    steps = steps + 1
    if steps == power then
      kept, kept_target = copy_state(state), target
      power = power * 2
    end
    target = self:_visit(state, target)
  end
  return state
end

-- Texts -----------------------------------------------------------------------------------------------------------

local function category(rules, value)
  local size = abs(value)
  for _, rule in ipairs(rules) do
    for _, relations in ipairs(rule[2]) do
      local all = true
      for _, relation in ipairs(relations) do
        local operand = relation[1] == 0 and size or size % relation[1]
        local among = false
        for at = 3, #relation, 2 do among = among or (operand >= relation[at] and operand <= relation[at + 1]) end
        if among == (relation[2] == 1) then
          all = false
          break
        end
      end
      if all then return rule[1] end
    end
  end
  return "other"
end

local function written_number(locale, value, more_zeros)
  local digits = string.format("%.0f", abs(value)) .. (more_zeros or "")
  if abs(value) == 0 then digits = "0" end
  local last, before, least = locale.groups[1], locale.groups[2], locale.groups[3]
  local parts, stop, size = {}, #digits, last
  if #digits >= last + least then
    while stop > 0 do
      table.insert(parts, 1, string.sub(digits, math.max(1, stop - size + 1), stop))
      stop, size = stop - size, before
    end
  else
    parts[1] = digits
  end
  local text = string.gsub(table.concat(parts, "\0"), ".", function(sign)
    if sign == "\0" then return locale.group end
    return locale.digits[tonumber(sign) + 1]
  end)
  return value < 0 and locale.negative[1] .. text .. locale.negative[2] or text
end

function Game:_value(state, argument)
  local of, number = argument[1], argument[2]
  if of == "entry" then return state.entries[number] end
  if of == "quest" then return self.story.bundle.quests[number + 1].stages[state.stages[number] + 1].id end
  return self:_person(state, self.story.bundle.people[number + 1].id)
end

local function shown(value)
  if type(value) == "number" then return plain_number(value) end
  return tostring(value)
end

function Game:_format(state, text, locale, count)
  if type(text) == "string" then return text end
  local parts = {}
  for at, part in ipairs(text) do
    local said
    if type(part) == "string" then said = part
    elseif part.count then said = written_number(locale, count)
    elseif part.show then said = shown(self:_value(state, part.show))
    elseif part.number then
      -- of styles this port knows percent; any other is written as a plain number
      local percent = part.style and part.style.style == "percent"
      said = written_number(locale, self:_value(state, part.number), percent and "00" or nil) .. (percent and "%" or "")
    elseif part.select then
      said = self:_format(state, part.forms[shown(self:_value(state, part.select))] or part.forms.other, locale)
    else
      local value = self:_value(state, part.plural)
      local less = value - (part.offset or 0)
      local form = part.forms["=" .. plain_number(value)]
        or part.forms[category(part.ordinal and locale.ordinal or locale.cardinal, less)]
        or part.forms.other
      said = self:_format(state, form, locale, less)
    end
    parts[at] = said
  end
  return table.concat(parts)
end

function Game:_text(state, number)
  local bundle = self.story.bundle
  local language = self.language
  local text = bundle.texts[language][number + 1]
  if text == null or text == nil then
    language = bundle.language
    text = bundle.texts[language][number + 1]
  end
  return self:_format(state, text, bundle.locales[language])
end

function Game:_person(state, id)
  local number = self.story.person_of[id]
  if not number then return id end
  local person = self.story.bundle.people[number + 1]
  for _, called in ipairs(person.called or {}) do
    if holds(self.story, state, called.when) then return self:_text(state, called.name) end
  end
  return self:_text(state, person.name)
end

-- What a game uses ------------------------------------------------------------------------------------------------

local function new_game(story, options)
  local language = options.language or story.bundle.language
  if not story.bundle.texts[language] then refuse("language", 'the story has no language "' .. tostring(language) .. '"') end
  return setmetatable({ story = story, language = language, seed = options.seed, lines = {}, cues = {} }, Game)
end

--- Begins. options: given, language, seed, save.
function Story:begin(options)
  options = options or {}
  local game = new_game(self, options)
  if options.save then
    game:load(options.save)
    return game
  end
  check_given(self, options.given or {}, "begin")
  local state = fresh(self)
  for id, value in pairs(options.given or {}) do state.entries[self.entry_of[id]] = value end
  if self.bundle.start ~= -1 then game:_travel(state, self.bundle.start) end
  game.state = state
  return game
end

function Game:status() return self.state.status end

local function beat_id(game, number)
  local beat = game.story.bundle.beats[number + 1]
  return beat and beat.id
end

--- The beat where the story rests.
function Game:beat() return beat_id(self, self.state.at) end

--- Those that are open, and those that are shown closed: { id, text, who, name, open, why }.
function Game:choices()
  local list = {}
  local state = self.state
  if state.status ~= "choice" and state.status ~= "stuck" then return list end
  local beat = self.story.bundle.beats[state.at + 1]
  for _, choice in ipairs(beat and beat.choices or {}) do
    local open, why = openness(self.story, state, choice)
    if open or choice.shown then
      list[#list + 1] = {
        id = choice.id,
        text = self:_text(state, choice.text),
        who = choice.who,
        name = choice.who and self:_person(state, choice.who),
        open = open,
        why = not open and why or nil,
      }
    end
  end
  return list
end

--- What word the player is asked for: { text, suggest, default }.
function Game:prompt()
  local state = self.state
  if state.status ~= "word" then return nil end
  local ask = self.story.bundle.beats[state.at + 1].ask
  local suggest = {}
  for at, word in ipairs(ask.suggest or {}) do suggest[at] = self:_text(state, word) end
  return { text = self:_text(state, ask.prompt), suggest = suggest, default = ask.default }
end

function Game:ending()
  local state = self.state
  if state.status ~= "ended" then return nil end
  local ending = self.story.bundle.endings[self.story.bundle.beats[state.at + 1].ending + 1]
  return { id = ending.id, name = self:_text(state, ending.name) }
end

--- All that the story remembers now, by id.
function Game:ledger()
  local found = {}
  local beat = self.story.bundle.beats[self.state.at + 1]
  for number, entry in ipairs(self.story.bundle.entries) do
    if not entry.scene or (beat and entry.scene == beat.scene) then found[entry.id] = self.state.entries[number - 1] end
  end
  return found
end

function Game:stages()
  local found = {}
  for number, quest in ipairs(self.story.bundle.quests) do
    found[quest.id] = quest.stages[self.state.stages[number - 1] + 1].id
  end
  return found
end

--- The quests that have begun: { quest, name, stage, stageName, outcome, text }.
function Game:journal()
  local pages = {}
  for number, quest in ipairs(self.story.bundle.quests) do
    local stage = quest.stages[self.state.stages[number - 1] + 1]
    if stage.id ~= "unstarted" then
      pages[#pages + 1] = {
        quest = quest.id,
        name = self:_text(self.state, quest.name),
        stage = stage.id,
        stageName = self:_text(self.state, stage.name),
        outcome = stage.outcome,
        text = stage.journal and self:_text(self.state, stage.journal),
      }
    end
  end
  return pages
end

--- What is carried: { id, name, count }.
function Game:bag()
  local items = {}
  for number, entry in ipairs(self.story.bundle.entries) do
    local count = self.state.entries[number - 1]
    if entry.kind == "item" and count > 0 then
      items[#items + 1] = { id = entry.id, name = entry.name or entry.id, count = count }
    end
  end
  return items
end

local function quiet_until_done(game, work)
  local lines, cues = game.lines, game.cues
  game.lines, game.cues = {}, {}
  local ok, state = pcall(work)
  if not ok then
    game.lines, game.cues = lines, cues
    error(state, 0)
  end
  game.state = state
  return game
end

--- Takes a choice that is open.
function Game:choose(id)
  local story = self.story
  local number = story.choice_of[id]
  local choice = number and story.choices[number + 1]
  if not choice then refuse("choice", 'there is no choice "' .. tostring(id) .. '"') end
  if self.state.status ~= "choice" or self.state.at ~= choice.beat then refuse("choice", '"' .. id .. '" is not offered') end
  local open, rule = openness(story, self.state, choice)
  if not open then refuse("choice", '"' .. id .. '" is closed here') end
  return quiet_until_done(self, function()
    local state = copy_state(self.state)
    self:_issue(choice.cues)
    state.taken[number] = true
    apply(story, state, choice["do"])
    local road = choice.to
    if rule then
      apply(story, state, rule["do"])
      road = rule.to
    end
    return self:_travel(state, road == "return" and state.place or road)
  end)
end

--- Answers the word that is asked for.
function Game:say(word)
  if type(word) ~= "string" then refuse("word", "a word is a text") end
  if self.state.status ~= "word" then refuse("word", "no word is asked for") end
  local beat = self.story.bundle.beats[self.state.at + 1]
  local kept = trim(word)
  if kept == "" then kept = beat.ask.default or refuse("word", "a word can not be empty") end
  return quiet_until_done(self, function()
    local state = copy_state(self.state)
    if beat.ask.into ~= -1 then state.entries[beat.ask.into] = kept end
    return self:_travel(state, self:_onward(state, beat))
  end)
end

--- Sets values that are the game's; the choices are come to again.
function Game:give(values)
  check_given(self.story, values, "rest")
  local status = self.state.status
  if status == "endless" or status == "nowhere" then refuse("given", "the story does not rest") end
  return quiet_until_done(self, function()
    if status == "ended" then return self.state end
    local state = copy_state(self.state)
    for id, value in pairs(values) do state.entries[self.story.entry_of[id]] = value end
    if status == "word" then return state end
    return self:_travel(state, self:_come_to_choices(state, self.story.bundle.beats[state.at + 1]))
  end)
end

--- Where the story rests, as a table; compass.encode makes text of it.
function Game:save()
  local state, bundle = self.state, self.story.bundle
  if state.status == "endless" or state.status == "nowhere" or state.at == -1 then
    refuse("save", "the story does not rest, so it can not be saved")
  end
  local visits, turns, taken = {}, {}, setmetatable({}, LIST)
  for number, beat in ipairs(bundle.beats) do visits[beat.id] = state.visits[number - 1] end
  for number, group in ipairs(self.story.groups) do turns[group.group] = state.turns[number - 1] end
  for number, choice in ipairs(self.story.choices) do
    if state.taken[number - 1] then taken[#taken + 1] = choice.id end
  end
  local ending = self:ending()
  return {
    paperCompassSave = 1,
    at = bundle.beats[state.at + 1].id,
    status = state.status,
    ending = ending and ending.id or null,
    place = beat_id(self, state.place) or null,
    ledger = self:ledger(),
    stages = self:stages(),
    visits = visits,
    taken = taken,
    turns = turns,
    seed = self.seed,
  }
end

local function carried(entry, value)
  local kind = entry.kind
  if (kind == "counter" or kind == "item") and type(value) == "number" and floor(value) == value then
    return math.min(entry.max, math.max(entry.min, value))
  end
  if kind == "text" and not entry.given and type(value) == "string" then return value end
  if value ~= nil and in_domain(entry, value) then return value end
  return entry.initial
end

--- Goes on from a save, of this version of the story or another. Gives whether its beat is gone.
function Game:load(source)
  local save = type(source) == "string" and M.decode(source) or source
  if type(save) ~= "table" or save.paperCompassSave ~= 1 or type(save.at) ~= "string" then
    refuse("save", "this is no save that can be read")
  end
  for _, key in ipairs { "ledger", "stages", "visits", "taken", "turns" } do
    if type(save[key]) ~= "table" then refuse("save", "this save has no " .. key) end
  end
  local story, moved = self.story, false
  quiet_until_done(self, function()
    local state = fresh(story)
    local scene = story.scene_of[string.match(save.at, "^[^.]*")] or -1
    for number, entry in ipairs(story.bundle.entries) do
      if not entry.scene or entry.scene == scene then state.entries[number - 1] = carried(entry, save.ledger[entry.id]) end
    end
    for number, quest in ipairs(story.bundle.quests) do
      state.stages[number - 1] = story.stage_of[number - 1][save.stages[quest.id]] or 0
    end
    for id, times in pairs(save.visits) do
      if story.beat_of[id] then state.visits[story.beat_of[id]] = math.min(VISITS_MAX, times) end
    end
    for _, id in ipairs(save.taken) do
      if story.choice_of[id] then state.taken[story.choice_of[id]] = true end
    end
    for id, times in pairs(save.turns) do
      if story.group_of[id] then state.turns[story.group_of[id]] = times end
    end
    local place = save.place ~= null and save.place ~= nil and story.beat_of[save.place]
    if place and story.bundle.beats[place + 1].place then state.place = place end
    self.seed = save.seed or self.seed
    local at = story.beat_of[save.at]
    if at then
      state.at = at
      return self:_travel(state, self:_come_to_rest(state, story.bundle.beats[at + 1]))
    end
    moved = true
    local target = state.place ~= -1 and state.place or story.bundle.start
    if target == -1 then
      state.status = "stuck"
      return state
    end
    for number, beat in ipairs(story.bundle.beats) do
      if beat.scene == scene then
        state.at = number - 1
        break
      end
    end
    return self:_travel(state, target)
  end)
  return moved
end

return M
