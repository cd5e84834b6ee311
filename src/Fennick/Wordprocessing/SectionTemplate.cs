using System.Collections.Immutable;
using System.Text;
using Fennick.Flow;
using Fennick.Styles;

namespace Fennick.Wordprocessing;

/// <summary>The properties of a house's section, of which a report changes the page, the columns and the headers (ECMA-376 Part 1, §17.6.17).</summary>
/// <param name="Page">Its page.</param>
/// <param name="References">Its headers and footers: which, and the element that names it.</param>
/// <param name="Others">Everything else as written, by the element's local name.</param>
internal sealed record SectionTemplate(PageGeometry Page, ImmutableArray<(StoryKind Kind, ReadOnlyMemory<byte> Element)> References, ImmutableDictionary<string, ReadOnlyMemory<byte>> Others)
{
    // What stands before the page's size and margins, and behind its columns, in the order of the schema.
    private static readonly string[] Before = ["footnotePr", "endnotePr"];
    private static readonly string[] Behind = ["formProt", "vAlign", "noEndnote"];
    private static readonly string[] Last = ["textDirection", "bidi", "rtlGutter", "docGrid", "printerSettings"];

    /// <summary>The section of a house that says no more than its page.</summary>
    public static SectionTemplate Plain(PageGeometry page) => new(page, [], ImmutableDictionary<string, ReadOnlyMemory<byte>>.Empty);

    /// <summary>The section with pages that begin at the right.</summary>
    public SectionTemplate RightToLeft() => this with { Others = Others.SetItem("bidi", "<w:bidi/>"u8.ToArray()) };

    /// <summary>Whether its first page has a header of its own.</summary>
    public bool HasFirstPage => Others.ContainsKey("titlePg");

    /// <summary>The widths of its columns; none for a single one.</summary>
    public ImmutableArray<Length> Columns { get; init; } = [];

    /// <summary>The headers and footers of pages that lie across where the house's own stand upright, or the other way round.</summary>
    public ImmutableArray<(StoryKind Kind, ReadOnlyMemory<byte> Element)> Turned { get; init; } = [];

    /// <summary>Whether a page lies the other way than the house's own.</summary>
    public bool IsTurned(PageGeometry page) => page.IsLandscape != Page.IsLandscape;

    /// <summary>Whether a section of a report is as the house has it, so that the house's own end of section will do.</summary>
    public bool Matches(GalleySection section) => section.Page == Page && section.Columns.SequenceEqual(Columns) && section.Stories.IsEmpty && !section.IsContinuous && section.Numbers is null && section.LineNumbers == 0;

    /// <summary>Writes a section's properties.</summary>
    /// <param name="xml">The writer.</param>
    /// <param name="section">The section of the report; null for the house's own.</param>
    /// <param name="stories">The relationship of each of the section's own headers and footers.</param>
    /// <param name="goesOn">Whether the house's section has begun already, so that its first page is over.</param>
    /// <param name="before">What named the headers and footers of the section before; null for the first.</param>
    /// <returns>What names those of this section: a section whose are the same says nothing of them.</returns>
    public string Write(Utf8XmlWriter xml, GalleySection? section, Func<GalleyStory, string> stories, bool goesOn, string? before)
    {
        var page = section?.Page ?? Page;
        var own = section?.Stories ?? [];
        var references = IsTurned(page) ? Turned : References;
        var ids = own.Select(stories).ToArray();
        var names = $"{(IsTurned(page) && !Turned.IsEmpty ? "turned" : "upright")} {string.Join(' ', own.Select((s, i) => $"{s.Kind}={ids[i]}"))}";
        using (xml.Element("w:sectPr"u8))
        {
            if (names != before) WriteReferences();
            WriteAll(xml, Before);
            if (section is { IsContinuous: true }) xml.Value("w:type"u8, "continuous"u8);
            else if (!goesOn) WriteAll(xml, ["type"]);
            WritePage(xml, page);
            WriteAll(xml, ["paperSrc", "pgBorders"]);
            if (section is { LineNumbers: > 0 and var step })
            {
                using (xml.Element("w:lnNumType"u8))
                {
                    xml.Attribute("w:countBy"u8, step);
                    xml.Attribute("w:restart"u8, "continuous"u8);
                }
            }
            else WriteAll(xml, ["lnNumType"]);
            if (section?.Numbers is { } numbers) WriteNumbers(xml, numbers, section.Chapter is not null);
            else if (!goesOn) WriteAll(xml, ["pgNumType"]);
            if (section is null && Others.ContainsKey("cols")) WriteAll(xml, ["cols"]);
            else if (section is null || section.Columns.IsEmpty) xml.Raw("<w:cols w:space=\"708\"/>"u8);
            else WriteColumns(xml, section.Columns);
            WriteAll(xml, Behind);
            if (own.Any(s => s.Kind.Pages == StoryPages.First)) xml.Empty("w:titlePg"u8);
            else if (!goesOn) WriteAll(xml, ["titlePg"]);
            WriteAll(xml, Last);
        }
        return names;

        void WriteReferences()
        {
            foreach (var (kind, element) in references)
                if (own.All(s => s.Kind != kind)) xml.Raw(element.Span);
            // Where the report gives some pages a header of their own, what it does not say stands there as on all pages.
            foreach (var pages in own.Select(s => s.Kind.Pages).Where(p => p != StoryPages.All).Distinct())
                foreach (var (kind, element) in references)
                    if (kind.Pages == StoryPages.All && own.All(s => s.Kind.IsFooter != kind.IsFooter) && References.All(r => r.Kind != kind with { Pages = pages })) WriteAs(xml, pages, element);
            for (var i = 0; i < own.Length; i++) WriteReference(xml, own[i].Kind, ids[i]);
        }
    }

