using System.Globalization;
using System.Text;
using System.Xml.Linq;
using Fennick.Formatting;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>The numbers that lists give paragraphs, such as those of headings (ECMA-376 Part 1, §17.9).</summary>
internal sealed class ParagraphNumbers
{
    private const int Levels = 9;
    private readonly Dictionary<XElement, string> texts = [];
    private readonly Dictionary<string, XElement> styles;
    private readonly Dictionary<string, XElement> lists;
    private readonly Dictionary<string, XElement> shapes;
    private readonly Dictionary<string, int?[]> counters = new(StringComparer.Ordinal);
    private readonly HashSet<(string List, int Level)> begun = [];

    private ParagraphNumbers(WordDocument document)
    {
        styles = ById(document.Find("styles") is { } part ? document.Open(part).Root! : null, "style", "styleId");
        var numbering = document.Find("numbering") is { } own ? document.Open(own).Root! : null;
        (lists, shapes) = (ById(numbering, "num", "numId"), ById(numbering, "abstractNum", "abstractNumId"));
    }

    /// <summary>The numbers of all paragraphs of the body.</summary>
    public static ParagraphNumbers In(WordDocument document)
    {
        var numbers = new ParagraphNumbers(document);
        foreach (var paragraph in document.Body.Descendants(P))
            if (numbers.ListOf(paragraph) is ({ } list, var level) && numbers.lists.TryGetValue(list, out var own) && numbers.Count(list, own, level) is { Length: > 0 } text) numbers.texts[paragraph] = text;
        return numbers;
    }

    /// <summary>What tells which lists paragraphs are of.</summary>
    public static ParagraphNumbers ListsIn(WordDocument document) => new(document);

    /// <summary>The number of a paragraph without a full stop at its end; null if it has none.</summary>
    public string? Of(XElement paragraph) => texts.GetValueOrDefault(paragraph)?.TrimEnd('.', ' ');

    private static Dictionary<string, XElement> ById(XElement? root, string name, string id) =>
        (root?.Elements(W + name) ?? []).GroupBy(e => (string?)e.Attribute(W + id) ?? "").ToDictionary(g => g.Key, g => g.First(), StringComparer.Ordinal);

    /// <summary>The list that a paragraph is of and its level there, by itself or by its style; null if it is of none.</summary>
    public (string? List, int Level) ListOf(XElement paragraph)
    {
        var properties = paragraph.Element(W + "pPr");
        var style = (string?)properties?.Element(W + "pStyle")?.Attribute(Val) ?? "";
        var (list, level) = Read(properties?.Element(W + "numPr"));
        var seen = new HashSet<string>();
        for (var next = style; list is null && seen.Add(next) && styles.TryGetValue(next, out var definition); next = (string?)definition.Element(W + "basedOn")?.Attribute(Val) ?? "")
        {
            var (named, ofStyle) = Read(definition.Element(W + "pPr")?.Element(W + "numPr"));
            level ??= ofStyle;
            list = named;
            if (list is not null && LevelOf(list, next) is { } linked) level = linked;
        }
        return (list is null or "0" ? null : list, Math.Clamp(level ?? 0, 0, Levels - 1));
    }

    private static (string? List, int? Level) Read(XElement? numbering) => ((string?)numbering?.Element(W + "numId")?.Attribute(Val), NumberIn(numbering?.Element(W + "ilvl")?.Attribute(Val)));

    private XElement? ShapeOf(string list) => lists.TryGetValue(list, out var own) && shapes.TryGetValue((string?)own.Element(W + "abstractNumId")?.Attribute(Val) ?? "", out var shape) ? shape : null;

    /// <summary>The level of a list that is linked to a style.</summary>
    private int? LevelOf(string list, string style) => NumberIn(ShapeOf(list)?.Elements(W + "lvl").FirstOrDefault(l => (string?)l.Element(W + "pStyle")?.Attribute(Val) == style)?.Attribute(W + "ilvl"));

    private string? Count(string list, XElement own, int level)
    {
        var shape = (string?)own.Element(W + "abstractNumId")?.Attribute(Val) ?? "";
        if (!counters.TryGetValue(shape, out var numbers)) counters[shape] = numbers = new int?[Levels];
        XElement? Level(int at) => own.Elements(W + "lvlOverride").FirstOrDefault(o => NumberIn(o.Attribute(W + "ilvl")) == at)?.Element(W + "lvl") ?? ShapeOf(list)?.Elements(W + "lvl").FirstOrDefault(l => NumberIn(l.Attribute(W + "ilvl")) == at);
        int Start(int at) => NumberIn(Level(at)?.Element(W + "start")?.Attribute(Val)) ?? 1;
        var restart = NumberIn(own.Elements(W + "lvlOverride").FirstOrDefault(o => NumberIn(o.Attribute(W + "ilvl")) == level)?.Element(W + "startOverride")?.Attribute(Val));
        numbers[level] = begun.Add((list, level)) && restart is { } from ? from : numbers[level] + 1 ?? Start(level);
        for (var deeper = level + 1; deeper < Levels; deeper++) numbers[deeper] = null;
        if (Level(level) is not { } definition || (string?)definition.Element(W + "lvlText")?.Attribute(Val) is not { } pattern) return null;
        var isLegal = definition.Element(W + "isLgl") is not null;
        var text = new StringBuilder();
        for (var i = 0; i < pattern.Length; i++)
        {
            if (pattern[i] != '%' || i + 1 >= pattern.Length || pattern[i + 1] is < '1' or > '9')
            {
                text.Append(pattern[i]);
                continue;
            }
            var at = pattern[++i] - '1';
            if (Written(numbers[at] ?? Start(at), isLegal && at < level ? "decimal" : (string?)Level(at)?.Element(W + "numFmt")?.Attribute(Val)) is not { } written) return null;
            text.Append(written);
        }
        return text.ToString().Any(char.IsLetterOrDigit) ? text.ToString() : null;
    }

    private static string? Written(int number, string? format) => format switch
    {
        null or "decimal" => number.ToString(CultureInfo.InvariantCulture),
        "decimalZero" => number.ToString("00", CultureInfo.InvariantCulture),
        "lowerLetter" => Counting.Write(number, PageNumberFormat.LowerLetter),
        "upperLetter" => Counting.Write(number, PageNumberFormat.UpperLetter),
        "lowerRoman" => Counting.Write(number, PageNumberFormat.LowerRoman),
        "upperRoman" => Counting.Write(number, PageNumberFormat.UpperRoman),
        "none" => "",
        _ => null,
    };
}
