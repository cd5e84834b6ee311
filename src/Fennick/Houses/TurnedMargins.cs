using System.Globalization;
using System.Xml.Linq;
using Fennick.Schema;
using Fennick.Styles;

namespace Fennick.Houses;

/// <summary>Makes the headers and footers of a house fit pages that lie across: what stood at the right edge of the text, or in its middle, stands there again.</summary>
internal sealed class TurnedMargins(StyleSheet sheet, PageGeometry page)
{
    // How near to the edge or the middle a tab stop has to be to belong there, as a share of the text's width.
    private const double Near = 0.1;
    private static readonly XNamespace W = StyleSheet.W;

    /// <summary>A copy for turned pages; null if nothing has to move.</summary>
    public XDocument? Turn(XDocument story)
    {
        var copy = new XDocument(story);
        var hasMoved = false;
        foreach (var paragraph in copy.Root!.Elements(W + "p")) hasMoved |= Move(paragraph);
        if (!hasMoved) return null;
        SchemaMender.Order(copy.Root);
        return copy;
    }

    private bool Move(XElement paragraph)
    {
        var properties = paragraph.Element(W + "pPr");
        var style = (string?)properties?.Element(W + "pStyle")?.Attribute(W + "val") is { } id ? sheet.ById(id) : sheet.Default("paragraph");
        var stops = (properties?.Element(W + "tabs") ?? (style is null ? null : sheet.Property(style, "pPr", "tabs")))?.Elements(W + "tab").ToArray() ?? [];
        var (width, turned) = (page.TextWidth.Twips, page.Turned.TextWidth.Twips);
        var tabs = new XElement(W + "tabs");
        foreach (var stop in stops)
        {
            if (StyleSheet.Number(stop, "pos") is not { } position || (string?)stop.Attribute(W + "val") == "clear") continue;
            var place = Math.Abs(position - width) < Near * width ? turned : Math.Abs(position - (width / 2.0)) < Near * width ? turned / 2 : -1;
            if (place < 0) continue;
            tabs.Add(new XElement(W + "tab", new XAttribute(W + "val", "clear"), new XAttribute(W + "pos", position)));
            var moved = new XElement(stop);
            moved.SetAttributeValue(W + "pos", place.ToString(CultureInfo.InvariantCulture));
            tabs.Add(moved);
        }
        if (!tabs.HasElements) return false;
        if (properties is null) paragraph.AddFirst(properties = new XElement(W + "pPr"));
        // Stops of the paragraph's own give way; those of its style are cleared.
        var own = properties.Element(W + "tabs");
        if (own is not null) tabs.Add(own.Elements().Where(t => tabs.Elements().All(n => (string?)n.Attribute(W + "pos") != (string?)t.Attribute(W + "pos"))));
        own?.Remove();
        properties.Add(new XElement(W + "tabs", tabs.Elements().OrderBy(t => StyleSheet.Number(t, "pos"))));
        return true;
    }
}
