using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using System.Xml.Linq;
using Fennick.Schema;
using Fennick.Styles;
using Fennick.Wordprocessing;

namespace Fennick.Houses;

/// <summary>Adds the lists of a report to a house's numbering: their bullets, numbers and indents are those of the house's own list styles where it has them.</summary>
internal sealed class HouseLists(StyleSheet sheet, XElement numbering, HouseDesign design)
{
    private static readonly XNamespace W = StyleSheet.W;

    /// <summary>The highest number of a list before those of reports.</summary>
    public int HighestNumber { get; private set; }

    /// <summary>The highest number of an abstract list, plus 1.</summary>
    public int HighestAbstract { get; private set; }

    /// <summary>Numbers headings, or leaves them as the house has them; and says how they are numbered then.</summary>
    /// <param name="wanted">Whether they are to have numbers; null to leave that to the house.</param>
    public ImmutableArray<HeadingLevel?> NumberHeadings(bool? wanted)
    {
        var ids = Enumerable.Range(0, HeadingLevel.Decimal.Length).Select(i => design.Style(StyleRole.Heading1 + i).Id).ToArray();
        var styles = ids.Select(id => sheet.Root.Elements(W + "style").First(s => StyleSheet.IdOf(s) == id)).ToArray();
        var bound = ids.Select(id => sheet.ById(id) is { } found ? sheet.LevelOf(found) : null).ToArray();
        // Some programs put headings into a list that shows nothing.
        var levels = bound.Select(l => l is not null && Read(l).IsShown ? l : null).ToArray();
        if (levels.Any(l => l is not null))
        {
            // What was made from a style with numbers must not count on in its level.
            foreach (var style in styles.Where(s => wanted == false || sheet.ById(StyleSheet.IdOf(s)) is null)) SetPlace(style, 0, 0);
            if (wanted != false) return [.. levels.Select(l => l is null ? null : Read(l))];
        }
        if (wanted is not null)
            foreach (var level in bound) level?.Elements(W + "pStyle").Remove();
        if (wanted != true) return [];
        var (number, id) = (1 + (Highest("num", "numId") ?? 0), 1 + (Highest("abstractNum", "abstractNumId") ?? -1));
        Add(Own(xml =>
        {
            NumberingPart.WriteHeadings(xml, id, design);
            NumberingPart.WriteNumber(xml, number, id, null);
        }));
        for (var i = 0; i < styles.Length; i++) SetPlace(styles[i], i, number);
        return HeadingLevel.Decimal;
    }

    private static void SetPlace(XElement style, int level, int number)
    {
        if (style.Element(W + "pPr") is not { } properties) style.Add(properties = new XElement(W + "pPr"));
        properties.Elements(W + "numPr").Remove();
        properties.Add(new XElement(W + "numPr", new XElement(W + "ilvl", new XAttribute(W + "val", level)), new XElement(W + "numId", new XAttribute(W + "val", number))));
        SchemaMender.Order(style);
    }

    private static HeadingLevel Read(XElement level)
    {
        var isLegal = StyleSheet.IsOn(level.Element(W + "isLgl"));
        PageNumberFormat? format = (string?)level.Element(W + "numFmt")?.Attribute(W + "val") switch
        {
            "none" => null,
            "upperRoman" when !isLegal => PageNumberFormat.UpperRoman,
            "lowerRoman" when !isLegal => PageNumberFormat.LowerRoman,
            "upperLetter" when !isLegal => PageNumberFormat.UpperLetter,
            "lowerLetter" when !isLegal => PageNumberFormat.LowerLetter,
            _ => PageNumberFormat.Decimal,
        };
        return new HeadingLevel((int)Math.Clamp(StyleSheet.Number(level, "ilvl") ?? 0, 0, 8), (string?)level.Element(W + "lvlText")?.Attribute(W + "val") ?? "", format, (int)(StyleSheet.Number(level.Element(W + "start"), "val") ?? 1));
    }

    /// <summary>Whether the numbers of lists are none of the house's.</summary>
    public bool HasOwnNumbers { get; private set; }

    /// <summary>Adds the lists of a report.</summary>
    public void Add()
    {
        HighestNumber = Highest("num", "numId") ?? 0;
        HighestAbstract = (Highest("abstractNum", "abstractNumId") ?? -1) + 1;
        var counts = default(HouseCounts) with { Number = HighestNumber, Abstract = HighestAbstract };
        var own = Own(xml =>
        {
            NumberingPart.WriteAbstract(xml, HighestAbstract, "1F3A5C01"u8, design, ordered: false);
            NumberingPart.WriteAbstract(xml, HighestAbstract + NumberingPart.OrderedAbstract, "1F3A5C02"u8, design, ordered: true);
            NumberingPart.WriteBase(xml, counts);
        });
        var kinds = own.Elements(W + "abstractNum").ToArray();
        TakeLevels(kinds[0], "List Bullet", StyleRole.ListBullet);
        HasOwnNumbers = !TakeLevels(kinds[1], "List Number", StyleRole.ListNumber);
        Bind(kinds[0], StyleRole.ListBullet, counts);
        Bind(kinds[1], StyleRole.ListNumber, counts);
        Add(own);
        LeaveContinuationsWithoutMark();
    }

