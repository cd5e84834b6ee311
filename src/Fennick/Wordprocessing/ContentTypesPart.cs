using System.Globalization;

namespace Fennick.Wordprocessing;

/// <summary>Writes <c>[Content_Types].xml</c> (ECMA-376 Part 2, §6.2.3).</summary>
internal static class ContentTypesPart
{
    private const string Wordprocessing = "application/vnd.openxmlformats-officedocument.wordprocessingml.";

    /// <summary>The type of <c>word/document.xml</c> in a document.</summary>
    public const string MainType = Wordprocessing + "document.main+xml";

    public static void Write(Utf8XmlWriter xml, DocumentContext document, bool addsNumbering, bool hasNotes, bool hasOwnProperties, string? recordProperties)
    {
        var template = document.House.Template;
        using (xml.Element("Types"u8))
        {
            xml.Attribute("xmlns"u8, "http://schemas.openxmlformats.org/package/2006/content-types"u8);
            foreach (var ending in document.Pictures.Select(p => p.Extension).Distinct()) Default(ending, $"image/{ending}");
            if (document.Pictures.Any(p => p.Svg is not null)) Default("svg", "image/svg+xml");
            if (document.Charts.Count > 0) Default("xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet");
            xml.Raw(template.Types.Span);
            foreach (var turned in document.TurnedStories) xml.Raw(turned.Type.Span);
            for (var i = 0; i < document.Stories.Count; i++)
                WriteOverride(xml, $"/word/{RelationshipsPart.StoryName(document.Stories[i], document.PartNumber(i))}", Wordprocessing + (document.Stories[i].Kind.IsFooter ? "footer+xml" : "header+xml"));
            if (addsNumbering) WriteOverride(xml, "/word/numbering.xml", Wordprocessing + "numbering+xml");
            if (hasNotes) WriteOverride(xml, "/word/footnotes.xml", Wordprocessing + "footnotes+xml");
            if (hasOwnProperties) WriteOverride(xml, "/docProps/custom.xml", "application/vnd.openxmlformats-officedocument.custom-properties+xml");
            if (recordProperties is not null) WriteOverride(xml, "/" + recordProperties, "application/vnd.openxmlformats-officedocument.customXmlProperties+xml");
            foreach (var part in Enumerable.Range(0, document.Charts.Count).Select(document.PartNumber))
            {
                WriteOverride(xml, string.Create(CultureInfo.InvariantCulture, $"/word/charts/chart{part}.xml"), "application/vnd.openxmlformats-officedocument.drawingml.chart+xml");
                WriteOverride(xml, string.Create(CultureInfo.InvariantCulture, $"/word/charts/style{part}.xml"), "application/vnd.ms-office.chartstyle+xml");
                WriteOverride(xml, string.Create(CultureInfo.InvariantCulture, $"/word/charts/colors{part}.xml"), "application/vnd.ms-office.chartcolorstyle+xml");
            }
        }

        void Default(string ending, string type)
        {
            if (!template.TypedEndings.Contains(ending)) WriteDefault(xml, ending, type);
        }
    }

    /// <summary>The types of the parts that every document of a built-in house has.</summary>
    public static void WriteHouse(Utf8XmlWriter xml)
    {
        WriteDefault(xml, "rels", "application/vnd.openxmlformats-package.relationships+xml");
        WriteDefault(xml, "xml", "application/xml");
        WriteOverride(xml, "/word/document.xml", MainType);
        WriteOverride(xml, "/word/styles.xml", Wordprocessing + "styles+xml");
        WriteOverride(xml, "/word/settings.xml", Wordprocessing + "settings+xml");
        WriteOverride(xml, "/word/fontTable.xml", Wordprocessing + "fontTable+xml");
        WriteOverride(xml, "/word/theme/theme1.xml", "application/vnd.openxmlformats-officedocument.theme+xml");
        WriteOverride(xml, "/docProps/core.xml", "application/vnd.openxmlformats-package.core-properties+xml");
        WriteOverride(xml, "/docProps/app.xml", "application/vnd.openxmlformats-officedocument.extended-properties+xml");
    }

    /// <summary>The type of parts with a known ending.</summary>
    public static void WriteDefault(Utf8XmlWriter xml, string ending, string type)
    {
        using (xml.Element("Default"u8))
        {
            xml.Attribute("Extension"u8, ending);
            xml.Attribute("ContentType"u8, type);
        }
    }

    /// <summary>The type of one part.</summary>
    public static void WriteOverride(Utf8XmlWriter xml, string name, string type)
    {
        using (xml.Element("Override"u8))
        {
            xml.Attribute("PartName"u8, name);
            xml.Attribute("ContentType"u8, type);
        }
    }
}
