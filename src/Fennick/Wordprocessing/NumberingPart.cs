using System.Collections.Immutable;
using Fennick.Flow;
using Fennick.Formatting;
using Fennick.Houses;
using Fennick.Styles;

namespace Fennick.Wordprocessing;

/// <summary>Writes <c>word/numbering.xml</c> (ECMA-376 Part 1, §17.9): one abstract list per kind, one <c>num</c> per restart.</summary>
internal static class NumberingPart
{
    private const int Levels = 9;

    /// <summary>What is added to the house's highest number for the list of its bullets' style.</summary>
    internal const int BulletNumber = 1;

    /// <summary>The same for the list of its numbers' style; those of reports come behind it.</summary>
    internal const int OrderedNumber = 2;

    /// <summary>The list of the headings of one of Fennick's own houses.</summary>
    internal const int HeadingNumber = 1;

    internal const int OrderedAbstract = 1;

    /// <summary>What is added to the house's highest abstract number for the list of the headings of appendices.</summary>
    internal const int AppendixAbstract = 2;
    private const string Bullets = "•–◦▪";

    // Of longer lists the first numbers stand for all.
    private const int MostMeasured = 500;

    // How far a number stands from its text, as a share of the size.
    private const double GapBehindNumber = 0.4;

    /// <summary>The <c>num</c> of each list: all bullets share one, every numbered list has its own.</summary>
    /// <param name="lists">The lists.</param>
    /// <param name="highest">The highest number of the house.</param>
    public static int[] NumberIds(ImmutableArray<GalleyList> lists, int highest)
    {
        var next = highest + OrderedNumber;
        return [.. lists.Select(l => HasOwnNumber(l) ? ++next : highest + BulletNumber)];
    }

    /// <summary>The <c>num</c> of the headings of appendices, behind those of the lists.</summary>
    public static int AppendixNumber(ImmutableArray<GalleyList> lists, int highest) => highest + OrderedNumber + lists.Count(HasOwnNumber) + 1;

    private static bool HasOwnNumber(GalleyList list) => list.Ordered || list.Mark is not null;

    /// <summary>The part around the lists that count for themselves.</summary>
    public static TemplatePart Create(HouseDesign house) => TemplatePart.Of("word/numbering.xml", (xml, gap) =>
    {
        using (xml.Element("w:numbering"u8))
        {
            xml.Attribute("xmlns:w"u8, Namespaces.Main);
            var counts = Counts(house);
            if (counts.Number > 0) WriteHeadings(xml, 0, house);
            WriteAbstract(xml, counts.Abstract, "1F3A5C01"u8, house, ordered: false);
            WriteAbstract(xml, counts.Abstract + OrderedAbstract, "1F3A5C02"u8, house, ordered: true);
            gap(new AppendixSegment());
            if (counts.Number > 0) WriteNumber(xml, HeadingNumber, 0, null);
            WriteBase(xml, counts);
            gap(new ContentSegment());
        }
    });

    /// <summary>Writes the lists of the list styles themselves.</summary>
    internal static void WriteBase(Utf8XmlWriter xml, HouseCounts counts)
    {
        WriteNumber(xml, counts.Number + BulletNumber, counts.Abstract, null);
        WriteNumber(xml, counts.Number + OrderedNumber, counts.Abstract + OrderedAbstract, null);
    }

    /// <summary>The number of the list of a list style; null for other styles.</summary>
    public static int? NumberOf(StyleRole role, HouseCounts counts) => role switch
    {
        StyleRole.ListBullet => counts.Number + BulletNumber,
        StyleRole.ListNumber => counts.Number + OrderedNumber,
        _ => null,
    };

    /// <summary>What one of Fennick's own houses has before the lists of a report.</summary>
    public static HouseCounts Counts(HouseDesign house) => house.HeadingLevels.IsEmpty ? default : default(HouseCounts) with { Number = HeadingNumber, Abstract = 1 };

    /// <summary>Writes the list that counts headings; each of its levels is bound to its style.</summary>
    internal static void WriteHeadings(Utf8XmlWriter xml, int id, HouseDesign house) => WriteHeadings(xml, id, "1F3A5C03"u8, house, HeadingLevel.Decimal, null);

    /// <summary>Writes the list that counts the headings of appendices.</summary>
    public static void WriteAppendices(Utf8XmlWriter xml, DressedHouse house)
    {
        var levels = HeadingLevel.OfAppendices(house.Design.HeadingLevels, house.Language.Words.Appendix);
        WriteHeadings(xml, house.Template.Counts.Abstract + AppendixAbstract, "1F3A5C04"u8, house.Design, levels, house);
    }

