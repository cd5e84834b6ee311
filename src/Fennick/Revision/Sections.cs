using System.Xml.Linq;
using Fennick.Schema;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>The sections of a document, each by the properties at its end (ECMA-376 Part 1, §17.6).</summary>
internal static class Sections
{
    /// <summary>All of them, the last one made if the body has none.</summary>
    public static List<XElement> Of(XElement body)
    {
        if (body.Elements(W + "sectPr").LastOrDefault() is null) body.Add(new XElement(W + "sectPr"));
        return [.. body.Descendants(W + "sectPr").Where(s => s.Parent == body || s.Parent!.Is("pPr"))];
    }

    /// <summary>A property of a section, made in its place if it is not there.</summary>
    public static XElement Property(XElement section, string name)
    {
        if (section.Element(W + name) is { } known) return known;
        var property = new XElement(W + name);
        section.Add(property);
        SchemaMender.Order(section);
        return property;
    }

    /// <summary>The references to headers and footers.</summary>
    public static XElement[] References(XElement section) => [.. section.Elements().Where(e => e.Is("headerReference") || e.Is("footerReference"))];
}
