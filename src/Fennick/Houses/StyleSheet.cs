using System.Globalization;
using System.Xml.Linq;
using Fennick.Styles;

namespace Fennick.Houses;

/// <summary>The styles of a house's file: found by their names, resolved through what they are based on (ECMA-376 Part 1, §17.7).</summary>
internal sealed class StyleSheet
{
    public static readonly XNamespace W = "http://schemas.openxmlformats.org/wordprocessingml/2006/main";

    public static readonly XNamespace R = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";

    private const int DeepestBase = 40;
    private readonly HouseTheme theme;
    private readonly XElement? numbering;
    private readonly ILookup<string, (string Name, XElement Style)> byType;
    private readonly Dictionary<(string Type, string Name), (string Name, XElement Style)[]> byName;
    private readonly Dictionary<string, XElement> byId = new(StringComparer.Ordinal);

    public StyleSheet(XElement root, HouseTheme theme, XElement? numbering)
    {
        Root = root;
        this.theme = theme;
        this.numbering = numbering;
        foreach (var style in root.Elements(W + "style"))
            if ((string?)style.Attribute(W + "styleId") is { } id) byId.TryAdd(id, style);
        byType = root.Elements(W + "style").SelectMany(s => NamesOf(s), (s, name) => (Type: (string?)s.Attribute(W + "type") ?? "paragraph", Name: name, Style: s)).ToLookup(s => s.Type, s => (s.Name, s.Style));
        byName = byType.SelectMany(g => g, (g, s) => (Key: (g.Key, s.Name.ToUpperInvariant()), s.Name, s.Style)).GroupBy(s => s.Key).ToDictionary(g => g.Key, g => g.Select(s => (s.Name, s.Style)).ToArray());
    }

    public XElement Root { get; }

    /// <summary>The styles of a type by their names.</summary>
    public IEnumerable<(string Name, XElement Style)> Named(string type) => byType[type];

    /// <summary>Whether a style has an id, however it is capitalised.</summary>
    public bool HasId(string id) => byId.ContainsKey(id) || byId.Keys.Any(k => string.Equals(k, id, StringComparison.OrdinalIgnoreCase));

    /// <summary>A style by its name: as it is written, or else however it is capitalised.</summary>
    public XElement? Find(string type, string name)
    {
        if (!byName.TryGetValue((type, name.ToUpperInvariant()), out var styles)) return null;
        var exact = styles.FirstOrDefault(s => s.Name == name).Style;
        return exact ?? styles[0].Style;
    }

    /// <summary>The style of an id.</summary>
    public XElement? ById(string id) => byId.GetValueOrDefault(id);

    /// <summary>The style of a type that counts where none is named.</summary>
    public XElement? Default(string type) => Root.Elements(W + "style").FirstOrDefault(s => (string?)s.Attribute(W + "type") == type && IsOn(s.Attribute(W + "default")));

    /// <summary>Names that more than one style of a type bears.</summary>
    public IEnumerable<string> TwiceNamed(string type) =>
        Named(type).GroupBy(s => s.Name).Where(g => g.Select(s => s.Style).Distinct().Count() > 1).Select(g => g.Key);

    public static string IdOf(XElement style) => (string?)style.Attribute(W + "styleId") ?? "";

    public static string NameOf(XElement style) => NamesOf(style).FirstOrDefault() ?? IdOf(style);

    /// <summary>Whether a switch is there and not turned off.</summary>
    public static bool IsOn(XElement? toggle) => toggle is not null && ((string?)toggle.Attribute(W + "val") is not { } value || IsTrue(value));

    /// <summary>What a style says, or what it is based on, or the defaults.</summary>
    /// <param name="style">The style.</param>
    /// <param name="part"><c>pPr</c> or <c>rPr</c>.</param>
    /// <param name="name">The element that is looked for.</param>
    public XElement? Property(XElement style, string part, string name)
    {
        foreach (var level in Chain(style))
            if (level.Element(W + part)?.Element(W + name) is { } found) return found;
        return Root.Element(W + "docDefaults")?.Element(W + (part + "Default"))?.Element(W + part)?.Element(W + name);
    }