    private static void WriteHeadings(Utf8XmlWriter xml, int id, ReadOnlySpan<byte> nsid, HouseDesign house, ImmutableArray<HeadingLevel?> levels, DressedHouse? appendices)
    {
        using (xml.Element("w:abstractNum"u8))
        {
            xml.Attribute("w:abstractNumId"u8, id);
            xml.Value("w:nsid"u8, nsid);
            xml.Value("w:multiLevelType"u8, "multilevel"u8);
            foreach (var level in levels.OfType<HeadingLevel>())
            {
                var style = house.Style(StyleRole.Heading1 + level.Index);
                using (xml.Element("w:lvl"u8))
                {
                    xml.Attribute("w:ilvl"u8, level.Index);
                    xml.Value("w:start"u8, level.Start);
                    xml.Value("w:numFmt"u8, NameOf(level.Format ?? PageNumberFormat.Decimal));
                    if (appendices is null) xml.Value("w:pStyle"u8, style.Id);
                    // Words in the middle have no edge to stand out from.
                    if (style.Centred) xml.Value("w:suff"u8, "space"u8);
                    xml.Value("w:lvlText"u8, level.Pattern);
                    xml.Value("w:lvlJc"u8, "left"u8);
                    var hanging = HangingOf(level, style, appendices);
                    using (xml.Element("w:pPr"u8))
                    using (xml.Element("w:ind"u8))
                    {
                        xml.Attribute("w:left"u8, (style.IndentLeft + hanging).Twips);
                        xml.Attribute("w:hanging"u8, hanging.Twips);
                    }
                }
            }
        }
    }

    /// <summary>How far the number of a heading hangs out.</summary>
    public static Length HangingOf(HeadingLevel level, ParagraphStyle style, IStyleBook? measures)
    {
        if (style.Centred) return Length.Zero;
        return level.HasWord && measures is not null ? Length.FromPoints(measures.Face(style.Role, style.Bold).Width(level.Pattern.Replace("%1", "M", StringComparison.Ordinal), style.Points) + (style.Points * GapBehindNumber))
            : Length.FromPoints(style.Points * (0.9 + (0.5 * ((2 * level.Index) + 1))));
    }

    /// <summary>Writes the place of a style in its list.</summary>
    internal static void WritePlace(Utf8XmlWriter xml, int level, int number)
    {
        using (xml.Element("w:numPr"u8))
        {
            if (level > 0) xml.Value("w:ilvl"u8, level);
            xml.Value("w:numId"u8, number);
        }
    }

    /// <summary>Writes the lists that count for themselves.</summary>
    public static void WriteNumbers(Utf8XmlWriter xml, ImmutableArray<GalleyList> lists, bool hasAppendices, DressedHouse house)
    {
        var counts = house.Template.Counts;
        var ids = NumberIds(lists, counts.Number);
        for (var i = 0; i < lists.Length; i++)
            if (HasOwnNumber(lists[i])) WriteNumber(xml, ids[i], lists[i].Ordered ? counts.Abstract + OrderedAbstract : counts.Abstract, lists[i], house);
        if (hasAppendices) WriteNumber(xml, AppendixNumber(lists, counts.Number), counts.Abstract + AppendixAbstract, null);
    }

    /// <summary>Writes a kind of list; its first level is bound to its style.</summary>
    internal static void WriteAbstract(Utf8XmlWriter xml, int id, ReadOnlySpan<byte> nsid, HouseDesign house, bool ordered)
    {
        var style = house.Style(ordered ? StyleRole.ListNumber : StyleRole.ListBullet);
        using (xml.Element("w:abstractNum"u8))
        {
            xml.Attribute("w:abstractNumId"u8, id);
            xml.Value("w:nsid"u8, nsid);
            xml.Value("w:multiLevelType"u8, "multilevel"u8);
            for (var level = 0; level < Levels; level++)
            {
                using (xml.Element("w:lvl"u8))
                {
                    xml.Attribute("w:ilvl"u8, level);
                    xml.Value("w:start"u8, 1);
                    xml.Value("w:numFmt"u8, ordered ? NameOf(FormatAt(level)) : "bullet"u8);
                    if (level == 0) xml.Value("w:pStyle"u8, style.Id);
                    xml.Value("w:lvlText"u8, ordered ? $"%{level + 1}." : Bullets[level % Bullets.Length].ToString());
                    WriteIndent(xml, style.ListStep * (level + 1), style.ListHanging);
                    if (!ordered) xml.Raw("<w:rPr><w:rFonts w:asciiTheme=\"majorHAnsi\" w:hAnsiTheme=\"majorHAnsi\"/></w:rPr>"u8);
                }
            }
        }
    }

