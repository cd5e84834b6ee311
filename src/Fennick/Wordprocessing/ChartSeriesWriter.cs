using System.Collections.Immutable;
using System.Globalization;
using Fennick.Drawing;

namespace Fennick.Wordprocessing;

/// <summary>Writes the series of a chart with their marks, words, limits and data.</summary>
internal sealed class ChartSeriesWriter(Utf8XmlWriter xml, ChartDrawing drawing, ChartInk ink)
{
    // Labels that were moved apart need no line to what they name: they stand beside it ([MS-ODRAWXML] §2.24.3.67).
    private static ReadOnlySpan<byte> WithoutLeaders => "<c:extLst><c:ext uri=\"{CE6537A1-D6FC-4f65-9D91-7224C49458BB}\" xmlns:c15=\"http://schemas.microsoft.com/office/drawing/2012/chart\"><c15:showLeaderLines val=\"0\"/></c:ext></c:extLst>"u8;

    // Some readers lose the data of a series if a later one is longer: all are as long as the longest.
    private readonly int rows = drawing.Data.Max(c => c.Cells.Length);

    public void Write(DrawnSeries series, int index)
    {
        using (xml.Element("c:ser"u8))
        {
            Number("c:idx"u8, index);
            Number("c:order"u8, index);
            using (xml.Element("c:tx"u8))
            using (xml.Element("c:strRef"u8))
            {
                xml.TextElement("c:f"u8, $"{WorkbookPart.SheetName}!${WorkbookPart.ColumnName(series.Column)}$1");
                using (xml.Element("c:strCache"u8))
                {
                    Number("c:ptCount"u8, 1);
                    using (Point(0)) xml.TextElement("c:v"u8, drawing.Data[series.Column].Head);
                }
            }
            WriteLook(series);
            WriteOwnColours(series);
            WriteLabels(series);
            // A straight line through equal values is these values: it only goes on to the edges.
            if (series.ReachesEdges)
            {
                using (xml.Element("c:trendline"u8))
                {
                    ink.Stroke(series.Line, series.LinePoints, series.Dash);
                    xml.Raw("<c:trendlineType val=\"linear\"/><c:forward val=\"0.5\"/><c:backward val=\"0.5\"/><c:dispRSqr val=\"0\"/><c:dispEq val=\"0\"/>"u8);
                }
            }
            if (series.Limits is { } limits) WriteLimits(series, limits);
            WriteData(series);
            if (series.Mark == DrawnMark.Line || (series.Mark == DrawnMark.Point && series.Sizes.IsEmpty)) xml.Raw("<c:smooth val=\"0\"/>"u8);
        }
    }

    private void WriteLook(DrawnSeries series)
    {
        var isLine = series.Mark == DrawnMark.Line || (series.Mark == DrawnMark.Point && series.Sizes.IsEmpty);
        if (isLine) ink.Stroke(series.ReachesEdges ? null : series.Line, series.LinePoints, series.Dash, series.HasFlatEnds);
        else ink.Shape(series.Fill, series.Line, series.LinePoints);
        if (isLine) WriteMarker(series, series.Fill);
        if (series.Mark == DrawnMark.Bar || !series.Sizes.IsEmpty) xml.Raw("<c:invertIfNegative val=\"0\"/>"u8);
    }

    private void WriteMarker(DrawnSeries series, DrawnColour? fill)
    {
        using (xml.Element("c:marker"u8))
        {
            using (xml.Element("c:symbol"u8)) xml.Attribute("val"u8, series.Shape switch { MarkShape.Circle => "circle"u8, MarkShape.Square => "square"u8, MarkShape.Diamond => "diamond"u8, MarkShape.Triangle => "triangle"u8, MarkShape.Dash => "dash"u8, _ => "none"u8 });
            if (series.Shape == MarkShape.None) return;
            Number("c:size"u8, series.ShapePoints);
            ink.Shape(fill);
        }
    }

    private void WriteOwnColours(DrawnSeries series)
    {
        foreach (var (index, colour) in series.Own.OrderBy(o => o.Key))
        {
            using (xml.Element("c:dPt"u8))
            {
                Number("c:idx"u8, index);
                if (series.Mark == DrawnMark.Bar) xml.Raw("<c:invertIfNegative val=\"0\"/>"u8);
                if (series.Mark is DrawnMark.Line or DrawnMark.Point) WriteMarker(series, colour);
                xml.Raw("<c:bubble3D val=\"0\"/>"u8);
                if (series.Mark == DrawnMark.Slice) ink.Shape(colour, new DrawnColour(Styles.Colour.White, Styles.ThemeColour.Background), 1);
                else if (series.Mark == DrawnMark.Bar) ink.Shape(colour);
            }
        }
    }

    private void WriteLabels(DrawnSeries series)
    {
        using (xml.Element("c:dLbls"u8))
        {
            foreach (var label in series.Labels)
            {
                using (xml.Element("c:dLbl"u8))
                {
                    Number("c:idx"u8, label.Index);
                    if (label.Words is "")
                    {
                        xml.Raw("<c:delete val=\"1\"/>"u8);
                        continue;
                    }
                    if (label.Down != 0 || label.Aside != 0) ChartPart.WriteLayout(xml, drawing, label.Aside * drawing.Plot.Width, label.Down, isOffset: true);
                    if (label.Words is { } words) ink.RichText(words, drawing.Language.Tag, label.Colour, label.Bold, label.Place switch { LabelPlace.Left => "r"u8, LabelPlace.Right => "l"u8, _ => default });
                    xml.Raw("<c:spPr><a:noFill/><a:ln><a:noFill/></a:ln></c:spPr>"u8);
                    if (label.Words is null && (label.Colour is not null || label.Bold)) ink.Words(label.Colour, label.Bold);
                    WriteShown(series, label.Place, isShown: true);
                }
            }
            using (xml.Element("c:numFmt"u8))
            {
                xml.Attribute("formatCode"u8, series.Code);
                xml.Attribute("sourceLinked"u8, 0);
            }
            xml.Raw("<c:spPr><a:noFill/><a:ln><a:noFill/></a:ln></c:spPr>"u8);
            if (series.ValueColour is { } colour) ink.Words(colour, false);
            WriteShown(series, series.ValuesAt, series.ValuesAt is not null);
            if (series.Labels.Any(l => l.Down != 0 || l.Aside != 0)) xml.Raw(WithoutLeaders);
        }
    }

