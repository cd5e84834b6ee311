using System.Collections.Immutable;
using System.Text;
using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Flow;
using Fennick.Styles;
using Fennick.Wordprocessing;

namespace Fennick.Houses;

/// <summary>Where the body of a report goes in a house's file: into the slot <c>body</c>, behind what the house says itself, or in its place.</summary>
internal sealed class BodyPlace
{
    private const double DefaultCellWidth = 4;
    private static readonly XNamespace W = StyleSheet.W;
    private static readonly XNamespace R = StyleSheet.R;
    private static readonly string[] Kept =
        ["footnotePr", "endnotePr", "type", "paperSrc", "pgBorders", "lnNumType", "pgNumType", "cols", "formProt", "vAlign", "noEndnote", "titlePg", "textDirection", "bidi", "rtlGutter", "docGrid", "printerSettings"];

    private readonly XElement body;
    private readonly XElement? slot;
    private readonly XElement section;

    /// <param name="document">The root of the house's text.</param>
    /// <param name="keeps">Whether the house's own contents stay; null if they do where they have slots.</param>
    /// <param name="place">The house's file.</param>
    /// <exception cref="ReportException">The slot for the body stands where no body can.</exception>
    public BodyPlace(XElement document, bool? keeps, SourcePlace place)
    {
        body = document.Element(W + "body") ?? throw new ReportException(Diagnostic.Error(place, "the file has no text at all", "open it in the word processor, save it anew, and use that"));
        if (body.Element(W + "sectPr") is null) body.Add(new XElement(W + "sectPr"));
        var controls = body.Descendants(W + "sdt").Where(c => SlotMarker.NamesOf(c).Length > 0).ToArray();
        Keeps = keeps ?? controls.Any(c => SlotMarker.NamesOf(c) is not ["contents"]);
        if (!Keeps) body.Elements().Where(e => e.Name != W + "sectPr").Remove();
        else if (controls.Where(IsBody).ToArray() is { Length: > 0 } slots) slot = Check(slots, place);
        section = slot is null ? body.Element(W + "sectPr")! : SectionIn(slot.ElementsAfterSelf())!;
        Page = PageOf(section);
    }

    /// <summary>Whether the house's own contents stay.</summary>
    public bool Keeps { get; }

    /// <summary>What becomes of the house's own contents.</summary>
    public string Describe() => !Keeps ? "replaced by the report" : slot is null ? "kept; the report stands behind them" : "kept; the report stands in the slot `body`";

    /// <summary>Whether the body goes behind what the house says, for want of a slot.</summary>
    public bool IsAppended => Keeps && slot is null;

    /// <summary>Whether there is a slot for the body.</summary>
    public bool HasSlot => slot is not null;

    /// <summary>Whether something of the house follows the body in its section.</summary>
    public bool IsFollowed { get; private set; }

    /// <summary>What the house says before the body.</summary>
    public IEnumerable<XElement> Before => slot?.ElementsBeforeSelf() ?? body.Elements();

    /// <summary>What it says behind it.</summary>
    public IEnumerable<XElement> Behind => slot?.ElementsAfterSelf() ?? [];

    /// <summary>The page of the section in which the body stands.</summary>
    public PageGeometry Page { get; }

    /// <summary>What stands before the body and behind it.</summary>
    /// <param name="heightOf">The height of a paragraph with the space around it, in points.</param>
    /// <param name="startsPage">Whether a paragraph starts a page by its style.</param>
    public HouseLead Lead(Func<XElement, double> heightOf, Func<XElement, bool> startsPage)
    {
        var (pages, height) = (1, 0.0);
        foreach (var block in Before)
        {
            if (block.Name == W + "sectPr") continue;
            if (Breaks(block)) (pages, height) = (pages + 1, 0);
            height += block.DescendantsAndSelf(W + "p").Where(p => !p.Ancestors(W + "txbxContent").Any()).Sum(heightOf);
            for (; height > Page.TextHeight.Points; height -= Page.TextHeight.Points) pages++;
            if (block.Descendants(W + "sectPr").FirstOrDefault() is { } end && (string?)end.Element(W + "type")?.Attribute(W + "val") != "continuous") (pages, height) = (pages + 1, 0);
        }
        if (IsAppended && height > 0) (pages, height) = (pages + 1, 0);
        var behind = slot?.ElementsAfterSelf().Where(e => e.Name != W + "sectPr").Count(e => Breaks(e) || e.Descendants(W + "sectPr").Any()) ?? 0;
        var first = StyleSheet.Number(section.Element(W + "pgNumType"), "start") is { } start ? (int)start : pages;
        return new HouseLead(first, height, pages - 1 + behind);

        bool Breaks(XElement block) => startsPage(block) || block.Descendants(W + "br").Any(b => (string?)b.Attribute(W + "type") == "page");
    }

    /// <summary>Puts marks where the body goes and where its section ends; the result is that section.</summary>
    public SectionTemplate Mark()
    {
        var template = Read();
        var gap = SlotMarker.Content;
        if (slot is null) section.AddBeforeSelf(gap);
        else slot.ReplaceWith(Beside(slot, behind: false), gap, Beside(slot, behind: true));
        IsFollowed = gap.ElementsAfterSelf().FirstOrDefault() != section;
        section.ReplaceWith(SlotMarker.SectionEnd);
        return template;
    }

