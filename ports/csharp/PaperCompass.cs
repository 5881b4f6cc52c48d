// Paper Compass for C# (netstandard 2.0): plays a bundle by the contract. Beside this file a JSON reader is needed that
// gives dictionaries, lists, texts, numbers (long or double), bools and null; Json.cs is one.
//
//   var story = PaperCompass.Story.Load(Json.Read(textOfTheBundle));
//   var game = story.Begin(language: "de", seed: 7);
//   foreach (var line in game.Lines) Show(line.Name, line.Text);
//   foreach (var choice in game.Choices) Offer(choice.Id, choice.Text, choice.Open);
//   game.Choose("quay.morning.pay");
//
// What can't be done throws StoryException, and nothing has changed.

using System;
using System.Collections.Generic;
using System.Globalization;
using System.Linq;
using System.Numerics;
using System.Text;

namespace PaperCompass
{
    using Map = IDictionary<string, object>;
    using Items = IList<object>;

    /// <summary>What can't be done, and of what: bundle, save, choice, word, given or language.</summary>
    public sealed class StoryException : Exception
    {
        public string Of { get; private set; }

        public StoryException(string of, string message) : base(message)
        {
            Of = of;
        }
    }

    public sealed class Line
    {
        public string Text, Speaker, Name, Manner, Key, Beat;
    }

    public sealed class Cue
    {
        public string Id, Name, With;
    }

    public sealed class Choice
    {
        public string Id, Text, Who, Name, Why;
        public bool Open;
    }

    public sealed class Prompt
    {
        public string Text, Default;
        public List<string> Suggest;
    }

    public sealed class JournalPage
    {
        public string Quest, Name, Stage, StageName, Outcome, Text;
    }

    public sealed class Carried
    {
        public string Id, Name;
        public long Count;
    }

    /// <summary>Short ways into what was read from JSON.</summary>
    static class Read
    {
        public static object Get(this Map map, string key)
        {
            object value;
            return map.TryGetValue(key, out value) ? value : null;
        }

        public static string Text(this Map map, string key)
        {
            return map.Get(key) as string;
        }

        public static int Number(this Map map, string key, int otherwise)
        {
            var value = map.Get(key);
            return value == null ? otherwise : Int(value);
        }

        public static int Int(object value)
        {
            return (int)Convert.ToInt64(value, CultureInfo.InvariantCulture);
        }

        static readonly Items None = new object[0];

        public static Items List(this Map map, string key)
        {
            return map.Get(key) as Items ?? None;
        }

        public static IEnumerable<Map> Maps(this Map map, string key)
        {
            return map.List(key).Cast<Map>();
        }

        public static bool Is(this Map map, string key)
        {
            return true.Equals(map.Get(key));
        }

        public static bool IsWhole(object value)
        {
            if (value is long || value is int) return true;
            return value is double && Math.Floor((double)value) == (double)value && Math.Abs((double)value) <= 9007199254740991;
        }

        public static long Whole(object value)
        {
            return Convert.ToInt64(value, CultureInfo.InvariantCulture);
        }
    }

    /// <summary>A story that can be played, any number of times at once.</summary>
    public sealed class Story
    {
        internal Map Bundle;
        internal List<Map> Entries, Quests, Beats, People, Endings, Cues, Choices, Groups;
        internal List<int> ChoiceBeats;
        internal Dictionary<string, int> EntryOf, QuestOf, BeatOf, ChoiceOf, GroupOf, PersonOf, SceneOf;
        internal Dictionary<Map, int> NumberOf;

        public string Title { get { return Bundle.Text("title"); } }

        /// <summary>Its own first.</summary>
        public IEnumerable<string> Languages
        {
            get
            {
                var own = Bundle.Text("language");
                return new[] { own }.Concat(((Map)Bundle.Get("texts")).Keys.Where(tag => tag != own));
            }
        }

        /// <summary>Takes up a bundle that was read from JSON.</summary>
        public static Story Load(object json)
        {
            var bundle = json as Map;
            if (bundle == null || !Read.IsWhole(bundle.Get("paperCompassBundle")) || Read.Whole(bundle.Get("paperCompassBundle")) != 1)
                throw new StoryException("bundle", "this is no bundle of format 1, which is what this runtime reads");
            foreach (var key in new[] { "scenes", "entries", "quests", "endings", "cues", "people", "beats" })
                if (!(bundle.Get(key) is Items)) throw new StoryException("bundle", "this bundle has no " + key + ": it may have been cut off");
            foreach (var key in new[] { "texts", "locales" })
                if (!(bundle.Get(key) is Map)) throw new StoryException("bundle", "this bundle has no " + key + ": it may have been cut off");
            return new Story(bundle);
        }

