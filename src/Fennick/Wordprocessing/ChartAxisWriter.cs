using System.Globalization;
using Fennick.Drawing;

namespace Fennick.Wordprocessing;

/// <summary>Writes the axes of a chart with their limits, ticks and words.</summary>
internal sealed class ChartAxisWriter(Utf8XmlWriter xml, ChartDrawing drawing, ChartInk ink)
{
    private const int Base = 111_111_111;
    private const int Value = 222_222_222;
    private const int OtherBase = 333_333_333;
    private const int OtherValue = 444_444_444;
    private const double MostOfAxisTitle = 0.18;

    private DrawnAxis BaseAxis => drawing.IsOnSide ? drawing.Up! : drawing.Across!;

    private DrawnAxis ValueAxis => drawing.IsOnSide ? drawing.Across! : drawing.Up!;

    /// <summary>What is measured, where it has no room as the title of its axis.</summary>
    public DrawnText? TitleAbove => drawing.Across is not null && ValueAxis.Title is { } title && title.Width > drawing.Width * MostOfAxisTitle ? title : null;

    private bool IsOfPoints => drawing.Series.All(s => s.Mark == DrawnMark.Point);

    /// <summary>Writes which axes a group of series is drawn on.</summary>
    public void WriteIds(bool isOther)
    {
        // Points have what is across first.
        var (first, second) = isOther ? (OtherBase, OtherValue) : IsOfPoints && drawing.IsOnSide ? (Value, Base) : (Base, Value);
        Number("c:axId"u8, first);
        Number("c:axId"u8, second);
    }

    /// <summary>Writes all axes.</summary>
    public void Write()
    {
        if (drawing.Across is null) return;
        if (IsOfPoints && drawing.IsOnSide)
        {
            WriteValueAxis(ValueAxis, Value, Base, "b"u8, BaseAxis.Crossing, isMidway: true);
            WriteValueAxis(BaseAxis, Base, Value, "l"u8, ValueAxis.Crossing, isMidway: true);
        }
        else if (IsOfPoints)
        {
            WriteValueAxis(BaseAxis, Base, Value, "b"u8, ValueAxis.Crossing, isMidway: true);
            WriteValueAxis(ValueAxis, Value, Base, "l"u8, BaseAxis.Crossing, isMidway: true);
        }
        else
        {
            WriteBaseAxis(BaseAxis, Base, Value, isHidden: false);
            WriteValueAxis(ValueAxis, Value, Base, drawing.IsOnSide ? "b"u8 : "l"u8, null, BaseAxis.IsMidway, crossesAtEnd: drawing.IsOnSide);
        }
        if (drawing.Series.Any(s => s.IsOnSecond))
        {
            WriteBaseAxis(BaseAxis with { Title = null }, OtherBase, OtherValue, isHidden: true);
            WriteValueAxis(drawing.Second!, OtherValue, OtherBase, drawing.IsOnSide ? "t"u8 : "r"u8, null, BaseAxis.IsMidway, crossesAtEnd: true);
        }
    }

    private void WriteBaseAxis(DrawnAxis axis, int id, int cross, bool isHidden)
    {
        using (xml.Element(axis.Kind == AxisKind.Dates ? "c:dateAx"u8 : "c:catAx"u8))
        {
            Number("c:axId"u8, id);
            using (xml.Element("c:scaling"u8))
            {
                xml.Raw(drawing.IsOnSide ? "<c:orientation val=\"maxMin\"/>"u8 : "<c:orientation val=\"minMax\"/>"u8);
                if (axis.Kind == AxisKind.Dates) WriteLimits(axis);
            }
            xml.Raw(isHidden ? "<c:delete val=\"1\"/>"u8 : "<c:delete val=\"0\"/>"u8);
            xml.Raw(drawing.IsOnSide ? "<c:axPos val=\"l\"/>"u8 : "<c:axPos val=\"b\"/>"u8);
            WriteTitle(axis);
            WriteFormat(axis);
            xml.Raw("<c:majorTickMark val=\"none\"/><c:minorTickMark val=\"none\"/>"u8);
            xml.Raw(axis.HasLabels ? "<c:tickLblPos val=\"low\"/>"u8 : "<c:tickLblPos val=\"none\"/>"u8);
            ink.Stroke(axis.HasLine ? drawing.Muted : null, 0.75);
            xml.Raw("<c:txPr><a:bodyPr rot=\"0\" vert=\"horz\"/><a:lstStyle/><a:p><a:pPr><a:defRPr/></a:pPr><a:endParaRPr/></a:p></c:txPr>"u8);
            Number("c:crossAx"u8, cross);
            if (ValueAxis.LogBase is null) xml.Raw("<c:crosses val=\"autoZero\"/>"u8);
            else Decimal("c:crossesAt"u8, ValueAxis.Minimum);
            if (axis.Kind == AxisKind.Dates)
            {
                xml.Raw("<c:auto val=\"0\"/><c:lblOffset val=\"100\"/>"u8);
                using (xml.Element("c:baseTimeUnit"u8)) xml.Attribute("val"u8, NameOf(axis.BaseUnit));
                Number("c:majorUnit"u8, axis.Each.Count);
                using (xml.Element("c:majorTimeUnit"u8)) xml.Attribute("val"u8, NameOf(axis.Each.Unit));
                return;
            }
            xml.Raw("<c:auto val=\"0\"/><c:lblAlgn val=\"ctr\"/><c:lblOffset val=\"50\"/>"u8);
            Number("c:tickLblSkip"u8, 1);
            xml.Raw("<c:noMultiLvlLbl val=\"1\"/>"u8);
        }
    }

