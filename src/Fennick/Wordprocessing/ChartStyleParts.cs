namespace Fennick.Wordprocessing;

/// <summary>The style and colour parts of charts: a series added by hand follows the palette. They are the same for every chart.</summary>
internal static class ChartStyleParts
{
    // [MS-ODRAWXML] §2.24.3.70: every kind of element has its entry, in this order.
    private static readonly string[] Entries =
    [
        "axisTitle", "categoryAxis", "chartArea", "dataLabel", "dataLabelCallout", "dataPoint", "dataPoint3D", "dataPointLine", "dataPointMarker",
        "dataPointWireframe", "dataTable", "downBar", "dropLine", "errorBar", "floor", "gridlineMajor", "gridlineMinor", "hiLoLine", "leaderLine",
        "legend", "plotArea", "plotArea3D", "seriesAxis", "seriesLine", "title", "trendline", "trendlineLabel", "upBar", "valueAxis", "wall",
    ];

    public static Slab Style { get; } = HouseParts.Compress(WriteStyle);

    public static Slab Colours { get; } = HouseParts.Compress(WriteColours);

    private static void WriteStyle(Utf8XmlWriter xml)
    {
        using (xml.Element("cs:chartStyle"u8))
        {
            xml.Attribute("xmlns:cs"u8, "http://schemas.microsoft.com/office/drawing/2012/chartStyle"u8);
            xml.Attribute("xmlns:a"u8, Namespaces.Drawing);
            xml.Attribute("id"u8, 1201);
            foreach (var entry in Entries)
            {
                using (xml.Element(System.Text.Encoding.ASCII.GetBytes($"cs:{entry}")))
                {
                    var isFilled = entry.StartsWith("dataPoint", StringComparison.Ordinal);
                    xml.Raw("<cs:lnRef idx=\"0\"/>"u8);
                    xml.Raw(isFilled ? "<cs:fillRef idx=\"1\"><cs:styleClr val=\"auto\"/></cs:fillRef>"u8 : "<cs:fillRef idx=\"0\"/>"u8);
                    xml.Raw("<cs:effectRef idx=\"0\"/><cs:fontRef idx=\"major\"><a:schemeClr val=\"tx1\"/></cs:fontRef>"u8);
                    var isLine = entry is "dataPointLine" or "errorBar" or "trendline" or "dropLine" or "hiLoLine" or "leaderLine" or "seriesLine" or "gridlineMajor" or "gridlineMinor" or "categoryAxis" or "valueAxis";
                    if (entry == "dataPointLine") xml.Raw("<cs:spPr><a:ln w=\"25400\" cap=\"rnd\"><a:solidFill><a:schemeClr val=\"phClr\"/></a:solidFill><a:round/></a:ln></cs:spPr>"u8);
                    else if (isLine) xml.Raw("<cs:spPr><a:ln w=\"9525\"><a:solidFill><a:schemeClr val=\"tx1\"><a:lumMod val=\"50000\"/><a:lumOff val=\"50000\"/></a:schemeClr></a:solidFill></a:ln></cs:spPr>"u8);
                    else if (isFilled) xml.Raw("<cs:spPr><a:solidFill><a:schemeClr val=\"phClr\"/></a:solidFill></cs:spPr>"u8);
                }
            }
        }
    }

    private static void WriteColours(Utf8XmlWriter xml) => xml.Raw("""
        <cs:colorStyle xmlns:cs="http://schemas.microsoft.com/office/drawing/2012/chartStyle" xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" meth="cycle" id="10"><a:schemeClr val="accent1"/><a:schemeClr val="accent2"/><a:schemeClr val="accent3"/><a:schemeClr val="accent4"/><a:schemeClr val="accent5"/><a:schemeClr val="accent6"/><cs:variation/><cs:variation><a:lumMod val="60000"/></cs:variation></cs:colorStyle>
        """u8);
}
