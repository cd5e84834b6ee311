using Fennick.Flow;

namespace Fennick.Wordprocessing;

/// <summary>Writes inline drawings (ECMA-376 Part 1, §20.4).</summary>
internal static class DrawingWriter
{
    public static void Write(DocumentContext document, FlowChart chart)
    {
        var xml = document.Xml;
        var part = document.AddChart(chart);
        using (xml.Element("w:r"u8))
        using (xml.Element("w:drawing"u8))
        using (xml.Element("wp:inline"u8))
        {
            xml.Attribute("distT"u8, 0);
            xml.Attribute("distB"u8, 0);
            xml.Attribute("distL"u8, 0);
            xml.Attribute("distR"u8, 0);
            using (xml.Element("wp:extent"u8))
            {
                xml.Attribute("cx"u8, chart.Width.EnglishMetricUnits);
                xml.Attribute("cy"u8, chart.Height.EnglishMetricUnits);
            }
            xml.Raw("<wp:effectExtent l=\"0\" t=\"0\" r=\"0\" b=\"0\"/>"u8);
            using (xml.Element("wp:docPr"u8))
            {
                xml.Attribute("id"u8, document.NextDrawing());
                xml.Attribute("name"u8, chart.Name);
                xml.Attribute("descr"u8, chart.Description);
            }
            xml.Raw("<wp:cNvGraphicFramePr/>"u8);
            using (xml.Element("a:graphic"u8))
            using (xml.Element("a:graphicData"u8))
            {
                xml.Attribute("uri"u8, Namespaces.Chart);
                using (xml.Element("c:chart"u8)) xml.Attribute("r:id"u8, RelationshipsPart.ChartId(part));
            }
        }
    }
}
