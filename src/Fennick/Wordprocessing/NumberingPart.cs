using System.Collections.Immutable;
using Fennick.Flow;
using Fennick.Styles;

namespace Fennick.Wordprocessing;

/// <summary>Writes <c>word/numbering.xml</c> (ECMA-376 Part 1, §17.9): one abstract list per kind, one <c>num</c> per restart.</summary>
internal static class NumberingPart
{
    private const int Levels = 9;
    internal const int BulletNumber = 1;

    /// <summary>The list of the headings of one of Fennick's own houses.</summary>
    internal const int HeadingNumber = 1;

    internal const int OrderedAbstract = 1;
    private const string Bullets = "•–·";

    /// <summary>The <c>num</c> of each list: all bullets share one, every numbered list has its own.</summary>
    /// <param name="lists">The lists.</param>
    /// <param name="highest">The highest number of the house.</param>
    public static int[] NumberIds(ImmutableArray<GalleyList> lists, int highest)
    {
        var next = highest + BulletNumber;
        return [.. lists.Select(l => l.Ordered ? ++next : highest + BulletNumber)];
    }

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
            if (counts.Number > 0) WriteNumber(xml, HeadingNumber, 0, null);
            WriteNumber(xml, counts.Number + BulletNumber, counts.Abstract, null);
            gap(new ContentSegment());
        }
    });

    /// <summary>What one of Fennick's own houses has before the lists of a report.</summary>
    public static HouseCounts Counts(HouseDesign house) => house.HeadingLevels.IsEmpty ? default : default(HouseCounts) with { Number = HeadingNumber, Abstract = 1 };

    /// <summary>Writes the list that counts headings; each of its levels is bound to its style.</summary>
    internal static void WriteHeadings(Utf8XmlWriter xml, int id, HouseDesign house)
    {
        using (xml.Element("w:abstractNum"u8))
        {
            xml.Attribute("w:abstractNumId"u8, id);
            xml.Value("w:nsid"u8, "1F3A5C03"u8);
            xml.Value("w:multiLevelType"u8, "multilevel"u8);
            foreach (var level in HeadingLevel.Decimal.OfType<HeadingLevel>())
            {
                var style = house.Style(StyleRole.Heading1 + level.Index);
                using (xml.Element("w:lvl"u8))
                {
                    xml.Attribute("w:ilvl"u8, level.Index);
                    xml.Value("w:start"u8, level.Start);
                    xml.Value("w:numFmt"u8, "decimal"u8);
                    xml.Value("w:pStyle"u8, style.Id);
                    // Words in the middle have no edge to stand out from.
                    if (style.Centred) xml.Value("w:suff"u8, "space"u8);
                    xml.Value("w:lvlText"u8, level.Pattern);
                    xml.Value("w:lvlJc"u8, "left"u8);
                    var hanging = style.Centred ? Length.Zero : Length.FromPoints(style.Points * (0.9 + (0.5 * ((2 * level.Index) + 1))));
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

    /// <summary>Writes the place of a heading's style in the list of the headings.</summary>
    internal static void WriteHeadingPlace(Utf8XmlWriter xml, int level, int number)
    {
        using (xml.Element("w:numPr"u8))
        {
            if (level > 0) xml.Value("w:ilvl"u8, level);
            xml.Value("w:numId"u8, number);
        }
    }

    /// <summary>Writes the lists that count for themselves.</summary>
    public static void WriteNumbers(Utf8XmlWriter xml, ImmutableArray<GalleyList> lists, PackageTemplate template)
    {
        var ids = NumberIds(lists, template.Counts.Number);
        for (var i = 0; i < lists.Length; i++)
            if (lists[i].Ordered) WriteNumber(xml, ids[i], template.Counts.Abstract + OrderedAbstract, lists[i]);
    }

    internal static void WriteAbstract(Utf8XmlWriter xml, int id, ReadOnlySpan<byte> nsid, HouseDesign house, bool ordered)
    {
        var style = house.Style(StyleRole.ListBullet);
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
                    xml.Value("w:numFmt"u8, !ordered ? "bullet"u8 : (level % 3) switch { 0 => "decimal"u8, 1 => "lowerLetter"u8, _ => "lowerRoman"u8 });
                    xml.Value("w:lvlText"u8, ordered ? $"%{level + 1}." : Bullets[level % Bullets.Length].ToString());
                    xml.Value("w:lvlJc"u8, "left"u8);
                    using (xml.Element("w:pPr"u8))
                    using (xml.Element("w:ind"u8))
                    {
                        xml.Attribute("w:left"u8, style.IndentLeft.Twips * (level + 1));
                        xml.Attribute("w:hanging"u8, style.Hanging.Twips);
                    }
                    if (!ordered) xml.Raw("<w:rPr><w:rFonts w:asciiTheme=\"majorHAnsi\" w:hAnsiTheme=\"majorHAnsi\"/></w:rPr>"u8);
                }
            }
        }
    }

    internal static void WriteNumber(Utf8XmlWriter xml, int id, int abstractId, GalleyList? restart)
    {
        using (xml.Element("w:num"u8))
        {
            xml.Attribute("w:numId"u8, id);
            xml.Value("w:abstractNumId"u8, abstractId);
            if (restart is null) return;
            using (xml.Element("w:lvlOverride"u8))
            {
                xml.Attribute("w:ilvl"u8, Math.Min(restart.Level, Levels - 1));
                xml.Value("w:startOverride"u8, restart.Start);
            }
        }
    }
}
