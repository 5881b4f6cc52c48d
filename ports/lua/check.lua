-- Holds paper_compass.lua against the conformance kit: lua check.lua FILE.json …
-- Prints what differs, and fails where anything does.

local here = string.match(arg[0], "^(.*)[/\\][^/\\]*$") or "."
package.path = here .. "/?.lua;" .. package.path
local compass = require "paper_compass"

local function empty(value) return type(value) == "table" and value ~= compass.null and next(value) == nil end

--- Where two values differ first; nothing where they are the same.
local function difference(wanted, found, path)
  if empty(wanted) and found == nil then return end
  if type(wanted) ~= type(found) or (type(wanted) ~= "table" and wanted ~= found) then
    return path .. ": expected " .. tostring(wanted) .. ", found " .. tostring(found)
  end
  if type(wanted) ~= "table" or wanted == found then return end
  for key, value in pairs(wanted) do
    local differs = difference(value, found[key], path .. "." .. tostring(key))
    if differs then return differs end
  end
  for key, value in pairs(found) do
    if wanted[key] == nil and not empty(value) then return path .. "." .. tostring(key) .. ": not expected" end
  end
end

local function only(list, keys)
  local short = {}
  for at, item in ipairs(list) do
    short[at] = {}
    for _, key in ipairs(keys) do short[at][key] = item[key] end
  end
  return short
end

local function changed(now, before)
  local different = {}
  for key, value in pairs(now) do if before[key] ~= value then different[key] = value end end
  return different
end

local function act(story, game, trace, what)
  if what.begin then return story:begin { given = what.begin, language = trace.language, seed = trace.seed } end
  if what.choose then return game:choose(what.choose) end
  if what.say then return game:say(what.say) end
  if what.give then return game:give(what.give) end
  -- through its text, as a game would
  game:load(compass.encode(game:save()))
  return game
end

local checked, failed = 0, 0
for at = 1, #arg do
  local file = assert(io.open(arg[at], "rb"))
  local kit = compass.decode(file:read("*a"))
  file:close()
  local story = compass.load(kit.bundle)
  for number, trace in ipairs(kit.traces) do
    local game, differs
    local ledger, stages = {}, {}
    for step, one in ipairs(trace.steps) do
      local ok, next_game = pcall(act, story, game, trace, one["do"])
      local found
      if ok then
        game = next_game
        local now_ledger, now_stages = game:ledger(), game:stages()
        found = {
          lines = only(game.lines, { "text", "speaker", "name", "manner", "key" }),
          cues = only(game.cues, { "id", "with" }),
          status = game:status(),
          beat = game:beat(),
          choices = only(game:choices(), { "id", "text", "name", "open" }),
          prompt = game:prompt(),
          ending = game:ending(),
          ledger = changed(now_ledger, ledger),
          stages = changed(now_stages, stages),
          journal = only(game:journal(), { "quest", "name", "stage", "stageName", "text" }),
        }
        ledger, stages = now_ledger, now_stages
      elseif type(next_game) == "table" and next_game.of then
        found = { refused = true }
      else
        error(next_game)
      end
      checked = checked + 1
      differs = difference(one.expect, found, "step " .. step)
      if differs then break end
    end
    if trace.save and not differs then
      differs = difference(trace.save, compass.decode(compass.encode(game:save())), "save")
    end
    if differs then
      failed = failed + 1
      print(arg[at] .. ", trace " .. number .. ", " .. differs)
    end
  end
end
print(checked .. " steps checked, " .. failed .. " traces differ")
os.exit(failed == 0 and checked > 0 and 0 or 1)
