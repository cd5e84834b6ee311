using System.Globalization;
using System.Xml.Linq;
using Fennick.Houses;
using Fennick.Schema;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>How the styles of a document look, whatever they are built of: with what they are based on, the defaults, the theme and the lists.</summary>
internal sealed class DocumentLook
{
    // What does not show.
    private static readonly HashSet<string> Unseen = ["name", "aliases", "link", "next", "uiPriority", "semiHidden", "unhideWhenUsed", "qFormat", "locked", "personal", "personalCompose", "personalReply", "autoRedefine", "rsid", "basedOn"];
    private static readonly string[] Fonts = ["ascii", "hAnsi", "eastAsia", "cs"];
    private readonly WordDocument document;
    private readonly HouseTheme theme;
    private readonly Dictionary<string, XElement> styles;
    private readonly Dictionary<string, string> looks = new(StringComparer.Ordinal);
    private string? defaults;

    public DocumentLook(WordDocument document)
    {
        this.document = document;
        Theme = document.Find("theme") is { } part ? document.Open(part).Root : null;
        theme = new HouseTheme(Theme);
        Styles = document.Find("styles") is { } own ? document.Open(own).Root : null;
        styles = (Styles?.Elements(W + "style") ?? []).GroupBy(s => (string?)s.Attribute(W + "styleId") ?? "").ToDictionary(g => g.Key, g => g.First(), StringComparer.Ordinal);
        DefaultParagraph = styles.Values.Where(s => (string?)s.Attribute(W + "type") == "paragraph" && (string?)s.Attribute(W + "default") is "1" or "true").Select(s => (string?)s.Attribute(W + "styleId")).FirstOrDefault() ?? "";
    }

    public XElement? Theme { get; }

    /// <summary>The part of styles.</summary>
    public XElement? Styles { get; }

    /// <summary>The formatting of text that nothing else formats.</summary>
    public XElement? TextDefaults => Styles?.Element(W + "docDefaults")?.Element(W + "rPrDefault")?.Element(W + "rPr");

    /// <summary>The formatting of paragraphs that nothing else formats.</summary>
    public XElement? ParagraphDefaults => Styles?.Element(W + "docDefaults")?.Element(W + "pPrDefault")?.Element(W + "pPr");

    /// <summary>The language of text that names none.</summary>
    public XElement? Language => TextDefaults?.Element(W + "lang");

    public XElement? Find(string id) => styles.GetValueOrDefault(id);

    /// <summary>The id of the style that paragraphs have which name none.</summary>
    public string DefaultParagraph { get; }

    /// <summary>By what it is known whether two styles look the same.</summary>
    public string Of(string id)
    {
        if (looks.TryGetValue(id, out var known)) return known;
        // A style that is based on itself is based on nothing.
        looks[id] = "";
        if (Find(id) is not { } style) return "";
        var copy = new XElement(style);
        copy.RemoveAttributes();
        copy.Elements().Where(e => Unseen.Contains(e.Name.LocalName)).Remove();
        foreach (var list in copy.Descendants(W + "numId").ToArray()) list.ReplaceWith(new XElement("list", LookOfList((string?)list.Attribute(Val) ?? "")));
        copy.Descendants(W + "rsid").Remove();
        Flatten(copy);
        var based = (string?)style.Element(W + "basedOn")?.Attribute(Val);
        var root = based is not null ? Of(based) : (string?)style.Attribute(W + "type") == "paragraph" ? Defaults : "";
        return looks[id] = $"{copy.ToString(SaveOptions.DisableFormatting)}<{root}";
    }

    private string Defaults => defaults ??= LookOfDefaults();

    private string LookOfDefaults()
    {
        var copy = new XElement("defaults", TextDefaults, ParagraphDefaults);
        copy.Descendants(W + "lang").Remove();
        Flatten(copy);
        return copy.ToString(SaveOptions.DisableFormatting);
    }

    private string LookOfList(string number)
    {
        if (document.Find("numbering") is not { } part) return "";
        var root = document.Open(part).Root!;
        var list = root.Elements(W + "num").FirstOrDefault(n => (string?)n.Attribute(W + "numId") == number);
        var shape = (string?)list?.Element(W + "abstractNumId")?.Attribute(Val);
        if (root.Elements(W + "abstractNum").FirstOrDefault(a => (string?)a.Attribute(W + "abstractNumId") == shape) is not { } form) return "";
        var copy = new XElement("list", form.Elements(W + "lvl"), list!.Elements(W + "lvlOverride"));
        // Levels name styles by their ids, which are of no account.
        foreach (var style in copy.Descendants(W + "pStyle")) style.SetAttributeValue(Val, Find((string?)style.Attribute(Val) ?? "") is { } named ? Transplant.NameOf(named).ToLowerInvariant() : "");
        foreach (var level in copy.Descendants(W + "lvl")) level.Attribute(W + "tplc")?.Remove();
        Flatten(copy);
        return copy.ToString(SaveOptions.DisableFormatting);
    }

    /// <summary>Puts the fonts and colours themselves in the place of those of the theme, so that it looks the same under another one.</summary>
    public void Flatten(XElement root)
    {
        foreach (var element in root.DescendantsAndSelf().ToArray()) FlattenOne(element);
    }