    private void WriteShown(DrawnSeries series, LabelPlace? place, bool isShown)
    {
        // Areas have one place for their words, and rings too.
        if (place is { } at && series.Mark != DrawnMark.Area && !(series.Mark == DrawnMark.Slice && drawing.Hole > 0))
        {
            using (xml.Element("c:dLblPos"u8))
            {
                xml.Attribute("val"u8, at switch
                {
                    LabelPlace.Left => "l"u8,
                    LabelPlace.Right => "r"u8,
                    LabelPlace.Above => series.Mark == DrawnMark.Bar ? "outEnd"u8 : "t"u8,
                    LabelPlace.Below => "b"u8,
                    LabelPlace.Centre => "ctr"u8,
                    LabelPlace.InsideEnd => "inEnd"u8,
                    _ => "outEnd"u8,
                });
            }
        }
        xml.Raw("<c:showLegendKey val=\"0\"/>"u8);
        xml.Raw(isShown ? "<c:showVal val=\"1\"/>"u8 : "<c:showVal val=\"0\"/>"u8);
        xml.Raw("<c:showCatName val=\"0\"/><c:showSerName val=\"0\"/><c:showPercent val=\"0\"/><c:showBubbleSize val=\"0\"/>"u8);
    }

    private void WriteLimits(DrawnSeries series, DrawnLimits limits)
    {
        using (xml.Element("c:errBars"u8))
        {
            if (series.Mark != DrawnMark.Bar) xml.Raw("<c:errDir val=\"y\"/>"u8);
            xml.Raw("<c:errBarType val=\"both\"/><c:errValType val=\"cust\"/><c:noEndCap val=\"1\"/>"u8);
            WriteNumbers("c:plus"u8, limits.Columns.Plus, limits.Plus, drawing.Data[limits.Columns.Plus].Code);
            WriteNumbers("c:minus"u8, limits.Columns.Minus, limits.Minus, drawing.Data[limits.Columns.Minus].Code);
            ink.Stroke(limits.Colour, limits.Points, isFlat: true);
        }
    }

    private void WriteData(DrawnSeries series)
    {
        if (series.Mark == DrawnMark.Point)
        {
            // Names down the side put what is measured across.
            var places = series.Places;
            var (across, up) = drawing.IsOnSide ? ((series.Column, series.Values, series.Code), (series.PlaceColumn, places, drawing.Data[series.PlaceColumn].Code)) : ((series.PlaceColumn, places, drawing.Data[series.PlaceColumn].Code), (series.Column, series.Values, series.Code));
            WriteNumbers("c:xVal"u8, across.Item1, across.Item2, across.Item3);
            WriteNumbers("c:yVal"u8, up.Item1, up.Item2, up.Item3);
            if (!series.Sizes.IsEmpty)
            {
                WriteNumbers("c:bubbleSize"u8, series.SizeColumn, [.. series.Sizes.Select(s => (double?)s)], Formatting.NumberCode.General);
                xml.Raw("<c:bubble3D val=\"0\"/>"u8);
            }
            return;
        }
        var basis = drawing.Data[0];
        if (basis.Cells.All(c => c is double)) WriteNumbers("c:cat"u8, 0, [.. basis.Cells.Select(c => (double?)c)], basis.Code);
        else WriteTexts(basis);
        WriteNumbers("c:val"u8, series.Column, series.Values, series.Code);
    }

    private void WriteTexts(DataColumn column)
    {
        using (xml.Element("c:cat"u8))
        using (xml.Element("c:strRef"u8))
        {
            xml.TextElement("c:f"u8, Range(0, column.Cells.Length));
            using (xml.Element("c:strCache"u8))
            {
                Number("c:ptCount"u8, column.Cells.Length);
                for (var i = 0; i < column.Cells.Length; i++) using (Point(i)) xml.TextElement("c:v"u8, (string)column.Cells[i]!);
            }
        }
    }

    private void WriteNumbers(ReadOnlySpan<byte> element, int column, ImmutableArray<double?> values, string code)
    {
        using (xml.Element(element))
        using (xml.Element("c:numRef"u8))
        {
            xml.TextElement("c:f"u8, Range(column, rows));
            using (xml.Element("c:numCache"u8))
            {
                xml.TextElement("c:formatCode"u8, code);
                Number("c:ptCount"u8, rows);
                for (var i = 0; i < values.Length; i++)
                {
                    if (values[i] is not { } value) continue;
                    using (Point(i))
                    using (xml.Element("c:v"u8)) WorkbookPart.WriteNumber(xml, value);
                }
            }
        }
    }

    private static string Range(int column, int count) =>
        WorkbookPart.ColumnName(column) is var name ? string.Create(CultureInfo.InvariantCulture, $"{WorkbookPart.SheetName}!${name}$2:${name}${count + 1}") : "";

    private Utf8XmlWriter.Scope Point(int index)
    {
        var scope = xml.Element("c:pt"u8);
        xml.Attribute("idx"u8, index);
        return scope;
    }

    private void Number(ReadOnlySpan<byte> element, long value)
    {
        using (xml.Element(element)) xml.Attribute("val"u8, value);
    }
}
