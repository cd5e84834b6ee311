using System.Globalization;

namespace Fennick.Wordprocessing;

/// <summary>Writes <c>[Content_Types].xml</c> (ECMA-376 Part 2, §6.2.3).</summary>
internal static class ContentTypesPart
{
    private const string Wordprocessing = "application/vnd.openxmlformats-officedocument.wordprocessingml.";

    public static void Write(Utf8XmlWriter xml, DocumentContext document, bool hasLists, bool hasNotes, bool hasOwnProperties, int footers)
    {
        using (xml.Element("Types"u8))
        {
            xml.Attribute("xmlns"u8, "http://schemas.openxmlformats.org/package/2006/content-types"u8);
            xml.Raw("<Default Extension=\"rels\" ContentType=\"application/vnd.openxmlformats-package.relationships+xml\"/><Default Extension=\"xml\" ContentType=\"application/xml\"/>"u8);
            if (document.Pictures.Any(p => p.Extension == "png")) xml.Raw("<Default Extension=\"png\" ContentType=\"image/png\"/>"u8);
            if (document.Pictures.Any(p => p.Extension == "jpeg")) xml.Raw("<Default Extension=\"jpeg\" ContentType=\"image/jpeg\"/>"u8);
            if (document.Charts.Count > 0) xml.Raw("<Default Extension=\"xlsx\" ContentType=\"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet\"/>"u8);
            Override("/word/document.xml", Wordprocessing + "document.main+xml");
            Override("/word/styles.xml", Wordprocessing + "styles+xml");
            Override("/word/settings.xml", Wordprocessing + "settings+xml");
            Override("/word/fontTable.xml", Wordprocessing + "fontTable+xml");
            for (var i = 1; i <= footers; i++) Override(string.Create(CultureInfo.InvariantCulture, $"/word/footer{i}.xml"), Wordprocessing + "footer+xml");
            if (hasLists) Override("/word/numbering.xml", Wordprocessing + "numbering+xml");
            if (hasNotes) Override("/word/footnotes.xml", Wordprocessing + "footnotes+xml");
            Override("/word/theme/theme1.xml", "application/vnd.openxmlformats-officedocument.theme+xml");
            Override("/docProps/core.xml", "application/vnd.openxmlformats-package.core-properties+xml");
            Override("/docProps/app.xml", "application/vnd.openxmlformats-officedocument.extended-properties+xml");
            if (hasOwnProperties) Override("/docProps/custom.xml", "application/vnd.openxmlformats-officedocument.custom-properties+xml");
            for (var part = 1; part <= document.Charts.Count; part++)
            {
                Override(string.Create(CultureInfo.InvariantCulture, $"/word/charts/chart{part}.xml"), "application/vnd.openxmlformats-officedocument.drawingml.chart+xml");
                Override(string.Create(CultureInfo.InvariantCulture, $"/word/charts/style{part}.xml"), "application/vnd.ms-office.chartstyle+xml");
                Override(string.Create(CultureInfo.InvariantCulture, $"/word/charts/colors{part}.xml"), "application/vnd.ms-office.chartcolorstyle+xml");
            }
        }

        void Override(string name, string type)
        {
            using (xml.Element("Override"u8))
            {
                xml.Attribute("PartName"u8, name);
                xml.Attribute("ContentType"u8, type);
            }
        }
    }
}
