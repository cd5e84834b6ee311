using System.Xml.Linq;
using Fennick.Layout;
using Fennick.Styles;
using Fennick.Wordprocessing;

namespace Fennick.Houses;

/// <summary>Finds out how much room the slots for titles have.</summary>
/// <param name="sheet">The house's styles.</param>
/// <param name="measures">The measures of its fonts.</param>
/// <param name="page">Its page.</param>
/// <param name="heightOf">The height of a paragraph with the space around it, in points.</param>
internal sealed class SlotRoom(StyleSheet sheet, FontWidths measures, PageGeometry page, Func<XElement, double> heightOf)
{
    // A title takes this share of what is free, and leaves the rest to the subtitle.
    private const double ShareOfTitle = 0.85;
    private const double GapInMargin = 14;
    private static readonly XNamespace W = StyleSheet.W;

    /// <summary>The room of a slot; null if it is not for a title, or stands where nobody knows how much there is.</summary>
    /// <param name="names">The slot's names.</param>
    /// <param name="control">The slot.</param>
    /// <param name="isStory">Whether it stands in a header or footer.</param>
    public SlotFit? Of(IReadOnlyCollection<string> names, XElement control, bool isStory)
    {
        var isTitle = names.Contains("title", StringComparer.OrdinalIgnoreCase);
        if (!isTitle && !names.Contains("subtitle", StringComparer.OrdinalIgnoreCase)) return null;
        var paragraph = control.Ancestors(W + "p").FirstOrDefault() ?? control.Descendants(W + "p").FirstOrDefault();
        if (paragraph is null || control.Ancestors().Any(a => a.Name == W + "txbxContent" || a.Name == W + "tc")) return null;
        if (sheet.StyleOf(paragraph) is not { } found) return null;
        var style = sheet.Resolve(found, BuiltInHouses.Tansy.Style(StyleRole.Title));
        var points = StyleSheet.Number(control.Descendants(W + "sz").FirstOrDefault(), "val") / 2 ?? style.Points;
        var face = measures.Face(new FontFace(style.Family!, style.Bold, style.Italic));
        var around = isStory ? page : SectionOf(paragraph) is { } section ? BodyPlace.PageOf(section) : page;
        var width = around.TextWidth.Points - style.IndentLeft.Points - style.IndentRight.Points;
        if (isStory)
        {
            var beside = paragraph.Value.Length > control.Value.Length ? string.Concat(paragraph.Descendants(W + "t").Where(t => !t.Ancestors().Contains(control)).Select(t => t.Value)) : "";
            var pictures = paragraph.Descendants().Where(d => d.Name.LocalName == "extent" && d.Parent!.Name.LocalName == "inline").Sum(d => (long?)d.Attribute("cx") ?? 0) / (double)Length.FromPoints(1).EnglishMetricUnits;
            width -= face.Width(beside, points) + pictures + (beside.Length > 0 ? GapInMargin : 0);
            return width > 0 ? new SlotFit(face, points, style.Lines, width, 1, null) : null;
        }
        var height = PageOf(paragraph).Sum(block => block.DescendantsAndSelf(W + "p").Where(p => !p.Ancestors(W + "txbxContent").Any()).Sum(heightOf));
        var lines = Math.Max(1, (int)Math.Ceiling(face.Width(control.Value, points) / Math.Max(1, width)));
        return new SlotFit(face, points, style.Lines, width, lines, Math.Max(0, around.TextHeight.Points - height) * (isTitle ? ShareOfTitle : 1 - ShareOfTitle));
    }

    /// <summary>The section of a paragraph, unless it is that of the body.</summary>
    private static XElement? SectionOf(XElement paragraph) => Top(paragraph) is var top ? BodyPlace.SectionIn(top.ElementsAfterSelf().Prepend(top)) : null;

    private static XElement Top(XElement paragraph) => paragraph.AncestorsAndSelf().First(a => a.Parent is null || a.Parent.Name == W + "body");

    /// <summary>What stands on the page of a paragraph, as far as the house says where pages end.</summary>
    private static IEnumerable<XElement> PageOf(XElement paragraph)
    {
        var top = Top(paragraph);
        var before = top.ElementsBeforeSelf().Reverse().TakeWhile(b => !Ends(b));
        // The body itself is a slot, and goes on on other pages.
        var behind = Ends(top) ? [] : top.ElementsAfterSelf().TakeWhile(b => b.Name != W + "sectPr" && !StartsWithBody(b));
        return [.. before, top, .. behind.Take(behind.TakeWhile(b => !Ends(b)).Count() + 1)];
    }

    private static bool StartsWithBody(XElement block) => block.DescendantsAndSelf(W + "sdt").Any(c => SlotMarker.NamesOf(c).Contains("body", StringComparer.OrdinalIgnoreCase));

    private static bool Ends(XElement block) => block.Descendants(W + "sectPr").Any() || block.Descendants(W + "br").Any(b => (string?)b.Attribute(W + "type") == "page");
}