    private static ReadOnlySpan<byte> NameOf(DateUnit unit) => unit switch { DateUnit.Days => "days"u8, DateUnit.Months => "months"u8, _ => "years"u8 };

    private void WriteValueAxis(DrawnAxis axis, int id, int cross, ReadOnlySpan<byte> side, double? crossing, bool isMidway, bool crossesAtEnd = false)
    {
        using (xml.Element("c:valAx"u8))
        {
            Number("c:axId"u8, id);
            using (xml.Element("c:scaling"u8))
            {
                if (axis.LogBase is not null) Number("c:logBase"u8, 10);
                xml.Raw("<c:orientation val=\"minMax\"/>"u8);
                WriteLimits(axis);
            }
            xml.Raw(axis.HasLabels || axis.HasLines || axis.HasLine || axis.Title is not null ? "<c:delete val=\"0\"/>"u8 : "<c:delete val=\"1\"/>"u8);
            using (xml.Element("c:axPos"u8)) xml.Attribute("val"u8, side);
            if (axis.HasLines)
            {
                using (xml.Element("c:majorGridlines"u8)) ink.Stroke(drawing.Faint, 0.5);
            }
            WriteTitle(axis);
            WriteFormat(axis);
            xml.Raw("<c:majorTickMark val=\"none\"/><c:minorTickMark val=\"none\"/>"u8);
            xml.Raw(!axis.HasLabels ? "<c:tickLblPos val=\"none\"/>"u8 : crossesAtEnd ? "<c:tickLblPos val=\"nextTo\"/>"u8 : "<c:tickLblPos val=\"low\"/>"u8);
            ink.Stroke(axis.HasLine ? drawing.Muted : null, 0.75);
            Number("c:crossAx"u8, cross);
            if (crossing is { } at) Decimal("c:crossesAt"u8, at);
            else xml.Raw(crossesAtEnd ? "<c:crosses val=\"max\"/>"u8 : "<c:crosses val=\"autoZero\"/>"u8);
            xml.Raw(isMidway ? "<c:crossBetween val=\"midCat\"/>"u8 : "<c:crossBetween val=\"between\"/>"u8);
            if (axis.LogBase is null && axis.Kind != AxisKind.Names) Decimal("c:majorUnit"u8, axis.Kind == AxisKind.Dates ? axis.Each.Count * (axis.Each.Unit switch { DateUnit.Years => 365.25, DateUnit.Months => 30.4375, _ => 1.0 }) : axis.Step);
        }
    }

    private void WriteLimits(DrawnAxis axis)
    {
        Decimal("c:max"u8, axis.Maximum);
        Decimal("c:min"u8, axis.Minimum);
    }

    private void WriteTitle(DrawnAxis axis)
    {
        if (axis.Title is not { } title || ReferenceEquals(title, TitleAbove)) return;
        using (xml.Element("c:title"u8))
        {
            ink.RichText(title.Words, drawing.Language.Tag, alignment: "l"u8);
            ChartPart.WriteLayout(xml, drawing, title.Left, title.Top);
            xml.Raw("<c:overlay val=\"0\"/>"u8);
        }
    }

    private void WriteFormat(DrawnAxis axis)
    {
        using (xml.Element("c:numFmt"u8))
        {
            xml.Attribute("formatCode"u8, axis.Code);
            xml.Attribute("sourceLinked"u8, 0);
        }
    }

    private void Number(ReadOnlySpan<byte> element, long value)
    {
        using (xml.Element(element)) xml.Attribute("val"u8, value);
    }

    private void Decimal(ReadOnlySpan<byte> element, double value)
    {
        using (xml.Element(element)) xml.Attribute("val"u8, value.ToString("G12", CultureInfo.InvariantCulture));
    }
}