    /// <summary>A style and what it is based on, nearest first.</summary>
    public IEnumerable<XElement> Chain(XElement style)
    {
        for (var depth = 0; depth < DeepestBase; depth++)
        {
            yield return style;
            if ((string?)style.Element(W + "basedOn")?.Attribute(W + "val") is not { } id || !byId.TryGetValue(id, out var below)) yield break;
            style = below;
        }
    }

    /// <summary>The style of a paragraph of the house's own text; null if the house has none.</summary>
    public XElement? StyleOf(XElement paragraph) => (string?)paragraph.Element(W + "pPr")?.Element(W + "pStyle")?.Attribute(W + "val") is { } id ? ById(id) : Default("paragraph");

    /// <summary>A paragraph style as the layout needs it.</summary>
    public ParagraphStyle Resolve(XElement style, ParagraphStyle role)
    {
        var points = Number(Property(style, "rPr", "sz"), "val") / 2.0 ?? 10;
        var bold = IsOn(Property(style, "rPr", "b"));
        var family = FamilyOf(style);
        var alignment = (string?)Property(style, "pPr", "jc")?.Attribute(W + "val");
        var (left, hanging) = (Indent(style, "left") ?? Indent(style, "start"), Indent(style, "hanging"));
        if (LevelOf(style) is { } level && level.Element(W + "pPr")?.Element(W + "ind") is { } indent)
        {
            left ??= Twips(indent, "left") ?? Twips(indent, "start");
            hanging ??= Twips(indent, "hanging");
        }
        return new ParagraphStyle(role.Role, IdOf(style), NameOf(style))
        {
            BasedOn = role.BasedOn,
            Next = role.Next,
            Font = role.Font,
            Family = family,
            Points = points,
            Bold = bold,
            Italic = IsOn(Property(style, "rPr", "i")),
            Before = Spacing(style, "before"),
            After = Spacing(style, "after"),
            Lines = LinesOf(style, points),
            Contextual = IsOn(Property(style, "pPr", "contextualSpacing")),
            KeepWithNext = IsOn(Property(style, "pPr", "keepNext")),
            KeepLines = IsOn(Property(style, "pPr", "keepLines")),
            OutlineLevel = Number(Property(style, "pPr", "outlineLvl"), "val") is { } outline ? (int)outline : null,
            RightAligned = alignment is "right" or "end",
            Centred = alignment == "center",
            Justified = alignment is "both" or "distribute",
            IndentLeft = left ?? Length.Zero,
            IndentRight = Indent(style, "right") ?? Indent(style, "end") ?? Length.Zero,
            Hanging = hanging ?? Length.Zero,
            FirstLine = Indent(style, "firstLine") ?? Length.Zero,
            RuleAbove = RuleOf(style, "top"),
            RuleBelow = RuleOf(style, "bottom"),
            TabStops = [.. Property(style, "pPr", "tabs")?.Elements(W + "tab").Where(t => (string?)t.Attribute(W + "val") != "clear").Select(t => Twips(t, "pos")).OfType<Length>() ?? []],
            HasLeader = Property(style, "pPr", "tabs")?.Elements(W + "tab").Any(t => (string?)t.Attribute(W + "leader") == "dot") == true,
            RightTabAtTextWidth = Property(style, "pPr", "tabs")?.Elements(W + "tab").Any(t => (string?)t.Attribute(W + "val") is "right" or "end") == true,
        };
    }

    /// <summary>The rule at an edge of a style's paragraphs, which takes room; what colour it has does not matter.</summary>
    private ParagraphRule? RuleOf(XElement style, string edge) =>
        Property(style, "pPr", "pBdr")?.Element(W + edge) is { } border && (string?)border.Attribute(W + "val") is not (null or "nil" or "none")
            ? new ParagraphRule((int)(Number(border, "sz") ?? 4), (int)(Number(border, "space") ?? 0), ThemeColour.Text) : null;

