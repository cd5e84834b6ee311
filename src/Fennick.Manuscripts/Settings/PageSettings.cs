using System.Collections.Immutable;
using System.Globalization;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;

namespace Fennick.Manuscripts.Settings;

/// <summary>What the settings <c>page.…</c>, or the braces <c>{pages …}</c>, say of pages; the words of headers and footers are kept as they are written.</summary>
internal sealed record PageSettings
{
    public static readonly ImmutableArray<string> Margins = ["header", "footer", "first header", "first footer", "even header", "even footer"];

    public static readonly ImmutableArray<string> Keys = ["size", "orientation", "margins", "columns", "numbers", "lines", .. Margins];

    private static readonly string[] Sides = ["top", "bottom", "left", "right"];
    private static readonly Dictionary<string, PageNumberFormat> Formats = new()
    {
        ["decimal"] = PageNumberFormat.Decimal,
        ["roman"] = PageNumberFormat.LowerRoman,
        ["ROMAN"] = PageNumberFormat.UpperRoman,
        ["letters"] = PageNumberFormat.LowerLetter,
        ["LETTERS"] = PageNumberFormat.UpperLetter,
    };

    private static readonly Dictionary<string, ChapterSign> Signs = Enum.GetValues<ChapterSign>().ToDictionary(Counting.Sign);

    public PageLayout Layout { get; init; } = new();

    /// <summary>The words of headers and footers by their keys.</summary>
    public ImmutableSortedDictionary<string, SettingsEntry> Words { get; init; } = ImmutableSortedDictionary<string, SettingsEntry>.Empty;

    /// <summary>The same with another setting.</summary>
    /// <param name="key">The key without what groups it.</param>
    /// <param name="entry">Its value.</param>
    /// <param name="place">Where that stands.</param>
    /// <param name="keyPlace">Where the key stands.</param>
    /// <exception cref="ReportException">There is no such key, or the value does not fit it.</exception>
    public PageSettings With(string key, SettingsEntry entry, SourcePlace place, SourcePlace keyPlace)
    {
        var text = entry.Text;
        if (Margins.Contains(key)) return this with { Words = Words.SetItem(key, entry) };
        switch (key)
        {
            case "size":
                if (PageLayout.Paper(text) is { } paper) return this with { Layout = Layout with { Width = paper.Width, Height = paper.Height } };
                return text.Split('x', '×') is [var w, var h] && Length.TryParse(w, out var width) && Length.TryParse(h, out var height) && IsPaper(width) && IsPaper(height)
                    ? this with { Layout = Layout with { Width = width, Height = height } } : throw Wrong($"`{text}` is not a size of paper", "write `A4`, `letter` or `21 cm x 29.7 cm`");
            case "orientation":
                return text is "landscape" or "portrait" ? this with { Layout = Layout with { IsLandscape = text == "landscape" } } : throw Wrong($"`{text}` is neither `portrait` nor `landscape`", null);
            case "margins": return this with { Layout = ReadMargins(text, Wrong) };
            case "columns":
                if (text == "1") return this with { Layout = Layout with { Columns = [1] } };
                return Shares.Read(text) is { } shares ? this with { Layout = Layout with { Columns = shares } } : throw Wrong($"`{text}` are no shares of columns that make up the whole", Shares.Suggestion);
            case "numbers":
                var words = text.Split(' ', StringSplitOptions.RemoveEmptyEntries);
                if (words.Length > 0 && Formats.TryGetValue(words[0], out var format) && ReadNumbers(new PageNumbers(format), words[1..]) is { } numbers)
                    return this with { Layout = Layout with { Numbers = numbers with { Place = place } } };
                throw Wrong($"`{text}` is not a way of numbering pages", $"write one of {string.Join(", ", Formats.Keys.Select(f => $"`{f}`"))}, and `from 1` behind it to begin anew, or `by chapter` for 3–12, or `by chapter .` for 3.12");
            case "lines":
                return int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var step) && step is >= 0 and <= 100 ? this with { Layout = Layout with { LineNumbers = step } }
                    : throw Wrong($"`{text}` is not a step of line numbers", "write `5` to number every fifth line, or `0` for none");
            default: throw new ReportException(Diagnostic.Error(keyPlace, $"`{key}` says nothing about pages", Nearest.Suggest(key, Keys) ?? $"what can be said is {string.Join(", ", Keys.Select(k => $"`{k}`"))}"));
        }

        ReportException Wrong(string message, string? suggestion) => new(Diagnostic.Error(place, message, suggestion));
    }

    /// <summary>The layout with the words of its headers and footers.</summary>
    public static PageLayout WithWords(PageLayout layout, IEnumerable<KeyValuePair<string, RichText>> words)
    {
        foreach (var (key, said) in words)
        {
            var text = said.ToPlainText() == "none" ? RichText.Empty : said;
            layout = key switch
            {
                "header" => layout with { Header = text },
                "footer" => layout with { Footer = text },
                "first header" => layout with { FirstHeader = text },
                "first footer" => layout with { FirstFooter = text },
                "even header" => layout with { EvenHeader = text },
                _ => layout with { EvenFooter = text },
            };
        }
        return layout;
    }

    private static bool IsPaper(Length length) => length > Length.Centimetres(5) && length < Length.Centimetres(56);

    private static PageNumbers? ReadNumbers(PageNumbers numbers, string[] words) => words switch
    {
        [] => numbers,
        ["from", var first] when int.TryParse(first, NumberStyles.None, CultureInfo.InvariantCulture, out var start) && start < 30_000 => numbers with { Start = start },
        ["by", "chapter"] => numbers with { ByChapter = ChapterSign.EnDash },
        ["by", "chapter", var sign] when Signs.TryGetValue(sign, out var known) => numbers with { ByChapter = known },
        _ => null,
    };

    /// <summary>Reads <c>2.5 cm</c> for all sides, or <c>top 3 cm, left 20 %</c> for some.</summary>
    private PageLayout ReadMargins(string text, Func<string, string?, ReportException> wrong)
    {
        const string form = "write `2.5 cm` for all sides, or `top 3 cm, left 2 cm` for some";
        if (Measure.TryParse(text, out var all) && all.IsPositive) return Layout with { Top = all, Bottom = all, Left = all, Right = all };
        var layout = Layout;
        foreach (var part in text.Split(',', StringSplitOptions.TrimEntries))
        {
            var words = part.Split(' ', 2);
            if (words.Length < 2 || !Sides.Contains(words[0]) || !Measure.TryParse(words[1], out var measure) || !measure.IsPositive) throw wrong($"`{part}` is not a margin", form);
            layout = words[0] switch { "top" => layout with { Top = measure }, "bottom" => layout with { Bottom = measure }, "left" => layout with { Left = measure }, _ => layout with { Right = measure } };
        }
        return layout;
    }
}
