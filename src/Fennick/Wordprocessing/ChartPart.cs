using System.Globalization;
using Fennick.Drawing;
using Fennick.Styles;

namespace Fennick.Wordprocessing;

/// <summary>Writes <c>word/charts/chartN.xml</c> (ECMA-376 Part 1, §21.2) from a drawing. Every place, limit and tick is written, so that all readers draw the same.</summary>
internal sealed class ChartPart
{
    private readonly Utf8XmlWriter xml;
    private readonly ChartDrawing drawing;
    private readonly ChartInk ink;
    private readonly ChartSeriesWriter series;
    private readonly ChartAxisWriter axes;

    private ChartPart(Utf8XmlWriter xml, ChartDrawing drawing, HouseDesign house)
    {
        (this.xml, this.drawing) = (xml, drawing);
        ink = new ChartInk(xml, house, drawing.TextSize);
        series = new ChartSeriesWriter(xml, drawing, ink);
        axes = new ChartAxisWriter(xml, drawing, ink);
    }

    /// <summary>Writes the part of a chart.</summary>
    public static void Write(Utf8XmlWriter xml, ChartDrawing drawing, HouseDesign house) => new ChartPart(xml, drawing, house).Write();

    /// <summary>Writes where a part of a chart stands, as shares of its width and height.</summary>
    public static void WriteLayout(Utf8XmlWriter xml, ChartDrawing drawing, double left, double top, (double Width, double Height)? size = null, bool isInner = false, bool isOffset = false)
    {
        using (xml.Element("c:layout"u8))
        using (xml.Element("c:manualLayout"u8))
        {
            if (isInner) xml.Raw("<c:layoutTarget val=\"inner\"/>"u8);
            if (!isOffset) xml.Raw("<c:xMode val=\"edge\"/><c:yMode val=\"edge\"/>"u8);
            Share("c:x"u8, left / drawing.Width);
            Share("c:y"u8, top / drawing.Height);
            if (size is not { } given) return;
            Share("c:w"u8, given.Width / drawing.Width);
            Share("c:h"u8, given.Height / drawing.Height);
        }

        void Share(ReadOnlySpan<byte> element, double share)
        {
            using (xml.Element(element)) xml.Attribute("val"u8, Math.Round(share, 4).ToString(CultureInfo.InvariantCulture));
        }
    }

    private void Write()
    {
        using (xml.Element("c:chartSpace"u8))
        {
            xml.Attribute("xmlns:c"u8, Namespaces.Chart);
            xml.Attribute("xmlns:a"u8, Namespaces.Drawing);
            xml.Attribute("xmlns:r"u8, Namespaces.Relationships);
            xml.Raw("<c:date1904 val=\"0\"/>"u8);
            using (xml.Element("c:lang"u8)) xml.Attribute("val"u8, drawing.Language.Tag);
            xml.Raw("<c:roundedCorners val=\"0\"/>"u8);
            using (xml.Element("c:chart"u8))
            {
                var hasTitle = WriteTitle();
                xml.Raw(!hasTitle ? "<c:autoTitleDeleted val=\"1\"/>"u8 : "<c:autoTitleDeleted val=\"0\"/>"u8);
                using (xml.Element("c:plotArea"u8))
                {
                    WriteLayout(xml, drawing, drawing.Plot.Left, drawing.Plot.Top, (drawing.Plot.Width, drawing.Plot.Height), isInner: true);
                    WriteGroups();
                    axes.Write();
                    xml.Raw("<c:spPr><a:noFill/><a:ln><a:noFill/></a:ln></c:spPr>"u8);
                }
                if (!drawing.Legend.IsEmpty) WriteLegend();
                xml.Raw("<c:plotVisOnly val=\"1\"/><c:dispBlanksAs val=\"gap\"/>"u8);
            }
            xml.Raw("<c:spPr><a:noFill/><a:ln><a:noFill/></a:ln></c:spPr>"u8);
            WriteTextProperties();
            xml.Raw("<c:externalData r:id=\"rId1\"><c:autoUpdate val=\"0\"/></c:externalData>"u8);
        }
    }

    /// <summary>The groups of series that are drawn in one way and on one pair of axes, in the order in which they lie over each other and stand in the legend.</summary>
    private IEnumerable<IGrouping<(DrawnMark Mark, bool IsOnSecond, bool HasSizes), DrawnSeries>> Groups =>
        drawing.Series.GroupBy(s => (s.Mark, s.IsOnSecond, HasSizes: !s.Sizes.IsEmpty)).OrderBy(g => g.Key.IsOnSecond).ThenBy(g => g.Key.Mark);