        Story(Map bundle)
        {
            Bundle = bundle;
            Entries = bundle.Maps("entries").ToList();
            Quests = bundle.Maps("quests").ToList();
            Beats = bundle.Maps("beats").ToList();
            People = bundle.Maps("people").ToList();
            Endings = bundle.Maps("endings").ToList();
            Cues = bundle.Maps("cues").ToList();
            Choices = new List<Map>();
            ChoiceBeats = new List<int>();
            Groups = new List<Map>();
            NumberOf = new Dictionary<Map, int>();
            for (var beat = 0; beat < Beats.Count; beat++)
            {
                foreach (var choice in Beats[beat].Maps("choices"))
                {
                    NumberOf[choice] = Choices.Count;
                    Choices.Add(choice);
                    ChoiceBeats.Add(beat);
                }
                foreach (var line in Beats[beat].Maps("lines"))
                {
                    if (line.Get("inTurn") != null) AddGroup(line);
                    foreach (var variant in line.Maps("firstOf"))
                        if (variant.Get("turns") != null) AddGroup((Map)variant.Get("turns"));
                }
            }
            EntryOf = Numbered(Entries, "id");
            QuestOf = Numbered(Quests, "id");
            BeatOf = Numbered(Beats, "id");
            ChoiceOf = Numbered(Choices, "id");
            GroupOf = Numbered(Groups, "group");
            PersonOf = Numbered(People, "id");
            SceneOf = new Dictionary<string, int>();
            foreach (string scene in bundle.List("scenes")) SceneOf[scene] = SceneOf.Count;
        }

        void AddGroup(Map turns)
        {
            NumberOf[turns] = Groups.Count;
            Groups.Add(turns);
        }

        static Dictionary<string, int> Numbered(List<Map> list, string key)
        {
            var numbers = new Dictionary<string, int>();
            for (var at = 0; at < list.Count; at++) numbers[list[at].Text(key)] = at;
            return numbers;
        }

        /// <summary>Begins a playthrough, up to where the story first rests.</summary>
        public Game Begin(IDictionary<string, object> given = null, string language = null, long? seed = null)
        {
            var game = new Game(this, language, seed);
            game.Start(given ?? new Dictionary<string, object>());
            return game;
        }

        /// <summary>Goes on from a save that was read from JSON.</summary>
        public Game Resume(object save, string language = null)
        {
            var game = new Game(this, language, null);
            game.Load(save);
            return game;
        }

        internal bool IsInDomain(Map entry, object value)
        {
            switch (entry.Text("kind"))
            {
                case "flag":
                    return value is bool;
                case "text":
                    return value is string && Words.Trim((string)value) == (string)value;
                case "switch":
                    return value is string && entry.List("positions").Contains(value);
                default:
                    return Read.IsWhole(value) && Read.Whole(value) >= Read.Whole(entry.Get("min")) && Read.Whole(value) <= Read.Whole(entry.Get("max"));
            }
        }
    }

    static class Words
    {
        const string Blanks = "\u0009\u000A\u000B\u000C\u000D\u0020\u00A0\u1680\u2000\u2001\u2002\u2003\u2004\u2005\u2006\u2007\u2008\u2009\u200A\u2028\u2029\u202F\u205F\u3000\uFEFF";
        static readonly char[] Signs = Blanks.ToCharArray();

        public static string Trim(string word)
        {
            return word.Trim(Signs);
        }
    }

    sealed class State
    {
        public string Status = "nowhere";
        public int At = -1, Place = -1;
        /// <summary>bool, string or long.</summary>
        public object[] Entries;
        public int[] Stages, Visits;
        public bool[] Taken;
        public long[] Turns;

        public static State Fresh(Story story)
        {
            return new State
            {
                Entries = story.Entries.Select(entry => Kept(entry.Get("initial"))).ToArray(),
                Stages = new int[story.Quests.Count],
                Visits = new int[story.Beats.Count],
                Taken = new bool[story.Choices.Count],
                Turns = new long[story.Groups.Count],
            };
        }

        public static object Kept(object value)
        {
            return value is bool || value is string ? value : Read.Whole(value);
        }

        public State Copy()
        {
            var copy = (State)MemberwiseClone();
            copy.Entries = (object[])Entries.Clone();
            copy.Stages = (int[])Stages.Clone();
            copy.Visits = (int[])Visits.Clone();
            copy.Taken = (bool[])Taken.Clone();
            copy.Turns = (long[])Turns.Clone();
            return copy;
        }
    }

    /// <summary>One playing of a story. It always stands where the story rests.</summary>
    public sealed class Game
    {
        const int VisitsMax = 99;

        readonly Story story;
        readonly string language;
        State state;
        List<Line> lines = new List<Line>();
        List<Cue> cues = new List<Cue>();

