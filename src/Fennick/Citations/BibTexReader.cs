using System.Collections.Immutable;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Formatting;

namespace Fennick.Citations;

/// <summary>Reads sources in BibTeX: entries, strings, joined values, and the TeX that names and titles usually hold.</summary>
internal sealed class BibTexReader
{
    private static readonly string[] Months = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];

    private static readonly Dictionary<char, char> Accents = new()
    {
        ['"'] = '\u0308',
        ['\''] = '\u0301',
        ['`'] = '\u0300',
        ['^'] = '\u0302',
        ['~'] = '\u0303',
        ['='] = '\u0304',
        ['.'] = '\u0307',
        ['c'] = '\u0327',
        ['v'] = '\u030C',
        ['u'] = '\u0306',
        ['H'] = '\u030B',
        ['r'] = '\u030A',
        ['k'] = '\u0328',
        ['d'] = '\u0323',
        ['b'] = '\u0331',
    };

    private static readonly Dictionary<string, string> Signs = new()
    {
        ["ss"] = "ß",
        ["o"] = "ø",
        ["O"] = "Ø",
        ["l"] = "ł",
        ["L"] = "Ł",
        ["ae"] = "æ",
        ["AE"] = "Æ",
        ["oe"] = "œ",
        ["OE"] = "Œ",
        ["aa"] = "å",
        ["AA"] = "Å",
        ["i"] = "i",
        ["j"] = "j",
        ["textendash"] = "–",
        ["textemdash"] = "—",
        ["ldots"] = "…",
        ["dots"] = "…",
        ["textquoteright"] = "’",
        ["textquoteleft"] = "‘",
        ["LaTeX"] = "LaTeX",
        ["TeX"] = "TeX",
    };

    private readonly string text;
    private readonly string path;
    private readonly Dictionary<string, string> strings = new(StringComparer.OrdinalIgnoreCase);
    private int at;

    private BibTexReader(string text, string path)
    {
        this.text = text;
        this.path = path;
        foreach (var month in Months) strings[month] = month;
    }

    public static IEnumerable<(Work, SourcePlace)> Read(string text, string path)
    {
        var reader = new BibTexReader(text, path);
        var works = new List<(Work, SourcePlace)>();
        // What stands between entries is a comment.
        while ((reader.at = text.IndexOf('@', reader.at)) >= 0)
            if (reader.ReadEntry() is var (work, place)) works.Add((work, place));
        return works;
    }

    private (Work, SourcePlace)? ReadEntry()
    {
        var start = at++;
        var kind = ReadWord().ToLowerInvariant();
        SkipSpace();
        if (at >= text.Length || text[at] is not ('{' or '(')) return null;
        var close = text[at++] == '{' ? '}' : ')';
        if (kind is "comment" or "preamble")
        {
            SkipBraces(start, close);
            return null;
        }
        if (kind == "string")
        {
            var (name, value) = ReadField(start);
            strings[name] = value;
            SkipSpace();
            Expect(close, start);
            return null;
        }
        SkipSpace();
        var keyStart = at;
        while (at < text.Length && text[at] is not (',' or '}' or ')') && !char.IsWhiteSpace(text[at])) at++;
        var key = text[keyStart..at];
        if (key.Length == 0) throw Wrong(start, "a source has no key", "write one after the opening brace, such as `@book{hale2019,`");
        var fields = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        while (true)
        {
            SkipSpace();
            if (at < text.Length && text[at] == ',')
            {
                at++;
                continue;
            }
            if (at < text.Length && text[at] == close)
            {
                at++;
                break;
            }
            if (at >= text.Length) throw Wrong(start, $"the source `{key}` has no end", $"close it with `{close}`");
            var (name, value) = ReadField(start);
            fields.TryAdd(name, value);
        }
        return (ToWork(key, kind, fields), PlaceOf(start));
    }

    private static Work ToWork(string key, string kind, Dictionary<string, string> fields)
    {
        string Field(params string[] names) => names.Select(n => fields.GetValueOrDefault(n)).FirstOrDefault(v => !string.IsNullOrWhiteSpace(v)) is { } raw ? Clean(raw) : "";
        var date = Field("year", "date");
        return new Work(key)
        {
            Kind = kind switch
            {
                "article" => WorkKind.Article,
                "book" or "proceedings" or "collection" or "manual" => WorkKind.Book,
                "incollection" or "inbook" or "inproceedings" or "conference" => WorkKind.Chapter,
                "techreport" or "report" or "phdthesis" or "mastersthesis" or "thesis" or "unpublished" => WorkKind.Report,
                "online" or "electronic" or "www" or "dataset" or "software" => WorkKind.Web,
                _ => fields.ContainsKey("url") ? WorkKind.Web : WorkKind.Other,
            },
            Authors = People(fields.GetValueOrDefault("author") ?? ""),
            Editors = People(fields.GetValueOrDefault("editor") ?? ""),
            Year = date.Length > 4 && date[4] == '-' ? date[..4] : date,
            Title = Field("title") + (Field("subtitle") is { Length: > 0 } subtitle ? $": {subtitle}" : ""),
            Container = Field("journal", "journaltitle", "booktitle"),
            Publisher = Field("publisher", "school", "institution", "organization", "howpublished"),
            Location = Field("address", "location"),
            Volume = Field("volume"),
            Issue = Field("number", "issue"),
            Pages = Field("pages").Replace("-", "–", StringComparison.Ordinal).Replace("––", "–", StringComparison.Ordinal),
            Edition = Edition(Field("edition")),
            Doi = Field("doi").Replace("https://doi.org/", "", StringComparison.OrdinalIgnoreCase),
            Url = fields.GetValueOrDefault("url")?.Replace("\\", "", StringComparison.Ordinal).Trim('{', '}') ?? "",
        };
    }

    /// <summary>An edition as it is to be read; "3" becomes "3rd ed.".</summary>
    internal static string Edition(string edition) => edition switch
    {
        "" => "",
        _ when int.TryParse(edition, out var number) => $"{number}{((number % 100) is >= 11 and <= 13 ? "th" : (number % 10) switch { 1 => "st", 2 => "nd", 3 => "rd", _ => "th" })} ed.",
        _ => edition.EndsWith("ed.", StringComparison.Ordinal) || edition.Contains("edition", StringComparison.OrdinalIgnoreCase) ? edition : $"{edition} ed.",
    };

    /// <summary>Names are parted by "and"; one in braces is an organisation.</summary>
    private static ImmutableArray<Person> People(string names)
    {
        var people = ImmutableArray.CreateBuilder<Person>();
        foreach (var name in SplitOutsideBraces(names, " and ").Select(n => n.Trim()).Where(n => n.Length > 0))
        {
            if (name == "others") continue;
            if (name[0] == '{' && name[^1] == '}')
            {
                people.Add(new Person(Clean(name)));
                continue;
            }
            var parts = SplitOutsideBraces(name, ",").Select(p => p.Trim()).ToArray();
            if (parts.Length > 1)
            {
                people.Add(new Person(Clean(parts[0]), Clean(parts[^1])));
                continue;
            }
            var words = SplitOutsideBraces(name, " ").Where(w => w.Length > 0).ToArray();
            // "von" and "de la" belong to the family name.
            var family = Math.Max(0, Array.FindIndex(words, w => char.IsLower(Clean(w) is { Length: > 0 } clean ? clean[0] : 'A')));
            if (family == 0) family = words.Length - 1;
            people.Add(new Person(Clean(string.Join(' ', words[family..])), Clean(string.Join(' ', words[..family]))));
        }
        return people.ToImmutable();
    }

    private static IEnumerable<string> SplitOutsideBraces(string value, string separator)
    {
        var depth = 0;
        var start = 0;
        var plain = System.Text.RegularExpressions.Regex.Replace(value, @"\s", " ");
        for (var i = 0; i < plain.Length; i++)
        {
            if (plain[i] == '{') depth++;
            else if (plain[i] == '}') depth--;
            else if (depth == 0 && string.CompareOrdinal(plain, i, separator, 0, separator.Length) == 0)
            {
                yield return plain[start..i];
                start = i + separator.Length;
                i = start - 1;
            }
        }
        yield return plain[start..];
    }

    /// <summary>Text without TeX: accents become letters, braces go.</summary>
    private static string Clean(string tex)
    {
        var clean = new StringBuilder();
        for (var i = 0; i < tex.Length; i++)
        {
            switch (tex[i])
            {
                case '{' or '}' or '$': break;
                case '~': clean.Append('\u00A0'); break;
                case '-' when i + 1 < tex.Length && tex[i + 1] == '-':
                    var dashes = 1;
                    while (i + dashes < tex.Length && tex[i + dashes] == '-') dashes++;
                    clean.Append(dashes == 2 ? '–' : '—');
                    i += dashes - 1;
                    break;
                case '\\' when i + 1 < tex.Length: i = CleanCommand(tex, i, clean); break;
                case var c when char.IsWhiteSpace(c):
                    if (clean.Length > 0 && clean[^1] != ' ') clean.Append(' ');
                    break;
                case var c: clean.Append(c); break;
            }
        }
        return Composed.Of(clean.ToString().Trim());
    }

    /// <summary>Passes a command; the result is the index of its last character.</summary>
    private static int CleanCommand(string tex, int start, StringBuilder clean)
    {
        var end = start + 1;
        while (end < tex.Length && char.IsAsciiLetter(tex[end])) end++;
        var name = end == start + 1 ? tex[start + 1].ToString() : tex[(start + 1)..end];
        if (end == start + 1) end++;
        if (name.Length == 1 && Accents.TryGetValue(name[0], out var accent))
        {
            while (end < tex.Length && (tex[end] is '{' or '\\' || char.IsWhiteSpace(tex[end]))) end++;
            if (end >= tex.Length) return tex.Length - 1;
            clean.Append(tex[end]).Append(accent);
            return end;
        }
        if (Signs.TryGetValue(name, out var sign)) clean.Append(sign);
        else if (!char.IsAsciiLetter(name[0])) clean.Append(name);
        while (char.IsAsciiLetter(name[0]) && end < tex.Length && tex[end] == ' ') end++;
        return end - 1;
    }

    private (string Name, string Value) ReadField(int entry)
    {
        SkipSpace();
        var start = at;
        var name = ReadWord();
        SkipSpace();
        if (name.Length == 0 || at >= text.Length || text[at] != '=') throw Wrong(start, $"`{(name.Length > 0 ? name : text[start].ToString())}` is not a field of a source", "write `name = {value}`, with a comma between fields");
        at++;
        var value = new StringBuilder();
        while (true)
        {
            SkipSpace();
            value.Append(ReadValue(entry));
            SkipSpace();
            if (at >= text.Length || text[at] != '#') break;
            at++;
        }
        return (name, value.ToString());
    }

    private string ReadValue(int entry)
    {
        if (at >= text.Length) throw Wrong(entry, "a value is missing", "write it in braces");
        var start = at;
        switch (text[at])
        {
            case '{':
                at++;
                SkipBraces(start, '}');
                return text[(start + 1)..(at - 1)];
            case '"':
                at++;
                for (var depth = 0; at < text.Length; at++)
                {
                    if (text[at] == '{') depth++;
                    else if (text[at] == '}') depth--;
                    else if (text[at] == '"' && depth == 0) return text[(start + 1)..at++];
                }
                throw Wrong(start, "this value has no end", "close it with `\"`");
            default:
                var word = ReadWord();
                if (word.Length == 0) throw Wrong(start, "a value is missing", "write it in braces");
                return char.IsAsciiDigit(word[0]) ? word : strings.GetValueOrDefault(word)
                    ?? throw Wrong(start, $"`{word}` is not a string of this file", Nearest.Suggest(word, strings.Keys) ?? $"put braces around it: `{{{word}}}`");
        }
    }

    /// <summary>Passes everything up to the brace that closes.</summary>
    private void SkipBraces(int start, char close)
    {
        for (var depth = 1; at < text.Length; at++)
        {
            if (text[at] == '\\')
            {
                at++;
                continue;
            }
            if (text[at] == '{') depth++;
            else if (text[at] == close || text[at] == '}') depth--;
            if (depth == 0)
            {
                at++;
                return;
            }
        }
        throw Wrong(start, "this brace is not closed", "close it with `}`");
    }

    private string ReadWord()
    {
        var start = at;
        while (at < text.Length && (char.IsLetterOrDigit(text[at]) || text[at] is '_' or '-' or ':' or '.' or '+')) at++;
        return text[start..at];
    }

    private void SkipSpace()
    {
        while (at < text.Length && char.IsWhiteSpace(text[at])) at++;
    }

    private void Expect(char close, int start)
    {
        if (at >= text.Length || text[at] != close) throw Wrong(start, "this entry has no end", $"close it with `{close}`");
        at++;
    }

    private ReportException Wrong(int offset, string message, string suggestion) => new(Diagnostic.Error(PlaceOf(offset), message, suggestion));

    private SourcePlace PlaceOf(int offset)
    {
        var before = text.AsSpan(0, Math.Min(offset, text.Length));
        return new SourcePlace(path, before.Count('\n') + 1, offset - before.LastIndexOf('\n'));
    }
}