    /// <summary>The width that blocks have at a place.</summary>
    public Length? WidthAt(XElement place)
    {
        if (place.Ancestors().Any(a => a.Name == W + "txbxContent")) return null;
        // The slot is the cell itself, or stands in one.
        var cell = place.Ancestors(W + "tc").FirstOrDefault() ?? (place.Name == W + "sdt" ? place.Element(W + "sdtContent")?.Element(W + "tc") : null);
        if (cell is not null) return StyleSheet.Number(cell.Element(W + "tcPr")?.Element(W + "tcW"), "w") is { } twips and > 400 ? Length.FromTwips((int)twips - 216) : Length.Centimetres(DefaultCellWidth);
        var top = place.AncestorsAndSelf().First(a => a.Parent == body);
        return SectionIn(top.ElementsAfterSelf()) is { } around ? PageOf(around).TextWidth : Page.TextWidth;
    }

    /// <summary>What stands in the line of the slot before it or behind it, as a paragraph of its own.</summary>
    private static XElement? Beside(XElement slot, bool behind)
    {
        if (slot.Name != W + "p") return null;
        var control = slot.Descendants(W + "sdt").First(IsBody).AncestorsAndSelf().First(e => e.Parent == slot);
        var kept = (behind ? control.ElementsAfterSelf() : control.ElementsBeforeSelf()).Where(e => e.Name != W + "pPr").ToArray();
        return kept.Any(e => e.Descendants().Any(d => d.Parent!.Name == W + "r" && d.Name != W + "rPr")) ? new XElement(W + "p", slot.Element(W + "pPr"), kept) : null;
    }

    private static bool IsBody(XElement control) => SlotMarker.NamesOf(control).Contains("body", StringComparer.OrdinalIgnoreCase);

    /// <summary>The block of the text that the slot is, or stands alone in.</summary>
    private XElement Check(XElement[] slots, SourcePlace place)
    {
        if (slots.Length > 1) throw Wrong("the house has more than one slot `body`", "keep one of them");
        if (slots[0].Ancestors().Any(a => a.Name == W + "tc")) throw Wrong("the slot `body` stands inside a table, where no report can stand", "move it out of the table, to a line of its own");
        if (slots[0].Ancestors().Any(a => a.Name == W + "txbxContent")) throw Wrong("the slot `body` stands inside a text box, where no report can stand", "move it out of the box, to a line of its own");
        return slots[0].AncestorsAndSelf().First(a => a.Parent == body);

        ReportException Wrong(string message, string suggestion) => new(Diagnostic.Error(place, message, suggestion));
    }

    private SectionTemplate Read()
    {
        var references = ImmutableArray.CreateBuilder<(StoryKind, ReadOnlyMemory<byte>)>();
        // A header that a section does not name is that of the section before.
        var before = body.Descendants(W + "sectPr").Where(s => s.Parent!.Name != W + "sectPrChange").TakeWhile(s => s != section).Reverse().Prepend(section).ToArray();
        foreach (var isFooter in new[] { false, true })
        {
            foreach (var (pages, type) in new[] { (StoryPages.All, "default"), (StoryPages.First, "first"), (StoryPages.Even, "even") })
            {
                var reference = before.SelectMany(s => s.Elements(W + (isFooter ? "footerReference" : "headerReference"))).FirstOrDefault(e => ((string?)e.Attribute(W + "type") ?? "default") == type && e.Attribute(R + "id") is not null);
                if (reference is not null) references.Add((new StoryKind(isFooter, pages), BytesOf(reference)));
            }
        }
        var others = section.Elements().Where(e => e.Name.Namespace == W && Kept.Contains(e.Name.LocalName)).DistinctBy(e => e.Name.LocalName).ToImmutableDictionary(e => e.Name.LocalName, e => (ReadOnlyMemory<byte>)BytesOf(e));
        var columns = StyleSheet.Number(section.Element(W + "cols"), "num") is { } count and > 1 and < 10 ? (int)count : 1;
        return new SectionTemplate(Page, references.ToImmutable(), others) { Columns = columns == 1 ? [] : [.. Enumerable.Repeat((Page.TextWidth - (GalleySection.Gutter * (columns - 1))) * (1.0 / columns), columns)] };
    }

    private static byte[] BytesOf(XElement element) => Encoding.UTF8.GetBytes(element.ToString(SaveOptions.DisableFormatting));

    /// <summary>The first section that ends in some blocks; null if none does.</summary>
    internal static XElement? SectionIn(IEnumerable<XElement> blocks) => blocks.Select(e => e.Name == W + "sectPr" ? e : e.Element(W + "pPr")?.Element(W + "sectPr")).FirstOrDefault(s => s is not null);

    /// <summary>The page of a section.</summary>
    internal static PageGeometry PageOf(XElement section)
    {
        var (size, margins) = (section.Element(W + "pgSz"), section.Element(W + "pgMar"));
        Length Twips(XElement? element, string name, double otherwise) => Length.FromTwips((int)Math.Clamp(Math.Abs(StyleSheet.Number(element, name) ?? otherwise), 0, 31_680));
        var page = new PageGeometry(Twips(size, "w", 11_906), Twips(size, "h", 16_838), Twips(margins, "top", 1418), Twips(margins, "bottom", 1418), Twips(margins, "left", 1418), Twips(margins, "right", 1418), Twips(margins, "header", 709), Twips(margins, "footer", 709))
        {
            Gutter = Twips(margins, "gutter", 0),
        };
        // A page whose margins leave no room is none that anyone printed.
        return page.TextWidth > Length.Centimetres(2) && page.TextHeight > Length.Centimetres(2) ? page : PageGeometry.A4(Length.Centimetres(2.5), Length.Centimetres(2.5), Length.Centimetres(2.5));
    }
}