        /// <summary>Turns of the order "any" are picked by it; without one the first is shown.</summary>
        public long? Seed { get; private set; }

        internal Game(Story story, string language, long? seed)
        {
            this.story = story;
            this.language = language ?? story.Bundle.Text("language");
            if (!((Map)story.Bundle.Get("texts")).ContainsKey(this.language))
                throw new StoryException("language", "the story has no language \"" + language + "\"");
            Seed = seed;
            state = State.Fresh(story);
        }

        internal void Start(IDictionary<string, object> given)
        {
            CheckGiven(given, false);
            var next = State.Fresh(story);
            Set(next, given);
            var start = story.Bundle.Number("start", -1);
            state = start == -1 ? next : Travel(next, start);
        }

        // What a game reads --------------------------------------------------------------------------------------

        /// <summary>choice, word, ended, stuck, endless or nowhere.</summary>
        public string Status { get { return state.Status; } }

        /// <summary>The beat where the story rests.</summary>
        public string Beat { get { return state.At == -1 ? null : story.Beats[state.At].Text("id"); } }

        /// <summary>What was said since the last decision.</summary>
        public IReadOnlyList<Line> Lines { get { return lines; } }

        /// <summary>What the game was told to do since the last decision.</summary>
        public IReadOnlyList<Cue> Cues { get { return cues; } }

        /// <summary>Those that are open, and those that are shown closed.</summary>
        public IReadOnlyList<Choice> Choices
        {
            get
            {
                var list = new List<Choice>();
                if ((state.Status != "choice" && state.Status != "stuck") || state.At == -1) return list;
                foreach (var choice in story.Beats[state.At].Maps("choices"))
                {
                    Map rule;
                    var why = Closed(state, choice, out rule);
                    if (why != null && !choice.Is("shown")) continue;
                    var who = choice.Text("who");
                    list.Add(new Choice
                    {
                        Id = choice.Text("id"),
                        Text = TextOf(state, choice.Get("text")),
                        Who = who,
                        Name = who == null ? null : Person(state, who),
                        Open = why == null,
                        Why = why,
                    });
                }
                return list;
            }
        }

        public Prompt Prompt
        {
            get
            {
                if (state.Status != "word") return null;
                var ask = (Map)story.Beats[state.At].Get("ask");
                return new Prompt
                {
                    Text = TextOf(state, ask.Get("prompt")),
                    Suggest = ask.List("suggest").Select(word => TextOf(state, word)).ToList(),
                    Default = ask.Text("default"),
                };
            }
        }

        /// <summary>The id of the ending, and its name.</summary>
        public KeyValuePair<string, string>? Ending
        {
            get
            {
                if (state.Status != "ended") return null;
                var ending = story.Endings[story.Beats[state.At].Number("ending", -1)];
                return new KeyValuePair<string, string>(ending.Text("id"), TextOf(state, ending.Get("name")));
            }
        }

        /// <summary>All that the story remembers now: bools, texts and whole numbers (long).</summary>
        public IDictionary<string, object> Ledger
        {
            get
            {
                var found = new Dictionary<string, object>();
                var scene = state.At == -1 ? -1 : story.Beats[state.At].Number("scene", -1);
                for (var at = 0; at < story.Entries.Count; at++)
                {
                    var own = story.Entries[at].Number("scene", -1);
                    if (own == -1 || own == scene) found[story.Entries[at].Text("id")] = state.Entries[at];
                }
                return found;
            }
        }

        public IDictionary<string, string> Stages
        {
            get
            {
                var found = new Dictionary<string, string>();
                for (var at = 0; at < story.Quests.Count; at++) found[story.Quests[at].Text("id")] = Stage(state, at).Text("id");
                return found;
            }
        }

        /// <summary>The quests that have begun.</summary>
        public IReadOnlyList<JournalPage> Journal
        {
            get
            {
                var pages = new List<JournalPage>();
                for (var at = 0; at < story.Quests.Count; at++)
                {
                    var stage = Stage(state, at);
                    if (stage.Text("id") == "unstarted") continue;
                    pages.Add(new JournalPage
                    {
                        Quest = story.Quests[at].Text("id"),
                        Name = TextOf(state, story.Quests[at].Get("name")),
                        Stage = stage.Text("id"),
                        StageName = TextOf(state, stage.Get("name")),
                        Outcome = stage.Text("outcome"),
                        Text = stage.Get("journal") == null ? null : TextOf(state, stage.Get("journal")),
                    });
                }
                return pages;
            }
        }

