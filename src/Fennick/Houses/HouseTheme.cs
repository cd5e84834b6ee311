using System.Collections.Immutable;
using System.Globalization;
using System.Xml.Linq;
using Fennick.Styles;

namespace Fennick.Houses;

/// <summary>The theme of a house's file: its colours and its families (ECMA-376 Part 1, §20.1.6).</summary>
internal sealed class HouseTheme
{
    public static readonly XNamespace A = "http://schemas.openxmlformats.org/drawingml/2006/main";

    private static readonly ImmutableDictionary<string, ThemeColour> ByName = new Dictionary<string, ThemeColour>(StringComparer.OrdinalIgnoreCase)
    {
        ["dk1"] = ThemeColour.Text,
        ["dark1"] = ThemeColour.Text,
        ["text1"] = ThemeColour.Text,
        ["tx1"] = ThemeColour.Text,
        ["lt1"] = ThemeColour.Background,
        ["light1"] = ThemeColour.Background,
        ["background1"] = ThemeColour.Background,
        ["bg1"] = ThemeColour.Background,
        ["dk2"] = ThemeColour.StrongText,
        ["dark2"] = ThemeColour.StrongText,
        ["text2"] = ThemeColour.StrongText,
        ["tx2"] = ThemeColour.StrongText,
        ["lt2"] = ThemeColour.Tint,
        ["light2"] = ThemeColour.Tint,
        ["background2"] = ThemeColour.Tint,
        ["bg2"] = ThemeColour.Tint,
        ["accent1"] = ThemeColour.Accent1,
        ["accent2"] = ThemeColour.Accent2,
        ["accent3"] = ThemeColour.Accent3,
        ["accent4"] = ThemeColour.Accent4,
        ["accent5"] = ThemeColour.Accent5,
        ["accent6"] = ThemeColour.Accent6,
        ["hyperlink"] = ThemeColour.Link,
        ["hlink"] = ThemeColour.Link,
        ["followedHyperlink"] = ThemeColour.FollowedLink,
        ["folHlink"] = ThemeColour.FollowedLink,
    }.ToImmutableDictionary(StringComparer.OrdinalIgnoreCase);

    /// <summary>The theme of a house.</summary>
    /// <param name="root">The theme's part; null if the house has none.</param>
    public HouseTheme(XElement? root)
    {
        Root = root;
        var colours = new Dictionary<ThemeColour, string>();
        foreach (var slot in root?.Descendants(A + "clrScheme").FirstOrDefault()?.Elements() ?? [])
            if (ByName.TryGetValue(slot.Name.LocalName, out var colour) && HexOf(slot) is { } hex) colours[colour] = hex;
        Colours = colours.ToImmutableDictionary();
    }

    public XElement? Root { get; }

    /// <summary>Its colours as six hexadecimal digits.</summary>
    public ImmutableDictionary<ThemeColour, string> Colours { get; private set; }

    public string? Heading => Typeface("majorFont");

    public string? Body => Typeface("minorFont");

    /// <summary>The colour that a name stands for.</summary>
    public static ThemeColour? Find(string name) => ByName.TryGetValue(name, out var colour) ? colour : null;

    /// <summary>The family that an attribute such as <c>majorHAnsi</c> stands for.</summary>
    public string? Family(string attribute) => attribute.StartsWith("major", StringComparison.Ordinal) ? Heading : Body;

    /// <summary>The colour that an element names: by the theme, lightened or darkened, or itself.</summary>
    /// <param name="element">The element.</param>
    /// <param name="kind"><c>color</c> or <c>fill</c>, which the names of its attributes hold.</param>
    /// <param name="literal">The attribute with its digits.</param>
    /// <returns>Six hexadecimal digits, or null if it names none.</returns>
    public string? Resolve(XElement? element, string kind, string literal)
    {
        var w = StyleSheet.W;
        var prefix = kind == "fill" ? "themeFill" : "theme";
        if ((string?)element?.Attribute(w + (kind == "fill" ? "themeFill" : "themeColor")) is { } name && Find(name) is { } colour && Colours.TryGetValue(colour, out var hex))
        {
            var own = Colour.Parse(hex)!.Value;
            if (Byte((string?)element.Attribute(w + (prefix + "Tint"))) is { } tint) own = own.WithLightness(own.Lightness * tint + (1 - tint));
            if (Byte((string?)element.Attribute(w + (prefix + "Shade"))) is { } shade) own = own.WithLightness(own.Lightness * shade);
            return own.ToString();
        }
        return Colour.Parse((string?)element?.Attribute(w + literal))?.ToString();
    }

    /// <summary>Gives the theme other colours and families.</summary>
    public void Change(ImmutableDictionary<ThemeColour, string> colours, string? heading, string? body)
    {
        Colours = Colours.SetItems(colours);
        foreach (var slot in Root?.Descendants(A + "clrScheme").FirstOrDefault()?.Elements() ?? [])
            if (ByName.TryGetValue(slot.Name.LocalName, out var colour) && colours.TryGetValue(colour, out var hex)) slot.ReplaceNodes(new XElement(A + "srgbClr", new XAttribute("val", hex)));
        if (heading is not null) Set("majorFont", heading);
        if (body is not null) Set("minorFont", body);
    }

    private static string? HexOf(XElement slot) => slot.Elements().FirstOrDefault() is { } value
        ? Colour.Parse((string?)value.Attribute(value.Name.LocalName == "sysClr" ? "lastClr" : "val"))?.ToString() : null;

    private static double? Byte(string? hex) => int.TryParse(hex, NumberStyles.HexNumber, CultureInfo.InvariantCulture, out var value) ? value / 255.0 : null;

    private XElement? Latin(string font) => Root?.Descendants(A + font).FirstOrDefault()?.Element(A + "latin");

    private string? Typeface(string font) => (string?)Latin(font)?.Attribute("typeface") is { Length: > 0 } family ? family : null;

    private void Set(string font, string family) => Latin(font)?.SetAttributeValue("typeface", family);
}