    private static void WritePage(Utf8XmlWriter xml, PageGeometry page)
    {
        using (xml.Element("w:pgSz"u8))
        {
            xml.Attribute("w:w"u8, page.Width.Twips);
            xml.Attribute("w:h"u8, page.Height.Twips);
            if (page.IsLandscape) xml.Attribute("w:orient"u8, "landscape"u8);
        }
        using (xml.Element("w:pgMar"u8))
        {
            xml.Attribute("w:top"u8, page.Top.Twips);
            xml.Attribute("w:right"u8, page.Right.Twips);
            xml.Attribute("w:bottom"u8, page.Bottom.Twips);
            xml.Attribute("w:left"u8, page.Left.Twips);
            xml.Attribute("w:header"u8, page.HeaderDistance.Twips);
            xml.Attribute("w:footer"u8, page.FooterDistance.Twips);
            xml.Attribute("w:gutter"u8, page.Gutter.Twips);
        }
    }

    private static void WriteAs(Utf8XmlWriter xml, StoryPages pages, ReadOnlyMemory<byte> element) =>
        xml.Raw(Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(element.Span).Replace("\"default\"", pages == StoryPages.First ? "\"first\"" : "\"even\"", StringComparison.Ordinal)));

    private void WriteAll(Utf8XmlWriter xml, ReadOnlySpan<string> names)
    {
        foreach (var name in names)
            if (Others.TryGetValue(name, out var element)) xml.Raw(element.Span);
    }

    private static void WriteReference(Utf8XmlWriter xml, StoryKind kind, string id)
    {
        using (xml.Element(kind.IsFooter ? "w:footerReference"u8 : "w:headerReference"u8))
        {
            xml.Attribute("w:type"u8, kind.Pages switch { StoryPages.First => "first"u8, StoryPages.Even => "even"u8, _ => "default"u8 });
            xml.Attribute("r:id"u8, id);
        }
    }

    private static void WriteNumbers(Utf8XmlWriter xml, PageNumbers numbers, bool isChapter)
    {
        using (xml.Element("w:pgNumType"u8))
        {
            xml.Attribute("w:fmt"u8, NumberingPart.NameOf(numbers.Format));
            if (numbers.Start is { } start) xml.Attribute("w:start"u8, start);
            if (!isChapter || numbers.ByChapter is not { } sign) return;
            xml.Attribute("w:chapStyle"u8, 1);
            xml.Attribute("w:chapSep"u8, sign switch
            {
                ChapterSign.Hyphen => "hyphen"u8,
                ChapterSign.EmDash => "emDash"u8,
                ChapterSign.Period => "period"u8,
                ChapterSign.Colon => "colon"u8,
                _ => "enDash"u8,
            });
        }
    }

    private static void WriteColumns(Utf8XmlWriter xml, ImmutableArray<Length> columns)
    {
        using (xml.Element("w:cols"u8))
        {
            xml.Attribute("w:num"u8, columns.Length);
            xml.Attribute("w:space"u8, GalleySection.Gutter.Twips);
            xml.Attribute("w:equalWidth"u8, 0);
            for (var c = 0; c < columns.Length; c++)
            {
                using (xml.Element("w:col"u8))
                {
                    xml.Attribute("w:w"u8, columns[c].Twips);
                    if (c < columns.Length - 1) xml.Attribute("w:space"u8, GalleySection.Gutter.Twips);
                }
            }
        }
    }
}