    private static void WriteIndent(Utf8XmlWriter xml, Length left, Length hanging)
    {
        xml.Value("w:lvlJc"u8, "left"u8);
        using (xml.Element("w:pPr"u8))
        using (xml.Element("w:ind"u8))
        {
            xml.Attribute("w:left"u8, left.Twips);
            xml.Attribute("w:hanging"u8, hanging.Twips);
        }
    }

    internal static void WriteNumber(Utf8XmlWriter xml, int id, int abstractId, GalleyList? list, DressedHouse? house = null)
    {
        using (xml.Element("w:num"u8))
        {
            xml.Attribute("w:numId"u8, id);
            xml.Value("w:abstractNumId"u8, abstractId);
            if (list is null) return;
            using (xml.Element("w:lvlOverride"u8))
            {
                var level = Math.Min(list.Level, Levels - 1);
                xml.Attribute("w:ilvl"u8, level);
                if (list.Ordered) xml.Value("w:startOverride"u8, list.Start);
                var style = house!.Style(list.Ordered ? StyleRole.ListNumber : StyleRole.ListBullet);
                var hanging = HangingOf(list, level, style, house);
                if (list.Mark is null && hanging <= style.ListHanging) return;
                using (xml.Element("w:lvl"u8))
                {
                    xml.Attribute("w:ilvl"u8, level);
                    xml.Value("w:start"u8, list.Start);
                    xml.Value("w:numFmt"u8, list.Ordered ? NameOf(FormatAt(level)) : "bullet"u8);
                    xml.Value("w:lvlText"u8, list.Mark ?? $"%{level + 1}.");
                    WriteIndent(xml, style.ListStep * (level + 1), hanging > style.ListHanging ? hanging : style.ListHanging);
                    if (list.Mark is not null) xml.Raw("<w:rPr><w:rFonts w:ascii=\"Segoe UI Symbol\" w:hAnsi=\"Segoe UI Symbol\" w:eastAsia=\"Segoe UI Symbol\" w:cs=\"Segoe UI Symbol\"/></w:rPr>"u8);
                }
            }
        }
    }

    /// <summary>How far the marks of a list hang out: as its style says, or as far as the widest of its numbers needs, where the numbers are Fennick's own.</summary>
    private static Length HangingOf(GalleyList list, int level, ParagraphStyle style, DressedHouse house)
    {
        if (list.Mark is not null || !house.HasOwnNumbers) return Length.Zero;
        var (face, format) = (house.Face(StyleRole.ListNumber), FormatAt(level));
        // The last decimal is the widest; among letters and Roman numbers it may be any.
        var first = format == PageNumberFormat.Decimal ? Math.Max(list.Start, list.Start + list.Count - 1) : list.Start;
        var widest = Enumerable.Range(0, format == PageNumberFormat.Decimal ? 1 : Math.Min(list.Count, MostMeasured)).Max(i => face.Width($"{Counting.Write(first + i, format)}.", style.Points));
        return Length.FromPoints(widest + (style.Points * GapBehindNumber));
    }

    /// <summary>How the numbers of a level of a list are written.</summary>
    private static PageNumberFormat FormatAt(int level) => (level % 5) switch
    {
        0 => PageNumberFormat.Decimal,
        1 => PageNumberFormat.LowerLetter,
        2 => PageNumberFormat.LowerRoman,
        3 => PageNumberFormat.UpperLetter,
        _ => PageNumberFormat.UpperRoman,
    };

    /// <summary>The name of a way of counting (§17.18.59).</summary>
    public static ReadOnlySpan<byte> NameOf(PageNumberFormat format) => format switch
    {
        PageNumberFormat.LowerRoman => "lowerRoman"u8,
        PageNumberFormat.UpperRoman => "upperRoman"u8,
        PageNumberFormat.LowerLetter => "lowerLetter"u8,
        PageNumberFormat.UpperLetter => "upperLetter"u8,
        _ => "decimal"u8,
    };
}