    /// <summary>A list style that the house lacked gives its mark also where a person applies it; those of the house stay as they are.</summary>
    private void Bind(XElement kind, StyleRole role, HouseCounts counts)
    {
        var id = design.Style(role).Id;
        if (sheet.ById(id) is null && sheet.Root.Elements(W + "style").FirstOrDefault(s => StyleSheet.IdOf(s) == id) is { } made) SetPlace(made, 0, NumberingPart.NumberOf(role, counts)!.Value);
        else kind.Descendants(W + "pStyle").Remove();
    }

    /// <summary>What goes on in an item has no mark, though its style is made from that of items, which may bring theirs.</summary>
    private void LeaveContinuationsWithoutMark()
    {
        var id = design.Style(StyleRole.ListContinue).Id;
        if (sheet.ById(id) is null && sheet.Root.Elements(W + "style").FirstOrDefault(s => StyleSheet.IdOf(s) == id) is { } made && sheet.Property(made, "pPr", "numPr") is not null) SetPlace(made, 0, 0);
    }

    private static XElement Own(Action<Utf8XmlWriter> write) => XElement.Parse(Encoding.UTF8.GetString(TemplatePart.Bytes(xml =>
    {
        using (xml.Element("w:numbering"u8))
        {
            xml.Attribute("xmlns:w"u8, Namespaces.Main);
            write(xml);
        }
    })));

    /// <summary>Adds lists to those of the house.</summary>
    private void Add(XElement own)
    {
        var kinds = own.Elements(W + "abstractNum").ToArray();
        foreach (var kind in kinds) MakeUnique(kind.Element(W + "nsid")!);
        var last = numbering.Elements(W + "abstractNum").LastOrDefault();
        foreach (var kind in kinds)
        {
            if (last is not null) last.AddAfterSelf(kind);
            else if (numbering.Elements(W + "numPicBullet").LastOrDefault() is { } picture) picture.AddAfterSelf(kind);
            else numbering.AddFirst(kind);
            last = numbering.Elements(W + "abstractNum").Last(a => (string?)a.Attribute(W + "abstractNumId") == (string?)kind.Attribute(W + "abstractNumId"));
        }
        var numbers = own.Elements(W + "num");
        if (numbering.Elements(W + "num").LastOrDefault() is { } before) before.AddAfterSelf(numbers);
        else numbering.Elements(W + "abstractNum").Last().AddAfterSelf(numbers);
    }

    /// <summary>Lists of one identifier would be joined when text is pasted.</summary>
    private void MakeUnique(XElement identifier)
    {
        var taken = numbering.Elements(W + "abstractNum").Select(a => (string?)a.Element(W + "nsid")?.Attribute(W + "val")).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var number = int.Parse((string)identifier.Attribute(W + "val")!, NumberStyles.HexNumber, CultureInfo.InvariantCulture);
        while (taken.Contains(number.ToString("X8", CultureInfo.InvariantCulture))) number += 2;
        identifier.SetAttributeValue(W + "val", number.ToString("X8", CultureInfo.InvariantCulture));
    }

    /// <summary>Takes each level from the list of the house's style for it, or from that of the first level; whether the first level has one.</summary>
    private bool TakeLevels(XElement kind, string name, StyleRole role)
    {
        var first = sheet.Find("paragraph", design.Style(role).Name);
        var abstractList = first is not null && StyleSheet.Number(sheet.Property(first, "pPr", "numPr")?.Element(W + "numId"), "val") is { } number ? sheet.AbstractOf(number) : null;
        var takesFirst = false;
        foreach (var level in kind.Elements(W + "lvl").ToArray())
        {
            var index = (int)StyleSheet.Number(level, "ilvl")!;
            var style = index == 0 ? first : sheet.Find("paragraph", string.Create(CultureInfo.InvariantCulture, $"{name} {index + 1}"));
            var found = (style is null ? null : sheet.LevelOf(style)) ?? abstractList?.Elements(W + "lvl").FirstOrDefault(l => StyleSheet.Number(l, "ilvl") == index && (string?)l.Element(W + "numFmt")?.Attribute(W + "val") != "none");
            if (found is null) continue;
            takesFirst |= index == 0;
            var copy = new XElement(found);
            copy.SetAttributeValue(W + "ilvl", index);
            copy.SetAttributeValue(W + "tplc", null);
            copy.Elements(W + "pStyle").Remove();
            // A level that stood first in its own list counts itself alone.
            if (style is not null && index > 0 && copy.Element(W + "lvlText") is { } text) text.SetAttributeValue(W + "val", ((string?)text.Attribute(W + "val"))?.Replace("%1", $"%{index + 1}", StringComparison.Ordinal));
            level.ReplaceWith(copy);
        }
        return takesFirst;
    }

    private int? Highest(string element, string attribute) => numbering.Elements(W + element).Select(e => (int?)StyleSheet.Number(e, attribute)).Max();
}