        public IReadOnlyList<Carried> Bag
        {
            get
            {
                var items = new List<Carried>();
                for (var at = 0; at < story.Entries.Count; at++)
                {
                    var entry = story.Entries[at];
                    if (entry.Text("kind") == "item" && (long)state.Entries[at] > 0)
                        items.Add(new Carried { Id = entry.Text("id"), Name = entry.Text("name") ?? entry.Text("id"), Count = (long)state.Entries[at] });
                }
                return items;
            }
        }

        // What a game does ---------------------------------------------------------------------------------------

        /// <summary>Takes a choice that is open.</summary>
        public void Choose(string id)
        {
            int number;
            if (id == null || !story.ChoiceOf.TryGetValue(id, out number)) throw new StoryException("choice", "there is no choice \"" + id + "\"");
            var choice = story.Choices[number];
            if (state.Status != "choice" || state.At != story.ChoiceBeats[number]) throw new StoryException("choice", "\"" + id + "\" is not offered");
            Map rule;
            if (Closed(state, choice, out rule) != null) throw new StoryException("choice", "\"" + id + "\" is closed here");
            Go(() =>
            {
                var next = state.Copy();
                Issue(choice);
                next.Taken[number] = true;
                Apply(next, choice);
                var road = choice.Get("to");
                if (rule != null)
                {
                    Apply(next, rule);
                    road = rule.Get("to");
                }
                return Travel(next, Target(next, road));
            });
        }

        /// <summary>Answers the word that is asked for.</summary>
        public void Say(string word)
        {
            if (word == null) throw new StoryException("word", "a word is a text");
            if (state.Status != "word") throw new StoryException("word", "no word is asked for");
            var beat = story.Beats[state.At];
            var ask = (Map)beat.Get("ask");
            var kept = Words.Trim(word);
            if (kept == "") kept = ask.Text("default");
            if (kept == null) throw new StoryException("word", "a word can not be empty");
            Go(() =>
            {
                var next = state.Copy();
                var into = ask.Number("into", -1);
                if (into != -1) next.Entries[into] = kept;
                return Travel(next, Onward(next, beat));
            });
        }

        /// <summary>Sets values that are the game's; the choices are come to again.</summary>
        public void Give(IDictionary<string, object> values)
        {
            CheckGiven(values, true);
            if (state.Status == "endless" || state.Status == "nowhere") throw new StoryException("given", "the story does not rest");
            Go(() =>
            {
                if (state.Status == "ended") return state;
                var next = state.Copy();
                Set(next, values);
                return next.Status == "word" ? next : Travel(next, ComeToChoices(next, story.Beats[next.At]));
            });
        }

        /// <summary>Where the story rests; Json.Write makes text of it.</summary>
        public IDictionary<string, object> Save()
        {
            if (state.At == -1 || state.Status == "endless" || state.Status == "nowhere")
                throw new StoryException("save", "the story does not rest, so it can not be saved");
            var visits = new Dictionary<string, object>();
            var turns = new Dictionary<string, object>();
            for (var at = 0; at < state.Visits.Length; at++) if (state.Visits[at] > 0) visits[story.Beats[at].Text("id")] = (long)state.Visits[at];
            for (var at = 0; at < state.Turns.Length; at++) if (state.Turns[at] > 0) turns[story.Groups[at].Text("group")] = state.Turns[at];
            var ending = Ending;
            var save = new Dictionary<string, object>
            {
                { "paperCompassSave", 1L },
                { "at", Beat },
                { "status", state.Status },
                { "ending", ending == null ? null : ending.Value.Key },
                { "place", state.Place == -1 ? null : story.Beats[state.Place].Text("id") },
                { "ledger", Ledger },
                { "stages", Stages.ToDictionary(pair => pair.Key, pair => (object)pair.Value) },
                { "visits", visits },
                { "taken", story.Choices.Where((choice, at) => state.Taken[at]).Select(choice => (object)choice.Text("id")).ToList() },
                { "turns", turns },
            };
            if (Seed != null) save["seed"] = Seed.Value;
            return save;
        }

