using System.Globalization;
using System.Text;
using Fennick.Flow;

namespace Fennick.Wordprocessing;

/// <summary>Writes relationship parts (ECMA-376 Part 2, §6.5).</summary>
internal static class RelationshipsPart
{
    private const string Office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships/";

    private static readonly string[] OwnIds = ["rIdStory", "rIdPicture", "rIdChart", "rIdLink", "rIdNumbering", "rIdNotes", "rIdProperties", "rIdRecord"];

    public static string StoryId(int part) => string.Create(CultureInfo.InvariantCulture, $"rIdStory{part}");

    public static string PictureId(int part) => string.Create(CultureInfo.InvariantCulture, $"rIdPicture{part}");

    public static string DrawingId(int part) => $"{PictureId(part)}Svg";

    public static string ChartId(int part) => string.Create(CultureInfo.InvariantCulture, $"rIdChart{part}");

    public static string LinkId(int index) => string.Create(CultureInfo.InvariantCulture, $"rIdLink{index + 1}");

    /// <summary>Whether an id could be one of those above.</summary>
    public static bool IsOwnId(string id) => OwnIds.Any(start => id.StartsWith(start, StringComparison.OrdinalIgnoreCase));

    /// <summary>The relationships of <c>word/document.xml</c>.</summary>
    public static void WriteDocument(Utf8XmlWriter xml, DocumentContext document, StoryRelationships body, bool addsNumbering, bool hasNotes, string? record)
    {
        using (xml.Element("Relationships"u8))
        {
            WriteNamespace(xml);
            xml.Raw(document.House.Template.DocumentRelationships.Span);
            foreach (var turned in document.TurnedStories) xml.Raw(turned.Relationship.Span);
            for (var i = 0; i < document.Stories.Count; i++)
                Write(xml, StoryId(document.PartNumber(i)), document.Stories[i].Kind.IsFooter ? "footer" : "header", StoryName(document.Stories[i], document.PartNumber(i)));
            if (addsNumbering) Write(xml, "rIdNumbering", "numbering", "numbering.xml");
            if (hasNotes) Write(xml, "rIdNotes", "footnotes", "footnotes.xml");
            if (record is not null) Write(xml, "rIdRecord", "customXml", $"../{record}");
            WriteStory(xml, document, body);
        }
    }

    /// <summary>The place of a header or footer below <c>word/</c>.</summary>
    public static string StoryName(GalleyStory story, int part) => string.Create(CultureInfo.InvariantCulture, $"{(story.Kind.IsFooter ? "footer" : "header")}{part}.xml");

    /// <summary>The relationships that every document of a built-in house has.</summary>
    public static void WriteHouse(Utf8XmlWriter xml)
    {
        Write(xml, "rIdStyles", "styles", "styles.xml");
        Write(xml, "rIdTheme", "theme", "theme/theme1.xml");
        Write(xml, "rIdSettings", "settings", "settings.xml");
        Write(xml, "rIdFonts", "fontTable", "fontTable.xml");
    }

    /// <summary>The relationships that every package of a built-in house has.</summary>
    public static void WriteHouseRoot(Utf8XmlWriter xml)
    {
        Write(xml, "rIdDocument", "officeDocument", "word/document.xml");
        WriteOne(xml, "rIdCore", "http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties", "docProps/core.xml");
        Write(xml, "rIdExtended", "extended-properties", "docProps/app.xml");
    }

    /// <summary>The relationships of the package.</summary>
    public static void WriteRoot(Utf8XmlWriter xml, PackageTemplate template, bool hasCustomProperties)
    {
        using (xml.Element("Relationships"u8))
        {
            WriteNamespace(xml);
            xml.Raw(template.Relationships.Span);
            if (hasCustomProperties) Write(xml, "rIdProperties", "custom-properties", "docProps/custom.xml");
        }
    }

    /// <summary>A part with relationships.</summary>
    public static void WriteAll(Utf8XmlWriter xml, Action write)
    {
        using (xml.Element("Relationships"u8))
        {
            WriteNamespace(xml);
            write();
        }
    }