    private void WriteGroups()
    {
        var index = 0;
        foreach (var group in Groups)
        {
            var all = group.ToArray();
            using (xml.Element(ElementOf(group.Key.Mark, group.Key.HasSizes)))
            {
                if (group.Key.Mark == DrawnMark.Bar) xml.Raw(drawing.IsOnSide ? "<c:barDir val=\"bar\"/>"u8 : "<c:barDir val=\"col\"/>"u8);
                if (group.Key.Mark is DrawnMark.Bar or DrawnMark.Line or DrawnMark.Area) xml.Raw(GroupingOf(all));
                if (group.Key is { Mark: DrawnMark.Point, HasSizes: false }) xml.Raw("<c:scatterStyle val=\"lineMarker\"/>"u8);
                xml.Raw(group.Key.Mark == DrawnMark.Slice ? "<c:varyColors val=\"1\"/>"u8 : "<c:varyColors val=\"0\"/>"u8);
                foreach (var one in all) series.Write(one, index++);
                switch (group.Key.Mark)
                {
                    case DrawnMark.Bar:
                        Number("c:gapWidth"u8, drawing.Gap);
                        Number("c:overlap"u8, drawing.Overlap);
                        break;
                    case DrawnMark.Line:
                        xml.Raw("<c:marker val=\"1\"/>"u8);
                        break;
                    case DrawnMark.Point when group.Key.HasSizes:
                        xml.Raw("<c:bubbleScale val=\"60\"/><c:showNegBubbles val=\"0\"/><c:sizeRepresents val=\"area\"/>"u8);
                        break;
                    case DrawnMark.Slice:
                        Number("c:firstSliceAng"u8, 0);
                        if (drawing.Hole > 0) Number("c:holeSize"u8, (long)(drawing.Hole * 100));
                        continue;
                    default:
                        break;
                }
                axes.WriteIds(group.Key.IsOnSecond);
            }
        }
    }

    private ReadOnlySpan<byte> ElementOf(DrawnMark mark, bool hasSizes) => mark switch
    {
        DrawnMark.Area => "c:areaChart"u8,
        DrawnMark.Bar => "c:barChart"u8,
        DrawnMark.Line => "c:lineChart"u8,
        DrawnMark.Point => hasSizes ? "c:bubbleChart"u8 : "c:scatterChart"u8,
        _ => drawing.Hole > 0 ? "c:doughnutChart"u8 : "c:pieChart"u8,
    };

    private static ReadOnlySpan<byte> GroupingOf(DrawnSeries[] all) =>
        all.Any(s => s.IsShare) ? "<c:grouping val=\"percentStacked\"/>"u8 : all.Any(s => s.IsStacked) ? "<c:grouping val=\"stacked\"/>"u8
        : all[0].Mark == DrawnMark.Bar ? "<c:grouping val=\"clustered\"/>"u8 : "<c:grouping val=\"standard\"/>"u8;

    /// <summary>The title holds the line above the chart, and what is measured where that is too long for the title of an axis: some readers break those at a fifth of the width.</summary>
    private bool WriteTitle()
    {
        var measured = axes.TitleAbove;
        if (drawing.Subtitle is null && measured is null) return false;
        using (xml.Element("c:title"u8))
        {
            ink.Title(drawing.Subtitle?.Words, measured?.Words, drawing.Language.Tag);
            WriteLayout(xml, drawing, (drawing.Subtitle ?? measured)!.Left, (drawing.Subtitle ?? measured)!.Top);
            xml.Raw("<c:overlay val=\"0\"/>"u8);
        }
        return true;
    }

    private void WriteLegend()
    {
        using (xml.Element("c:legend"u8))
        {
            xml.Raw("<c:legendPos val=\"t\"/>"u8);
            var place = 0;
            foreach (var one in Groups.SelectMany(g => g))
            {
                if (!one.IsInLegend)
                {
                    using (xml.Element("c:legendEntry"u8))
                    {
                        Number("c:idx"u8, place);
                        xml.Raw("<c:delete val=\"1\"/>"u8);
                    }
                }
                place++;
            }
            WriteLayout(xml, drawing, 0, drawing.Legend[0].Top);
            xml.Raw("<c:overlay val=\"0\"/>"u8);
        }
    }

    private void WriteTextProperties()
    {
        using (xml.Element("c:txPr"u8))
        {
            xml.Raw("<a:bodyPr/><a:lstStyle/>"u8);
            using (xml.Element("a:p"u8))
            {
                using (xml.Element("a:pPr"u8))
                using (xml.Element("a:defRPr"u8))
                {
                    xml.Attribute("sz"u8, (long)Math.Round(drawing.TextSize * 100));
                    xml.Raw("<a:solidFill><a:schemeClr val=\"tx1\"/></a:solidFill>"u8);
                    using (xml.Element("a:latin"u8)) xml.Attribute("typeface"u8, drawing.Family);
                }
                using (xml.Element("a:endParaRPr"u8)) xml.Attribute("lang"u8, drawing.Language.Tag);
            }
        }
    }

    private void Number(ReadOnlySpan<byte> element, long value)
    {
        using (xml.Element(element)) xml.Attribute("val"u8, value);
    }
}