        /// <summary>Goes on from a save, of this version of the story or another. Gives whether its beat is gone.</summary>
        public bool Load(object json)
        {
            var save = json as Map;
            if (save == null || !Read.IsWhole(save.Get("paperCompassSave")) || Read.Whole(save.Get("paperCompassSave")) != 1 || save.Text("at") == null)
                throw new StoryException("save", "this is no save that can be read");
            foreach (var key in new[] { "ledger", "stages", "visits", "turns" })
                if (!(save.Get(key) is Map)) throw new StoryException("save", "this save has no " + key);
            if (!(save.Get("taken") is Items)) throw new StoryException("save", "this save has no taken");
            var moved = false;
            Go(() =>
            {
                var next = State.Fresh(story);
                int scene, number;
                var from = save.Text("at");
                if (!story.SceneOf.TryGetValue(from.Substring(0, Math.Max(0, from.IndexOf('.'))), out scene)) scene = -1;
                var ledger = (Map)save.Get("ledger");
                for (var at = 0; at < story.Entries.Count; at++)
                {
                    var entry = story.Entries[at];
                    var own = entry.Number("scene", -1);
                    if (own == -1 || own == scene) next.Entries[at] = CarriedValue(entry, ledger.Get(entry.Text("id")));
                }
                var stages = (Map)save.Get("stages");
                for (var at = 0; at < story.Quests.Count; at++)
                {
                    var ids = story.Quests[at].Maps("stages").Select(stage => stage.Text("id")).ToList();
                    next.Stages[at] = Math.Max(0, ids.IndexOf(stages.Text(story.Quests[at].Text("id"))));
                }
                foreach (var pair in (Map)save.Get("visits"))
                    if (story.BeatOf.TryGetValue(pair.Key, out number)) next.Visits[number] = Math.Min(VisitsMax, Read.Int(pair.Value));
                foreach (string choice in save.List("taken"))
                    if (story.ChoiceOf.TryGetValue(choice, out number)) next.Taken[number] = true;
                foreach (var pair in (Map)save.Get("turns"))
                    if (story.GroupOf.TryGetValue(pair.Key, out number)) next.Turns[number] = Read.Whole(pair.Value);
                if (save.Text("place") != null && story.BeatOf.TryGetValue(save.Text("place"), out number) && story.Beats[number].Is("place"))
                    next.Place = number;
                if (Read.IsWhole(save.Get("seed"))) Seed = Read.Whole(save.Get("seed"));
                if (story.BeatOf.TryGetValue(from, out number))
                {
                    next.At = number;
                    return Travel(next, ComeToRest(next, story.Beats[number]));
                }
                moved = true;
                var target = next.Place != -1 ? next.Place : story.Bundle.Number("start", -1);
                if (target == -1)
                {
                    next.Status = "stuck";
                    return next;
                }
                next.At = story.Beats.FindIndex(beat => beat.Number("scene", -1) == scene);
                return Travel(next, target);
            });
            return moved;
        }

        object CarriedValue(Map entry, object value)
        {
            var kind = entry.Text("kind");
            if ((kind == "counter" || kind == "item") && Read.IsWhole(value))
                return Math.Min(Read.Whole(entry.Get("max")), Math.Max(Read.Whole(entry.Get("min")), Read.Whole(value)));
            if (kind == "text" && entry.Get("given") == null && value is string) return value;
            return State.Kept(value != null && story.IsInDomain(entry, value) ? value : entry.Get("initial"));
        }

        void CheckGiven(IDictionary<string, object> given, bool rests)
        {
            foreach (var pair in given)
            {
                int number;
                if (!story.EntryOf.TryGetValue(pair.Key, out number)) throw new StoryException("given", "there is no ledger entry \"" + pair.Key + "\"");
                var when = story.Entries[number].Text("given");
                if (when == null) throw new StoryException("given", "\"" + pair.Key + "\" is the story's own: the game does not set it");
                if (rests && when == "begin") throw new StoryException("given", "\"" + pair.Key + "\" is given before the story begins and can not change afterwards");
                if (!story.IsInDomain(story.Entries[number], pair.Value)) throw new StoryException("given", "\"" + pair.Key + "\" can not be " + pair.Value);
            }
        }

        void Set(State next, IDictionary<string, object> values)
        {
            foreach (var pair in values) next.Entries[story.EntryOf[pair.Key]] = State.Kept(pair.Value);
        }

        /// <summary>What fails leaves the game as it was.</summary>
        void Go(Func<State> play)
        {
            var oldLines = lines;
            var oldCues = cues;
            lines = new List<Line>();
            cues = new List<Cue>();
            try
            {
                state = play();
            }
            catch
            {
                lines = oldLines;
                cues = oldCues;
                throw;
            }
        }

        // Expressions and effects --------------------------------------------------------------------------------

