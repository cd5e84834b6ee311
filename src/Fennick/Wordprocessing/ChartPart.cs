using System.Globalization;
using Fennick.Charts;
using Fennick.Flow;
using Fennick.Formatting;
using Fennick.Houses;
using Fennick.Styles;

namespace Fennick.Wordprocessing;

/// <summary>Writes <c>word/charts/chartN.xml</c> (ECMA-376 Part 1, §21.2) for a column chart.</summary>
internal static class ChartPart
{
    private const double LeastContrastOfData = 3;
    private const int CategoryAxis = 111_111_111;
    private const int ValueAxis = 222_222_222;

    /// <summary>Writes the part of a chart.</summary>
    /// <param name="xml">The writer.</param>
    /// <param name="placed">The chart.</param>
    /// <param name="language">The tag of the report's language.</param>
    /// <param name="house">The house, whose family and colours it has.</param>
    public static void Write(Utf8XmlWriter xml, GalleyChart placed, string language, HouseDesign house)
    {
        var (chart, numbers) = (placed.Chart, placed.Numbers);
        using (xml.Element("c:chartSpace"u8))
        {
            xml.Attribute("xmlns:c"u8, Namespaces.Chart);
            xml.Attribute("xmlns:a"u8, Namespaces.Drawing);
            xml.Attribute("xmlns:r"u8, Namespaces.Relationships);
            xml.Raw("<c:date1904 val=\"0\"/><c:roundedCorners val=\"0\"/>"u8);
            using (xml.Element("c:chart"u8))
            {
                xml.Raw("<c:autoTitleDeleted val=\"1\"/>"u8);
                using (xml.Element("c:plotArea"u8))
                {
                    xml.Raw("<c:layout/>"u8);
                    WriteColumns(xml, chart, numbers, house);
                    WriteCategoryAxis(xml, chart, language);
                    WriteValueAxis(xml, chart, numbers, language);
                    xml.Raw("<c:spPr><a:noFill/><a:ln><a:noFill/></a:ln></c:spPr>"u8);
                }
                if (chart.Series.Length > 1) xml.Raw("<c:legend><c:legendPos val=\"t\"/><c:overlay val=\"0\"/></c:legend>"u8);
                xml.Raw("<c:plotVisOnly val=\"1\"/><c:dispBlanksAs val=\"gap\"/>"u8);
            }
            xml.Raw("<c:spPr><a:noFill/><a:ln><a:noFill/></a:ln></c:spPr>"u8);
            WriteTextProperties(xml, language, house.TableFamily);
            xml.Raw("<c:externalData r:id=\"rId1\"><c:autoUpdate val=\"0\"/></c:externalData>"u8);
        }
    }

    /// <summary>The series' name as the legend, the workbook and a hand-made copy show it.</summary>
    public static string SeriesName(Chart chart, ChartSeries series) =>
        series.Name.Length > 0 ? series.Name : chart.ValueTitle.Length > 0 ? chart.ValueTitle : "Value";

    private static void WriteColumns(Utf8XmlWriter xml, Chart chart, ChartNumbers numbers, HouseDesign house)
    {
        using (xml.Element("c:barChart"u8))
        {
            xml.Raw("<c:barDir val=\"col\"/><c:grouping val=\"clustered\"/><c:varyColors val=\"0\"/>"u8);
            for (var s = 0; s < chart.Series.Length; s++) WriteSeries(xml, chart, numbers, s, house);
            xml.Raw("<c:gapWidth val=\"70\"/>"u8);
            WriteNumber(xml, "c:axId"u8, CategoryAxis);
            WriteNumber(xml, "c:axId"u8, ValueAxis);
        }
    }

    /// <summary>The colour of a series: an accent of the theme, deepened where it could not be seen on the paper.</summary>
    private static void WriteSeriesColour(Utf8XmlWriter xml, int index, HouseDesign house)
    {
        var own = Colour.Parse(house.Colours[ThemeColour.Accent1 + (index % 6)])!.Value;
        var deep = own.ReadableOn(Colour.White, LeastContrastOfData);
        using (xml.Element("a:schemeClr"u8))
        {
            xml.Attribute("val"u8, string.Create(CultureInfo.InvariantCulture, $"accent{(index % 6) + 1}"));
            if (deep == own) return;
            using (xml.Element("a:lumMod"u8)) xml.Attribute("val"u8, (int)(100_000 * deep.Lightness / own.Lightness));
        }
    }