    /// <summary>The same for one element alone.</summary>
    public void FlattenOne(XElement element)
    {
        if (element.Is("rFonts")) FlattenFonts(element);
        else if (element.Name.Namespace == A) FlattenDrawing(element);
        else if (element.HasAttributes && element.Attributes().Any(IsOfTheme))
        {
            var literal = element.Is("color") ? "val" : "color";
            if (element.Attribute(W + "themeColor") is not null && theme.Resolve(element, "color", literal) is { } colour) element.SetAttributeValue(W + literal, colour);
            if (element.Attribute(W + "themeFill") is not null && theme.Resolve(element, "fill", "fill") is { } fill) element.SetAttributeValue(W + "fill", fill);
            element.Attributes().Where(IsOfTheme).Remove();
        }
    }

    private static bool IsOfTheme(XAttribute attribute) => attribute.Name.Namespace == W && attribute.Name.LocalName.StartsWith("theme", StringComparison.Ordinal);

    private void FlattenFonts(XElement fonts)
    {
        foreach (var kind in Fonts)
        {
            if (fonts.Attribute(W + (kind == "cs" ? "cstheme" : kind + "Theme")) is not { } named) continue;
            if (kind is "ascii" or "hAnsi" && theme.Family(named.Value) is { Length: > 0 } family) fonts.SetAttributeValue(W + kind, family);
            named.Remove();
        }
    }

    private void FlattenDrawing(XElement element)
    {
        if (element.Name == A + "schemeClr" && HouseTheme.Find((string?)element.Attribute("val") ?? "") is { } name && theme.Colours.TryGetValue(name, out var hex))
        {
            element.Name = A + "srgbClr";
            element.SetAttributeValue("val", hex.TrimStart('#'));
        }
        else if ((string?)element.Attribute("typeface") is { } typeface && typeface.StartsWith('+') && (typeface.StartsWith("+mj", StringComparison.Ordinal) ? theme.Heading : theme.Body) is { Length: > 0 } family) element.SetAttributeValue("typeface", family);
    }

    /// <summary>Whether text without any formatting looks the same.</summary>
    public bool HasDefaultsOf(DocumentLook other) => Defaults == other.Defaults;

    /// <summary>Gives a style that is based on nothing what the defaults of its document gave it, and takes back what those of another would.</summary>
    /// <param name="style">A copy of the style.</param>
    /// <param name="other">The look of the document that it will stand in.</param>
    public void Bake(XElement style, DocumentLook other)
    {
        foreach (var (name, own, theirs) in new[] { ("pPr", ParagraphDefaults, other.ParagraphDefaults), ("rPr", TextDefaults, other.TextDefaults) })
        {
            if (style.Element(W + name) is not { } properties) style.Add(properties = new XElement(W + name));
            foreach (var wanted in own?.Elements() ?? [])
            {
                var flat = new XElement(wanted);
                Flatten(flat);
                Merge(properties, flat);
            }
            foreach (var unwanted in theirs?.Elements() ?? [])
                if (Plain(unwanted.Name.LocalName) is { } plain && own?.Element(unwanted.Name) is null) Merge(properties, plain);
        }
        SchemaMender.Order(style);
    }

    private static void Merge(XElement properties, XElement value)
    {
        if (properties.Element(value.Name) is not { } own) properties.Add(new XElement(value));
        else foreach (var attribute in value.Attributes().Where(a => own.Attribute(a.Name) is null)) own.SetAttributeValue(attribute.Name, attribute.Value);
    }

    /// <summary>What a property is that nobody has set (ECMA-376 Part 1, §17.3).</summary>
    private static XElement? Plain(string name) => name switch
    {
        "spacing" => new XElement(W + "spacing", new XAttribute(W + "before", 0), new XAttribute(W + "after", 0), new XAttribute(W + "line", 240), new XAttribute(W + "lineRule", "auto")),
        "sz" => new XElement(W + "sz", new XAttribute(Val, 20)),
        "szCs" => new XElement(W + "szCs", new XAttribute(Val, 20)),
        "jc" => new XElement(W + "jc", new XAttribute(Val, "left")),
        "ind" => new XElement(W + "ind", new XAttribute(W + "left", 0), new XAttribute(W + "right", 0)),
        "kern" => new XElement(W + "kern", new XAttribute(Val, 0)),
        "b" or "i" or "caps" or "smallCaps" => new XElement(W + name, new XAttribute(Val, "0")),
        _ => null,
    };

    /// <summary>Gives text its language that has none of its own.</summary>
    public static void Speak(XElement run, XElement language)
    {
        if (run.Element(W + "rPr") is not { } properties) run.AddFirst(properties = new XElement(W + "rPr"));
        if (properties.Element(W + "lang") is not null) return;
        properties.Add(new XElement(language));
        SchemaMender.Order(run);
    }

    /// <summary>A number for the name of something that is there already.</summary>
    public static string Numbered(string name, int number) => string.Create(CultureInfo.InvariantCulture, $"{name} ({number})");
}