        /// <summary>bool, string or BigInteger: whole numbers are exact.</summary>
        object Evaluate(State now, object expr)
        {
            var parts = expr as Items;
            if (parts == null) return expr is bool || expr is string ? expr : new BigInteger(Read.Whole(expr));
            var kind = (string)parts[0];
            switch (kind)
            {
                case "entry":
                    var value = now.Entries[Read.Int(parts[1])];
                    return value is long ? new BigInteger((long)value) : value;
                case "quest":
                    return Stage(now, Read.Int(parts[1])).Text("id");
                case "visits":
                    return new BigInteger(now.Visits[Read.Int(parts[1])]);
                case "taken":
                    return now.Taken[Read.Int(parts[1])];
                case "not":
                    return !(bool)Evaluate(now, parts[1]);
                case "negate":
                    return -(BigInteger)Evaluate(now, parts[1]);
                case "and":
                    return parts.Skip(1).All(part => (bool)Evaluate(now, part));
                case "or":
                    return parts.Skip(1).Any(part => (bool)Evaluate(now, part));
                case "in":
                    var left = Evaluate(now, parts[1]);
                    return ((Items)parts[2]).Any(item => Evaluate(now, item).Equals(left));
                case "atLeast":
                    return Rank(now, (Items)parts[1]) >= Read.Int(parts[2]);
                case "before":
                    return Rank(now, (Items)parts[1]) < Read.Int(parts[2]);
            }
            var a = Evaluate(now, parts[1]);
            var b = Evaluate(now, parts[2]);
            switch (kind)
            {
                case "==":
                    return a.Equals(b);
                case "!=":
                    return !a.Equals(b);
                case "<":
                    return (BigInteger)a < (BigInteger)b;
                case "<=":
                    return (BigInteger)a <= (BigInteger)b;
                case ">":
                    return (BigInteger)a > (BigInteger)b;
                case ">=":
                    return (BigInteger)a >= (BigInteger)b;
                case "+":
                    return (BigInteger)a + (BigInteger)b;
                case "-":
                    return (BigInteger)a - (BigInteger)b;
                case "*":
                    return (BigInteger)a * (BigInteger)b;
            }
            throw new StoryException("bundle", "the expression \"" + kind + "\" is not known");
        }

        int Rank(State now, Items subject)
        {
            var number = Read.Int(subject[1]);
            if ((string)subject[0] == "quest") return now.Stages[number];
            return story.Entries[number].List("positions").IndexOf(now.Entries[number]);
        }

        Map Stage(State now, int quest)
        {
            return (Map)story.Quests[quest].List("stages")[now.Stages[quest]];
        }

        bool Holds(State now, Map owner)
        {
            var when = owner.Get("when");
            return when == null || (bool)Evaluate(now, when);
        }

        void Apply(State next, Map owner)
        {
            foreach (Items effect in owner.List("do"))
            {
                var kind = (string)effect[0];
                var target = Read.Int(effect[1]);
                if (kind == "stage")
                {
                    next.Stages[target] = Read.Int(effect[2]);
                    continue;
                }
                var value = Evaluate(next, effect[2]);
                if (!(value is BigInteger))
                {
                    next.Entries[target] = value;
                    continue;
                }
                var number = (BigInteger)value;
                if (kind == "+=") number = (long)next.Entries[target] + number;
                if (kind == "-=") number = (long)next.Entries[target] - number;
                var entry = story.Entries[target];
                number = BigInteger.Min(Read.Whole(entry.Get("max")), BigInteger.Max(Read.Whole(entry.Get("min")), number));
                next.Entries[target] = (long)number;
            }
        }

        static bool Leads(State now, object road)
        {
            return road is string ? now.Place != -1 : road != null;
        }

        static int Target(State now, object road)
        {
            return road is string ? now.Place : Read.Int(road);
        }

        Map FirstRule(State now, IEnumerable<Map> rules)
        {
            return rules.FirstOrDefault(rule => Holds(now, rule) && Leads(now, rule.Get("to")));
        }

        /// <summary>Why a choice is closed: null where it is open, and of a list the rule that would be used.</summary>
        string Closed(State now, Map choice, out Map rule)
        {
            rule = null;
            if (!Holds(now, choice)) return "gate";
            var number = story.NumberOf[choice];
            if (choice.Is("once") && now.Taken[number]) return "once";
            var rules = choice.Get("to") as Items;
            if (rules == null)
            {
                if (Leads(now, choice.Get("to"))) return null;
                return choice.Get("to") is string ? "no-place" : "nowhere";
            }
            var trial = now.Copy();
            trial.Taken[number] = true;
            Apply(trial, choice);
            rule = FirstRule(trial, rules.Cast<Map>());
            return rule == null ? "rules" : null;
        }

        // The order of play --------------------------------------------------------------------------------------

        static int Phase(Map turns, long times)
        {
            var count = turns.List("inTurn").Count;
            switch (turns.Text("order"))
            {
                case "again":
                    return (int)(times % count);
                case "any":
                    return 0;
                case "once":
                    return (int)Math.Min(times, count);
                default:
                    return (int)Math.Min(times, count - 1);
            }
        }

        bool IsSame(State a, State b)
        {
            if (a.At != b.At || a.Place != b.Place) return false;
            if (!a.Entries.SequenceEqual(b.Entries) || !a.Stages.SequenceEqual(b.Stages)) return false;
            if (!a.Visits.SequenceEqual(b.Visits) || !a.Taken.SequenceEqual(b.Taken)) return false;
            return !story.Groups.Where((group, at) => Phase(group, a.Turns[at]) != Phase(group, b.Turns[at])).Any();
        }

