using System.Xml.Linq;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>The sections of a document, each by the properties at its end (ECMA-376 Part 1, §17.6).</summary>
internal static class Sections
{
    private static readonly string[] Order = ["headerReference", "footerReference", "footnotePr", "endnotePr", "type", "pgSz", "pgMar", "paperSrc", "pgBorders", "lnNumType", "pgNumType", "cols", "formProt", "vAlign", "noEndnote", "titlePg", "textDirection", "bidi", "rtlGutter", "docGrid", "printerSettings", "sectPrChange"];

    /// <summary>All of them, the last one made if the body has none.</summary>
    public static List<XElement> Of(XElement body)
    {
        if (body.Elements(W + "sectPr").LastOrDefault() is null) body.Add(new XElement(W + "sectPr"));
        return [.. body.Descendants(W + "sectPr").Where(s => s.Parent == body || s.Parent!.Name == W + "pPr")];
    }

    /// <summary>A property of a section, made in its place if it is not there.</summary>
    public static XElement Property(XElement section, string name)
    {
        if (section.Element(W + name) is { } known) return known;
        var property = new XElement(W + name);
        Insert(section, property);
        return property;
    }

    public static void Insert(XElement section, XElement property)
    {
        var place = Array.IndexOf(Order, property.Name.LocalName);
        if (section.Elements().LastOrDefault(e => Array.IndexOf(Order, e.Name.LocalName) <= place && Array.IndexOf(Order, e.Name.LocalName) >= 0) is { } before) before.AddAfterSelf(property);
        else section.AddFirst(property);
    }

    /// <summary>The references to headers and footers.</summary>
    public static XElement[] References(XElement section) => [.. section.Elements().Where(e => e.Name == W + "headerReference" || e.Name == W + "footerReference")];
}