    private static void WriteSeries(Utf8XmlWriter xml, Chart chart, ChartNumbers numbers, int index, HouseDesign house)
    {
        var series = chart.Series[index];
        var column = WorkbookPart.ColumnName(index + 1);
        using (xml.Element("c:ser"u8))
        {
            WriteNumber(xml, "c:idx"u8, index);
            WriteNumber(xml, "c:order"u8, index);
            using (xml.Element("c:tx"u8))
            using (xml.Element("c:strRef"u8))
            {
                xml.TextElement("c:f"u8, $"{WorkbookPart.SheetName}!${column}$1");
                using (xml.Element("c:strCache"u8))
                {
                    WriteNumber(xml, "c:ptCount"u8, 1);
                    WritePoint(0, () => xml.Text(SeriesName(chart, series)));
                }
            }
            using (xml.Element("c:spPr"u8))
            {
                using (xml.Element("a:solidFill"u8)) WriteSeriesColour(xml, index, house);
                xml.Raw("<a:ln><a:noFill/></a:ln>"u8);
            }
            xml.Raw("<c:invertIfNegative val=\"0\"/>"u8);
            WriteLabels(xml, chart, numbers, index);
            using (xml.Element("c:cat"u8))
            using (xml.Element("c:strRef"u8))
            {
                xml.TextElement("c:f"u8, Rows("A"));
                using (xml.Element("c:strCache"u8))
                {
                    WriteNumber(xml, "c:ptCount"u8, chart.Categories.Length);
                    for (var i = 0; i < chart.Categories.Length; i++)
                    {
                        var category = chart.Categories[i];
                        WritePoint(i, () => xml.Text(category));
                    }
                }
            }
            using (xml.Element("c:val"u8))
            using (xml.Element("c:numRef"u8))
            {
                xml.TextElement("c:f"u8, Rows(column));
                using (xml.Element("c:numCache"u8))
                {
                    xml.TextElement("c:formatCode"u8, numbers.Code);
                    WriteNumber(xml, "c:ptCount"u8, series.Values.Length);
                    for (var i = 0; i < series.Values.Length; i++)
                        if (series.Values[i] is { } value) WritePoint(i, () => xml.Text(value));
                }
            }
        }

        string Rows(string name) => string.Create(CultureInfo.InvariantCulture, $"{WorkbookPart.SheetName}!${name}$2:${name}${chart.Categories.Length + 1}");

        void WritePoint(int place, Action content)
        {
            using (xml.Element("c:pt"u8))
            {
                xml.Attribute("idx"u8, place);
                using (xml.Element("c:v"u8)) content();
            }
        }
    }

    private static void WriteLabels(Utf8XmlWriter xml, Chart chart, ChartNumbers numbers, int series)
    {
        using (xml.Element("c:dLbls"u8))
        {
            // What no code shows stands as words.
            if (chart.ShowsValues && !numbers.Labels.IsEmpty)
            {
                for (var i = 0; i < numbers.Labels[series].Length; i++)
                {
                    if (numbers.Labels[series][i] is not { } words) continue;
                    using (xml.Element("c:dLbl"u8))
                    {
                        WriteNumber(xml, "c:idx"u8, i);
                        xml.Raw("<c:tx><c:rich><a:bodyPr/><a:lstStyle/><a:p><a:r>"u8);
                        xml.TextElement("a:t"u8, words);
                        xml.Raw("</a:r></a:p></c:rich></c:tx>"u8);
                        WriteShown();
                    }
                }
            }
            WriteNumberFormat(xml, numbers.Code);
            xml.Raw("<c:spPr><a:noFill/><a:ln><a:noFill/></a:ln></c:spPr>"u8);
            WriteShown();
        }

        void WriteShown()
        {
            if (chart.ShowsValues) xml.Raw("<c:dLblPos val=\"outEnd\"/>"u8);
            xml.Raw("<c:showLegendKey val=\"0\"/>"u8);
            xml.Raw(chart.ShowsValues ? "<c:showVal val=\"1\"/>"u8 : "<c:showVal val=\"0\"/>"u8);
            xml.Raw("<c:showCatName val=\"0\"/><c:showSerName val=\"0\"/><c:showPercent val=\"0\"/><c:showBubbleSize val=\"0\"/>"u8);
        }
    }