    /// <summary>The level of the list that a style belongs to.</summary>
    public XElement? LevelOf(XElement style)
    {
        if (numbering is null || Property(style, "pPr", "numPr") is not { } own || Number(own.Element(W + "numId"), "val") is not ({ } id and not 0)) return null;
        var level = Number(own.Element(W + "ilvl"), "val") ?? 0;
        var levels = AbstractOf(id)?.Elements(W + "lvl").ToArray() ?? [];
        // A level names the style that it belongs to; a style need not name its level.
        return levels.FirstOrDefault(l => (string?)l.Element(W + "pStyle")?.Attribute(W + "val") == IdOf(style)) ?? levels.FirstOrDefault(l => Number(l, "ilvl") == level);
    }

    /// <summary>The abstract list of a list's number; a list that stands for a style leads to that style's own.</summary>
    public XElement? AbstractOf(double number)
    {
        for (var depth = 0; depth < DeepestBase; depth++)
        {
            var reference = numbering?.Elements(W + "num").FirstOrDefault(n => Number(n, "numId") == number)?.Element(W + "abstractNumId");
            var found = numbering?.Elements(W + "abstractNum").FirstOrDefault(a => Number(a, "abstractNumId") == Number(reference, "val"));
            if ((string?)found?.Element(W + "numStyleLink")?.Attribute(W + "val") is not { } link || !byId.TryGetValue(link, out var style)) return found;
            if (Number(style.Element(W + "pPr")?.Element(W + "numPr")?.Element(W + "numId"), "val") is not { } next) return found;
            number = next;
        }
        return null;
    }

    /// <summary>The family that a style's Latin text is set in.</summary>
    public string FamilyOf(XElement style)
    {
        foreach (var level in Chain(style).Select(s => s.Element(W + "rPr")).Append(Root.Element(W + "docDefaults")?.Element(W + "rPrDefault")?.Element(W + "rPr")))
        {
            if (level?.Element(W + "rFonts") is not { } fonts) continue;
            // A theme font beats a named one.
            if ((string?)fonts.Attribute(W + "asciiTheme") is { } themed && theme.Family(themed) is { Length: > 0 } family) return family;
            if ((string?)fonts.Attribute(W + "ascii") is { Length: > 0 } named) return named;
        }
        return "Times New Roman";
    }

    /// <summary>The colour of a style's text as six hexadecimal digits; null if the reader's program chooses.</summary>
    public string? ColourOf(XElement style) => theme.Resolve(Property(style, "rPr", "color"), "color", "val");

    public static double? Number(XElement? element, string attribute) =>
        double.TryParse((string?)element?.Attribute(W + attribute), NumberStyles.Float, CultureInfo.InvariantCulture, out var number) ? number : null;

    private static bool IsOn(XAttribute? toggle) => toggle is not null && IsTrue(toggle.Value);

    private static bool IsTrue(string value) => value is not ("0" or "false" or "off");

    private static IEnumerable<string> NamesOf(XElement style) =>
        ((string?)style.Element(W + "name")?.Attribute(W + "val") ?? "").Split(',').Concat(((string?)style.Element(W + "aliases")?.Attribute(W + "val") ?? "").Split(',')).Select(n => n.Trim()).Where(n => n.Length > 0);

    private static Length? Twips(XElement? element, string attribute) => Number(element, attribute) is { } twips ? Length.FromTwips((int)Math.Clamp(twips, -31_680, 31_680)) : null;

    /// <summary>Attributes of one element are inherited one by one.</summary>
    private XElement? WithAttribute(XElement style, string name, string attribute)
    {
        foreach (var level in Chain(style))
            if (level.Element(W + "pPr")?.Element(W + name) is { } found && found.Attribute(W + attribute) is not null) return found;
        return Root.Element(W + "docDefaults")?.Element(W + "pPrDefault")?.Element(W + "pPr")?.Element(W + name);
    }

    private Length? Indent(XElement style, string attribute) => Twips(WithAttribute(style, "ind", attribute), attribute);

    private Length Spacing(XElement style, string attribute) => Twips(WithAttribute(style, "spacing", attribute), attribute) ?? Length.Zero;

    private double LinesOf(XElement style, double points)
    {
        const double natural = 1.17;
        var spacing = WithAttribute(style, "spacing", "line");
        if (Number(spacing, "line") is not { } line) return 1;
        return (string?)spacing!.Attribute(W + "lineRule") is "exact" or "atLeast" ? line / 20 / (points * natural) : line / 240;
    }
}
