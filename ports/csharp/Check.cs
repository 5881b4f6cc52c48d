// Holds PaperCompass.cs against the conformance kit: Check.exe FILE.json …
// Prints what differs, and fails where anything does.

using System;
using System.Collections.Generic;
using System.IO;
using System.Linq;
using PaperCompass;

static class Check
{
    static bool IsEmpty(object value)
    {
        if (value == null) return true;
        if (value is IDictionary<string, object>) return ((IDictionary<string, object>)value).Count == 0;
        return value is IList<object> && ((IList<object>)value).Count == 0;
    }

    /// <summary>Where two values differ first; null where they are the same.</summary>
    static string Difference(object wanted, object found, string path)
    {
        if (IsEmpty(wanted) && IsEmpty(found)) return null;
        var map = wanted as IDictionary<string, object>;
        if (map != null && found is IDictionary<string, object>)
        {
            var other = (IDictionary<string, object>)found;
            foreach (var key in map.Keys.Union(other.Keys))
            {
                object a, b;
                map.TryGetValue(key, out a);
                other.TryGetValue(key, out b);
                var differs = Difference(a, b, path + "." + key);
                if (differs != null) return differs;
            }
            return null;
        }
        var list = wanted as IList<object>;
        if (list != null && found is IList<object>)
        {
            var other = (IList<object>)found;
            if (list.Count != other.Count) return path + ": expected " + list.Count + ", found " + other.Count;
            return list.Select((item, at) => Difference(item, other[at], path + "[" + at + "]")).FirstOrDefault(one => one != null);
        }
        return Equals(wanted, found) ? null : path + ": expected " + wanted + ", found " + found;
    }

    static IDictionary<string, object> Map(params object[] pairs)
    {
        var map = new Dictionary<string, object>();
        for (var at = 0; at < pairs.Length; at += 2) if (pairs[at + 1] != null) map[(string)pairs[at]] = pairs[at + 1];
        return map;
    }

    static object List<T>(IEnumerable<T> items, Func<T, object> each)
    {
        return items.Select(each).ToList();
    }

    static IDictionary<string, object> Changed<T>(IDictionary<string, T> now, IDictionary<string, object> before)
    {
        object was;
        return now.Where(pair => !before.TryGetValue(pair.Key, out was) || !Equals(was, pair.Value)).ToDictionary(pair => pair.Key, pair => (object)pair.Value);
    }

    static Game Act(Story story, Game game, IDictionary<string, object> trace, IDictionary<string, object> what)
    {
        object value, language, seed;
        if (what.TryGetValue("begin", out value))
        {
            trace.TryGetValue("language", out language);
            trace.TryGetValue("seed", out seed);
            return story.Begin((IDictionary<string, object>)value, (string)language, seed == null ? (long?)null : (long)seed);
        }
        if (what.TryGetValue("choose", out value)) game.Choose((string)value);
        else if (what.TryGetValue("say", out value)) game.Say((string)value);
        else if (what.TryGetValue("give", out value)) game.Give((IDictionary<string, object>)value);
        // through its text, as a game would
        else game.Load(Json.Read(Json.Write(game.Save())));
        return game;
    }

    static int Main(string[] files)
    {
        int steps = 0, failed = 0;
        foreach (var file in files)
        {
            var kit = (IDictionary<string, object>)Json.Read(File.ReadAllText(file));
            var story = Story.Load(kit["bundle"]);
            var number = 0;
            foreach (IDictionary<string, object> trace in (IList<object>)kit["traces"])
            {
                number++;
                Game game = null;
                IDictionary<string, object> ledger = Map(), stages = Map();
                string differs = null;
                var at = 0;
                foreach (IDictionary<string, object> step in (IList<object>)trace["steps"])
                {
                    at++;
                    steps++;
                    IDictionary<string, object> found;
                    try
                    {
                        game = Act(story, game, trace, (IDictionary<string, object>)step["do"]);
                        var ending = game.Ending;
                        var prompt = game.Prompt;
                        found = Map(
                            "lines", List(game.Lines, line => Map("text", line.Text, "speaker", line.Speaker, "name", line.Name, "manner", line.Manner, "key", line.Key)),
                            "cues", List(game.Cues, cue => Map("id", cue.Id, "with", cue.With)),
                            "status", game.Status,
                            "beat", game.Beat,
                            "choices", List(game.Choices, choice => Map("id", choice.Id, "text", choice.Text, "name", choice.Name, "open", choice.Open)),
                            "prompt", prompt == null ? null : Map("text", prompt.Text, "suggest", List(prompt.Suggest, word => word), "default", prompt.Default),
                            "ending", ending == null ? null : Map("id", ending.Value.Key, "name", ending.Value.Value),
                            "ledger", Changed(game.Ledger, ledger),
                            "stages", Changed(game.Stages, stages),
                            "journal", List(game.Journal, page => Map("quest", page.Quest, "name", page.Name, "stage", page.Stage, "stageName", page.StageName, "text", page.Text)));
                        ledger = game.Ledger;
                        stages = game.Stages.ToDictionary(pair => pair.Key, pair => (object)pair.Value);
                    }
                    catch (StoryException)
                    {
                        found = Map("refused", true);
                    }
                    differs = Difference(step["expect"], found, "step " + at);
                    if (differs != null) break;
                }
                object save;
                if (differs == null && trace.TryGetValue("save", out save)) differs = Difference(save, Json.Read(Json.Write(game.Save())), "save");
                if (differs == null) continue;
                failed++;
                Console.WriteLine(file + ", trace " + number + ", " + differs);
            }
        }
        Console.WriteLine(steps + " steps checked, " + failed + " traces differ");
        return failed == 0 && steps > 0 ? 0 : 1;
    }
}