    private static void WriteCategoryAxis(Utf8XmlWriter xml, Chart chart, string language)
    {
        using (xml.Element("c:catAx"u8))
        {
            WriteNumber(xml, "c:axId"u8, CategoryAxis);
            xml.Raw("<c:scaling><c:orientation val=\"minMax\"/></c:scaling><c:delete val=\"0\"/><c:axPos val=\"b\"/>"u8);
            WriteTitle(xml, chart.CategoryTitle, language);
            WriteNumberFormat(xml, NumberCode.General);
            xml.Raw("<c:majorTickMark val=\"none\"/><c:minorTickMark val=\"none\"/>"u8);
            xml.Raw(chart.HidesAxes ? "<c:tickLblPos val=\"none\"/>"u8 : "<c:tickLblPos val=\"low\"/>"u8);
            xml.Raw("<c:spPr><a:ln w=\"9525\"><a:solidFill><a:schemeClr val=\"tx1\"/></a:solidFill></a:ln></c:spPr>"u8);
            WriteNumber(xml, "c:crossAx"u8, ValueAxis);
            xml.Raw("<c:crosses val=\"autoZero\"/><c:auto val=\"0\"/><c:lblAlgn val=\"ctr\"/><c:lblOffset val=\"100\"/><c:noMultiLvlLbl val=\"1\"/>"u8);
        }
    }

    private static void WriteValueAxis(Utf8XmlWriter xml, Chart chart, ChartNumbers numbers, string language)
    {
        var startsAtZero = chart.Series.All(s => s.Values.All(v => v is null or >= 0));
        using (xml.Element("c:valAx"u8))
        {
            WriteNumber(xml, "c:axId"u8, ValueAxis);
            xml.Raw("<c:scaling><c:orientation val=\"minMax\"/>"u8);
            if (startsAtZero) xml.Raw("<c:min val=\"0\"/>"u8);
            xml.Raw("</c:scaling>"u8);
            xml.Raw(chart.HidesAxes ? "<c:delete val=\"1\"/>"u8 : "<c:delete val=\"0\"/>"u8);
            xml.Raw("<c:axPos val=\"l\"/>"u8);
            // Where the columns carry their values, lines would only run through the numbers.
            if (!chart.ShowsValues && !chart.HidesAxes) xml.Raw("<c:majorGridlines><c:spPr><a:ln w=\"6350\"><a:solidFill><a:schemeClr val=\"tx1\"><a:lumMod val=\"15000\"/><a:lumOff val=\"85000\"/></a:schemeClr></a:solidFill></a:ln></c:spPr></c:majorGridlines>"u8);
            WriteTitle(xml, chart.ValueTitle, language);
            WriteNumberFormat(xml, numbers.AxisCode);
            xml.Raw("<c:majorTickMark val=\"none\"/><c:minorTickMark val=\"none\"/><c:tickLblPos val=\"low\"/><c:spPr><a:ln><a:noFill/></a:ln></c:spPr>"u8);
            WriteNumber(xml, "c:crossAx"u8, CategoryAxis);
            xml.Raw("<c:crosses val=\"autoZero\"/><c:crossBetween val=\"between\"/>"u8);
        }
    }

    private static void WriteTitle(Utf8XmlWriter xml, string title, string language)
    {
        if (title.Length == 0) return;
        xml.Raw("<c:title><c:tx><c:rich><a:bodyPr/><a:lstStyle/><a:p><a:pPr><a:defRPr b=\"0\"/></a:pPr><a:r>"u8);
        using (xml.Element("a:rPr"u8))
        {
            xml.Attribute("lang"u8, language);
            xml.Attribute("b"u8, 0);
        }
        xml.TextElement("a:t"u8, title);
        xml.Raw("</a:r></a:p></c:rich></c:tx><c:overlay val=\"0\"/></c:title>"u8);
    }

    private static void WriteTextProperties(Utf8XmlWriter xml, string language, string? family)
    {
        using (xml.Element("c:txPr"u8))
        {
            xml.Raw("<a:bodyPr/><a:lstStyle/>"u8);
            using (xml.Element("a:p"u8))
            {
                xml.Raw("<a:pPr><a:defRPr sz=\"900\"><a:solidFill><a:schemeClr val=\"tx1\"/></a:solidFill>"u8);
                using (xml.Element("a:latin"u8)) xml.Attribute("typeface"u8, family ?? "+mj-lt");
                xml.Raw("</a:defRPr></a:pPr>"u8);
                using (xml.Element("a:endParaRPr"u8)) xml.Attribute("lang"u8, language);
            }
        }
    }

    private static void WriteNumberFormat(Utf8XmlWriter xml, string code)
    {
        using (xml.Element("c:numFmt"u8))
        {
            xml.Attribute("formatCode"u8, code);
            xml.Attribute("sourceLinked"u8, 0);
        }
    }

    private static void WriteNumber(Utf8XmlWriter xml, ReadOnlySpan<byte> element, long value)
    {
        using (xml.Element(element)) xml.Attribute("val"u8, value);
    }
}