        /// <summary>Park and Miller's multiplier.</summary>
        static int PickTurn(long seed, long group, long times, int count)
        {
            const long modulus = 2147483647;
            Func<long, long, long> next = (value, more) => (value * 48271 + more + 1) % modulus;
            var start = ((seed % modulus) + modulus) % modulus;
            return (int)(next(next(next(next(start, group), times % modulus), 0), 0) % count);
        }

        void Issue(Map owner)
        {
            foreach (Items use in owner.List("cues"))
            {
                var cue = story.Cues[Read.Int(use[0])];
                cues.Add(new Cue { Id = cue.Text("id"), Name = cue.Text("name"), With = use.Count > 1 ? (string)use[1] : null });
            }
        }

        void Show(State next, Map line)
        {
            if (!Holds(next, line)) return;
            var beat = story.Beats[next.At].Text("id");
            var speaker = line.Text("speaker");
            lines.Add(new Line
            {
                Text = TextOf(next, line.Get("text")),
                Speaker = speaker,
                Name = speaker == null ? null : Person(next, speaker),
                Manner = line.Text("manner"),
                Key = line.Text("id") == null ? null : "line/" + beat + "/" + line.Text("id"),
                Beat = beat,
            });
            Issue(line);
            Apply(next, line);
        }

        void ShowTurn(State next, Map turns)
        {
            var number = story.NumberOf[turns];
            var times = next.Turns[number];
            var all = turns.List("inTurn");
            var at = turns.Text("order") == "any" && Seed != null ? PickTurn(Seed.Value, number, times, all.Count) : Phase(turns, times);
            next.Turns[number] = times + 1;
            if (at >= all.Count) return;
            foreach (Map line in (Items)all[at]) Show(next, line);
        }

        int? Rest(State next, string status)
        {
            next.Status = status;
            return null;
        }

        int? Follow(State next, Map rule)
        {
            Apply(next, rule);
            return Target(next, rule.Get("to"));
        }

        int? Onward(State next, Map beat)
        {
            var rule = FirstRule(next, beat.Maps("onward"));
            return rule == null ? Rest(next, "stuck") : Follow(next, rule);
        }

        int? ComeToChoices(State next, Map beat)
        {
            Map rule;
            if (beat.Get("ask") == null && beat.Maps("choices").Any(choice => Closed(next, choice, out rule) == null)) return Rest(next, "choice");
            return Onward(next, beat);
        }

        int? ComeToRest(State next, Map beat)
        {
            if (beat.Get("ending") != null) return Rest(next, "ended");
            if (beat.Get("ask") != null) return Rest(next, "word");
            return ComeToChoices(next, beat);
        }

        /// <summary>One beat: gives the next one's number, or nothing where the story rests.</summary>
        int? Visit(State next, int number)
        {
            var beat = story.Beats[number];
            var scene = beat.Number("scene", -1);
            var before = next.At == -1 ? -1 : story.Beats[next.At].Number("scene", -1);
            if (before != scene)
                for (var at = 0; at < story.Entries.Count; at++)
                    if (story.Entries[at].Number("scene", -1) == scene) next.Entries[at] = State.Kept(story.Entries[at].Get("initial"));
            next.At = number;
            var redirect = FirstRule(next, beat.Maps("redirects"));
            if (redirect != null) return Follow(next, redirect);
            if (beat.Is("place")) next.Place = number;
            next.Visits[number] = Math.Min(VisitsMax, next.Visits[number] + 1);
            foreach (var rule in beat.Maps("arrive")) if (Holds(next, rule)) Apply(next, rule);
            foreach (var line in beat.Maps("lines"))
            {
                if (line.Get("inTurn") != null)
                {
                    if (Holds(next, line)) ShowTurn(next, line);
                }
                else if (line.Get("firstOf") != null)
                {
                    var variant = line.Maps("firstOf").FirstOrDefault(one => Holds(next, one));
                    if (variant == null) continue;
                    foreach (var inner in variant.Maps("lines")) Show(next, inner);
                    if (variant.Get("turns") != null) ShowTurn(next, (Map)variant.Get("turns"));
                }
                else Show(next, line);
            }
            return ComeToRest(next, beat);
        }

        /// <summary>Follows the story to where it rests. Brent's cycle detection (1980) finds a run that never does.</summary>
        State Travel(State next, int? target)
        {
            State kept = null;
            var keptTarget = -1;
            long steps = 0, power = 1;
            while (target != null)
            {
                if (kept != null && target.Value == keptTarget && IsSame(kept, next))
                {
                    next.Status = "endless";
                    return next;
                }
                if (++steps == power)
                {
                    kept = next.Copy();
                    keptTarget = target.Value;
                    power *= 2;
                }
                target = Visit(next, target.Value);
            }
            return next;
        }

