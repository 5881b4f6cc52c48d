using System;
using System.Collections.Generic;
using System.Globalization;
using System.Text;

namespace PaperCompass
{
    /// <summary>Reads and writes JSON as dictionaries, lists, texts, numbers (long or double), bools and null. Any other reader that does so serves as well.</summary>
    public static class Json
    {
        public static object Read(string text)
        {
            var reader = new Reader(text);
            return reader.All();
        }

        public static string Write(object value)
        {
            var text = new StringBuilder();
            Write(value, text);
            return text.ToString();
        }

        static void Write(object value, StringBuilder text)
        {
            if (value == null) text.Append("null");
            else if (value is bool) text.Append((bool)value ? "true" : "false");
            else if (value is string) WriteText((string)value, text);
            else if (value is IDictionary<string, object>)
            {
                text.Append('{');
                var first = true;
                foreach (var pair in (IDictionary<string, object>)value)
                {
                    if (!first) text.Append(',');
                    first = false;
                    WriteText(pair.Key, text);
                    text.Append(':');
                    Write(pair.Value, text);
                }
                text.Append('}');
            }
            else if (value is IEnumerable<object>)
            {
                text.Append('[');
                var first = true;
                foreach (var item in (IEnumerable<object>)value)
                {
                    if (!first) text.Append(',');
                    first = false;
                    Write(item, text);
                }
                text.Append(']');
            }
            else text.Append(Convert.ToString(value, CultureInfo.InvariantCulture));
        }

        static void WriteText(string value, StringBuilder text)
        {
            text.Append('"');
            foreach (var sign in value)
            {
                if (sign == '"' || sign == '\\') text.Append('\\').Append(sign);
                else if (sign < ' ') text.Append("\\u").Append(((int)sign).ToString("x4"));
                else text.Append(sign);
            }
            text.Append('"');
        }

        sealed class Reader
        {
            readonly string text;
            int at;
            int depth;

            public Reader(string text)
            {
                this.text = text;
                if (text.Length > 0 && text[0] == '\uFEFF') at = 1;
            }

            public object All()
            {
                var value = Value();
                Skip();
                if (at < text.Length) throw Fail("something after the end");
                return value;
            }

            FormatException Fail(string what)
            {
                return new FormatException("this is not JSON: " + what + " at character " + (at + 1));
            }

            void Skip()
            {
                while (at < text.Length && (text[at] == ' ' || text[at] == '\t' || text[at] == '\n' || text[at] == '\r')) at++;
            }

            char Next()
            {
                if (at >= text.Length) throw Fail("an end too early");
                return text[at];
            }

            object Value()
            {
                Skip();
                var sign = Next();
                if (sign == '{') return Object();
                if (sign == '[') return List();
                if (sign == '"') return Text();
                if (Word("true")) return true;
                if (Word("false")) return false;
                if (Word("null")) return null;
                return Number();
            }

            bool Word(string word)
            {
                if (string.CompareOrdinal(text, at, word, 0, word.Length) != 0) return false;
                at += word.Length;
                return true;
            }

            object Number()
            {
                var start = at;
                while (at < text.Length && "+-0123456789.eE".IndexOf(text[at]) >= 0) at++;
                var written = text.Substring(start, at - start);
                long whole;
                if (long.TryParse(written, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out whole)) return whole;
                double number;
                if (double.TryParse(written, NumberStyles.Float, CultureInfo.InvariantCulture, out number)) return number;
                throw Fail("a value is missing");
            }

            string Text()
            {
                var found = new StringBuilder();
                at++;
                while (Next() != '"')
                {
                    var sign = text[at++];
                    if (sign != '\\')
                    {
                        found.Append(sign);
                        continue;
                    }
                    sign = Next();
                    at++;
                    if (sign == 'u')
                    {
                        int code;
                        if (at + 4 > text.Length || !int.TryParse(text.Substring(at, 4), NumberStyles.AllowHexSpecifier, CultureInfo.InvariantCulture, out code))
                            throw Fail("a broken \\u");
                        found.Append((char)code);
                        at += 4;
                    }
                    else
                    {
                        var known = "\"\\/bfnrt".IndexOf(sign);
                        if (known < 0) throw Fail("an unknown escape");
                        found.Append("\"\\/\b\f\n\r\t"[known]);
                    }
                }
                at++;
                return found.ToString();
            }

            void Deeper()
            {
                depth++;
                if (depth > 1000) throw Fail("too much nesting");
                at++;
                Skip();
            }

            /// <summary>Whether another item follows.</summary>
            bool More(char close)
            {
                Skip();
                var sign = Next();
                at++;
                if (sign == close) return false;
                if (sign != ',')
                {
                    at--;
                    throw Fail("something unexpected");
                }
                Skip();
                return true;
            }

            object Object()
            {
                var all = new Dictionary<string, object>();
                Deeper();
                if (Next() == '}') at++;
                else
                {
                    do
                    {
                        if (Next() != '"') throw Fail("a key is missing");
                        var key = Text();
                        Skip();
                        if (Next() != ':') throw Fail("a : is missing");
                        at++;
                        all[key] = Value();
                    } while (More('}'));
                }
                depth--;
                return all;
            }

            object List()
            {
                var all = new List<object>();
                Deeper();
                if (Next() == ']') at++;
                else
                {
                    do all.Add(Value()); while (More(']'));
                }
                depth--;
                return all;
            }
        }
    }
}