    /// <summary>The relationships of <c>word/footnotes.xml</c> or another story beside the body.</summary>
    public static void WriteStoryPart(Utf8XmlWriter xml, DocumentContext document, StoryRelationships story, ReadOnlyMemory<byte> house)
    {
        using (xml.Element("Relationships"u8))
        {
            WriteNamespace(xml);
            xml.Raw(house.Span);
            WriteStory(xml, document, story);
        }
    }

    private static void WriteStory(Utf8XmlWriter xml, DocumentContext document, StoryRelationships story)
    {
        foreach (var part in story.Charts.Select(document.PartNumber)) Write(xml, ChartId(part), "chart", ChartName(part));
        foreach (var index in story.Pictures)
        {
            var (picture, part) = (document.Pictures[index], document.PartNumber(index));
            Write(xml, PictureId(part), "image", PictureName(part, picture.Extension));
            if (picture.Svg is not null) Write(xml, DrawingId(part), "image", PictureName(part, "svg"));
        }
        for (var i = 0; i < story.Links.Count; i++) Write(xml, LinkId(i), "hyperlink", EscapeTarget(story.Links[i]), isExternal: true);
    }

    /// <summary>The place of a chart's part below <c>word/</c>.</summary>
    public static string ChartName(int part) => string.Create(CultureInfo.InvariantCulture, $"charts/chart{part}.xml");

    /// <summary>The place of a picture's part below <c>word/</c>.</summary>
    public static string PictureName(int part, string ending) => string.Create(CultureInfo.InvariantCulture, $"media/picture{part}.{ending}");

    /// <summary>The relationships of a chart: its workbook, and the style that series added by hand follow.</summary>
    public static void WriteChart(Utf8XmlWriter xml, int part)
    {
        using (xml.Element("Relationships"u8))
        {
            WriteNamespace(xml);
            Write(xml, "rId1", "package", string.Create(CultureInfo.InvariantCulture, $"../embeddings/workbook{part}.xlsx"));
            WriteOne(xml, "rId2", "http://schemas.microsoft.com/office/2011/relationships/chartStyle", string.Create(CultureInfo.InvariantCulture, $"style{part}.xml"));
            WriteOne(xml, "rId3", "http://schemas.microsoft.com/office/2011/relationships/chartColorStyle", string.Create(CultureInfo.InvariantCulture, $"colors{part}.xml"));
        }
    }

    /// <summary>Brings an address to the form that RFC 3986 allows; what is escaped already stays.</summary>
    internal static string EscapeTarget(string target)
    {
        const string Allowed = "-._~:/?#[]@!$&'()*+,;=";
        var escaped = new StringBuilder(target.Length);
        Span<byte> bytes = stackalloc byte[4];
        foreach (var rune in target.EnumerateRunes())
        {
            if (rune.IsAscii && (char.IsAsciiLetterOrDigit((char)rune.Value) || Allowed.Contains((char)rune.Value) || rune.Value == '%'))
            {
                escaped.Append((char)rune.Value);
                continue;
            }
            foreach (var b in bytes[..rune.EncodeToUtf8(bytes)]) escaped.Append(CultureInfo.InvariantCulture, $"%{b:X2}");
        }
        for (var i = 0; i < escaped.Length; i++)
        {
            if (escaped[i] != '%' || (i + 2 < escaped.Length && char.IsAsciiHexDigit(escaped[i + 1]) && char.IsAsciiHexDigit(escaped[i + 2]))) continue;
            escaped.Insert(i + 1, "25");
        }
        return escaped.ToString();
    }

    private static void WriteNamespace(Utf8XmlWriter xml) => xml.Attribute("xmlns"u8, "http://schemas.openxmlformats.org/package/2006/relationships"u8);

    private static void Write(Utf8XmlWriter xml, string id, string type, string target, bool isExternal = false) => WriteOne(xml, id, Office + type, target, isExternal);

    internal static void WriteOne(Utf8XmlWriter xml, string id, string type, string target, bool isExternal = false)
    {
        using (xml.Element("Relationship"u8))
        {
            xml.Attribute("Id"u8, id);
            xml.Attribute("Type"u8, type);
            xml.Attribute("Target"u8, target);
            if (isExternal) xml.Attribute("TargetMode"u8, "External"u8);
        }
    }
}