        // Texts --------------------------------------------------------------------------------------------------

        string Person(State now, string id)
        {
            int number;
            if (!story.PersonOf.TryGetValue(id, out number)) return id;
            var person = story.People[number];
            var called = person.Maps("called").FirstOrDefault(one => Holds(now, one));
            return TextOf(now, (called ?? person).Get("name"));
        }

        string TextOf(State now, object number)
        {
            var texts = (Map)story.Bundle.Get("texts");
            var tongue = language;
            var at = Read.Int(number);
            var text = ((Items)texts[tongue])[at];
            if (text == null)
            {
                tongue = story.Bundle.Text("language");
                text = ((Items)texts[tongue])[at];
            }
            return Format(now, text, (Map)((Map)story.Bundle.Get("locales"))[tongue], 0);
        }

        string Value(State now, Items argument)
        {
            var number = Read.Int(argument[1]);
            switch ((string)argument[0])
            {
                case "quest":
                    return Stage(now, number).Text("id");
                case "person":
                    return Person(now, story.People[number].Text("id"));
            }
            var value = now.Entries[number];
            if (value is bool) return (bool)value ? "true" : "false";
            return Convert.ToString(value, CultureInfo.InvariantCulture);
        }

        long Count(State now, Items argument)
        {
            return (long)now.Entries[Read.Int(argument[1])];
        }

        string Format(State now, object text, Map locale, long count)
        {
            if (text is string) return (string)text;
            var said = new StringBuilder();
            foreach (var item in (Items)text)
            {
                var part = item as Map;
                if (part == null) said.Append((string)item);
                else if (part.Is("count")) said.Append(Written(locale, count, ""));
                else if (part.Get("show") != null) said.Append(Value(now, part.List("show")));
                else if (part.Get("number") != null)
                {
                    // of styles this port knows percent; any other is written as a plain number
                    var style = part.Get("style") as Map;
                    var percent = style != null && style.Text("style") == "percent";
                    said.Append(Written(locale, Count(now, part.List("number")), percent ? "00" : "")).Append(percent ? "%" : "");
                }
                else if (part.Get("select") != null)
                {
                    var forms = (Map)part.Get("forms");
                    said.Append(Format(now, forms.Get(Value(now, part.List("select"))) ?? forms.Get("other"), locale, 0));
                }
                else
                {
                    var forms = (Map)part.Get("forms");
                    var value = Count(now, part.List("plural"));
                    var less = value - part.Number("offset", 0);
                    var form = forms.Get("=" + value.ToString(CultureInfo.InvariantCulture))
                        ?? forms.Get(Category(locale.List(part.Is("ordinal") ? "ordinal" : "cardinal"), less))
                        ?? forms.Get("other");
                    said.Append(Format(now, form, locale, less));
                }
            }
            return said.ToString();
        }

        static string Category(Items rules, long value)
        {
            var size = Math.Abs(value);
            foreach (Items rule in rules)
                foreach (Items relations in (Items)rule[1])
                    if (relations.Cast<Items>().All(relation => Relates(relation, size))) return (string)rule[0];
            return "other";
        }

        static bool Relates(Items relation, long size)
        {
            var modulus = Read.Whole(relation[0]);
            var operand = modulus == 0 ? size : size % modulus;
            var among = false;
            for (var at = 2; at < relation.Count; at += 2)
                among = among || (operand >= Read.Whole(relation[at]) && operand <= Read.Whole(relation[at + 1]));
            return among != (Read.Whole(relation[1]) == 1);
        }

        static string Written(Map locale, long value, string more)
        {
            var digits = Math.Abs(value).ToString(CultureInfo.InvariantCulture) + (value == 0 ? "" : more);
            var groups = locale.List("groups");
            int last = Read.Int(groups[0]), before = Read.Int(groups[1]), least = Read.Int(groups[2]);
            var parts = new List<string>();
            var stop = digits.Length;
            var size = digits.Length >= last + least ? last : digits.Length;
            while (stop > 0)
            {
                var start = Math.Max(0, stop - size);
                parts.Insert(0, digits.Substring(start, stop - start));
                stop = start;
                size = before;
            }
            var own = locale.List("digits");
            var text = string.Join(locale.Text("group"), parts.Select(part => string.Concat(part.Select(sign => (string)own[sign - '0']))));
            var negative = locale.List("negative");
            return value < 0 ? (string)negative[0] + text + (string)negative[1] : text;
        }
    }
}
