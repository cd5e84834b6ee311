using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using Fennick.Styles;

namespace Fennick.Drawing;

/// <summary>Writes a drawing as SVG (SVG 2): the same places, ticks, colours and words as the word processor's own chart.</summary>
internal sealed class ChartSvg
{
    // Where the line of a letter stands in its height.
    private const double Ascent = 0.78;
    private const double LineHeight = 1.2;
    private const double LabelSpace = 3;
    private const double BaseSpace = 4.5;
    private const double KeyWidth = 9;

    // Letters at the very edge would be cut.
    private const double Edge = 1.5;

    private static readonly CultureInfo Plain = CultureInfo.InvariantCulture;

    private readonly StringBuilder svg = new();
    private readonly ChartDrawing drawing;

    private ChartSvg(ChartDrawing drawing) => this.drawing = drawing;

    /// <summary>The SVG of a drawing, with its words for readers who cannot see it.</summary>
    public static string Write(ChartDrawing drawing, string description) => new ChartSvg(drawing).Write(description);

    private string Write(string description)
    {
        svg.Append(Plain, $"<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{N(drawing.Width)}pt\" height=\"{N(drawing.Height)}pt\" viewBox=\"{N(-Edge)} 0 {N(drawing.Width + (2 * Edge))} {N(drawing.Height)}\" font-family=\"{Escaped(FontAlternatives.ListOf(drawing.Family))}\" font-size=\"{N(drawing.TextSize)}\">");
        svg.Append(Plain, $"<desc>{Escaped(description)}</desc>");
        if (drawing.Across is not null)
        {
            Grid(drawing.Up!, isAcross: false);
            Grid(drawing.Across, isAcross: true);
        }
        foreach (var series in drawing.Series.OrderBy(s => s.IsOnSecond).ThenBy(s => s.Mark)) Draw(series);
        if (drawing.Across is not null)
        {
            Axis(drawing.Up!, isAcross: false, isSecond: false);
            Axis(drawing.Across, isAcross: true, isSecond: false);
            if (drawing.Second is { } second) Axis(second, isAcross: false, isSecond: true);
        }
        foreach (var series in drawing.Series) Labels(series);
        Legend();
        if (drawing.Subtitle is { } subtitle) Words(subtitle.Words, subtitle.Left, subtitle.Top + (drawing.TextSize * Ascent), "start", null, bold: true);
        svg.Append("</svg>");
        return svg.ToString();
    }

    private Area Plot => drawing.Plot;

    private DrawnAxis BaseAxis => drawing.IsOnSide ? drawing.Up! : drawing.Across!;

    private DrawnAxis ValueAxis => drawing.IsOnSide ? drawing.Across! : drawing.Up!;

    private bool IsOfPoints => drawing.Series.All(s => s.Mark == DrawnMark.Point);

    /// <summary>How many names there are.</summary>
    private int Count => drawing.Data[0].Cells.Length;

    private double AlongX(DrawnAxis axis, double value) => Plot.Left + (axis.Share(value) * Plot.Width);

    private double AlongY(DrawnAxis axis, double value) => Plot.Bottom - (axis.Share(value) * Plot.Height);

    /// <summary>The point of a value of a series.</summary>
    private (double X, double Y) At(DrawnSeries series, int index, double value)
    {
        var values = series.IsOnSecond ? drawing.Second! : ValueAxis;
        if (series.Mark == DrawnMark.Point)
        {
            var place = series.Places[index]!.Value;
            return drawing.IsOnSide ? (AlongX(ValueAxis, value), AlongY(BaseAxis, place)) : (AlongX(BaseAxis, place), AlongY(values, value));
        }
        var share = ShareOf(index);
        return drawing.IsOnSide ? (AlongX(values, value), Plot.Top + (share * Plot.Height)) : (Plot.Left + (share * Plot.Width), AlongY(values, value));
    }

    /// <summary>How far along the base a name or date stands, from 0 to 1.</summary>
    private double ShareOf(int index) =>
        BaseAxis.Kind == AxisKind.Dates ? BaseAxis.Share((double)drawing.Data[0].Cells[index]!) : BaseAxis.IsMidway ? Count == 1 ? 0.5 : index / (double)(Count - 1) : (index + 0.5) / Count;

    private void Grid(DrawnAxis axis, bool isAcross)
    {
        if (!axis.HasLines) return;
        foreach (var (at, _) in axis.Ticks)
        {
            var place = isAcross ? AlongX(axis, at) : AlongY(axis, at);
            Line(isAcross ? [(place, Plot.Top), (place, Plot.Bottom)] : [(Plot.Left, place), (Plot.Right, place)], drawing.Faint, 0.5, 0, isFlat: true);
        }
    }

    private void Axis(DrawnAxis axis, bool isAcross, bool isSecond)
    {
        var isBase = ReferenceEquals(axis, BaseAxis) && !isSecond;
        if (axis.HasLine)
        {
            var zero = isBase ? ValueAxis.LogBase is null ? Math.Clamp(0, ValueAxis.Minimum, ValueAxis.Maximum) : ValueAxis.Minimum : 0;
            var at = isAcross ? AlongY(drawing.Up!, zero) : AlongX(drawing.Across!, zero);
            Line(isAcross ? [(Plot.Left, at), (Plot.Right, at)] : [(at, Plot.Top), (at, Plot.Bottom)], drawing.Muted, 0.75, 0, isFlat: true);
        }
        if (axis.Title is { } title) Words(title.Words, title.Left, title.Top + (drawing.TextSize * Ascent), "start", null);
        if (!axis.HasLabels) return;
        foreach (var (at, words) in axis.Ticks)
        {
            var share = axis.Kind == AxisKind.Names ? ShareOf((int)Math.Round(at) - 1) : axis.Share(at);
            if (isAcross) Lines(words, Plot.Left + (share * Plot.Width), Plot.Bottom + BaseSpace, "middle");
            else if (axis.Kind == AxisKind.Names) Lines(words, Plot.Left - (2 * LabelSpace), Plot.Top + (share * Plot.Height) - (words.Split('\n').Length * LineHeight * drawing.TextSize / 2), "end");
            else Words(words, isSecond ? Plot.Right + LabelSpace : Plot.Left - LabelSpace, Plot.Bottom - (share * Plot.Height) + (drawing.TextSize * 0.34), isSecond ? "start" : "end", null);
        }
    }

    private void Draw(DrawnSeries series)
    {
        switch (series.Mark)
        {
            case DrawnMark.Area: DrawArea(series); break;
            case DrawnMark.Bar: DrawBars(series); break;
            case DrawnMark.Slice: DrawSlices(series); break;
            default: DrawLine(series); break;
        }
    }

    private IEnumerable<DrawnSeries> Alike(DrawnMark mark) => drawing.Series.Where(s => s.Mark == mark && !s.IsOnSecond);

    /// <summary>From where to where a stacked value reaches, in the axis' numbers.</summary>
    private (double From, double To) Stack(DrawnSeries series, int index)
    {
        var value = series.Values[index] ?? 0;
        if (!series.IsStacked) return (0, value);
        var before = Alike(series.Mark).TakeWhile(s => !ReferenceEquals(s, series)).Where(s => s.IsStacked).Select(s => s.Values[index] ?? 0);
        var from = series.Mark == DrawnMark.Bar ? before.Where(v => v < 0 == value < 0).Sum() : before.Sum();
        var whole = series.IsShare ? Alike(series.Mark).Sum(s => Math.Abs(s.Values[index] ?? 0)) : 1;
        return whole == 0 ? (0, 0) : (from / whole, (from + value) / whole);
    }

    private void DrawArea(DrawnSeries series)
    {
        if (series.Fill is not { } fill) return;
        foreach (var run in Runs(series))
        {
            var upper = run.Select(i => At(series, i, Clipped(Stack(series, i).To)));
            var lower = run.Reverse().Select(i => At(series, i, Clipped(Stack(series, i).From)));
            Path([.. upper, .. lower], fill);
        }
    }

    private double Clipped(double value) => Math.Clamp(value, ValueAxis.Minimum, ValueAxis.Maximum);

    /// <summary>Where the bars of a series begin, from the middle of a place, and how broad they are.</summary>
    private (double Start, double Breadth) BarOf(DrawnSeries series)
    {
        DrawnSeries[] beside = series.IsStacked ? [series] : [.. Alike(DrawnMark.Bar)];
        var overlap = series.IsStacked ? 0 : drawing.Overlap / 100.0;
        var all = beside.Length - ((beside.Length - 1) * overlap);
        var breadth = (drawing.IsOnSide ? Plot.Height : Plot.Width) / Count / (all + (drawing.Gap / 100.0));
        return ((-breadth * all / 2) + (Array.IndexOf(beside, series) * breadth * (1 - overlap)), breadth);
    }

    private void DrawBars(DrawnSeries series)
    {
        var (start, breadth) = BarOf(series);
        for (var i = 0; i < series.Values.Length; i++)
        {
            if (series.Values[i] is null) continue;
            var (from, to) = Stack(series, i);
            var (x1, y1) = At(series, i, Clipped(from));
            var (x2, y2) = At(series, i, Clipped(to));
            var fill = series.Own.GetValueOrDefault(i, series.Fill ?? drawing.Muted);
            if (drawing.IsOnSide) Rectangle(Math.Min(x1, x2), y1 + start, Math.Abs(x2 - x1), breadth, fill);
            else Rectangle(x1 + start, Math.Min(y1, y2), breadth, Math.Abs(y2 - y1), fill);
            if (series.Limits is { } limits) Limit(series, limits, i, start + (breadth / 2));
        }
    }

    private void Limit(DrawnSeries series, DrawnLimits limits, int index, double aside)
    {
        var value = series.Values[index]!.Value;
        var (x1, y1) = At(series, index, value - (limits.Minus[index] ?? 0));
        var (x2, y2) = At(series, index, value + (limits.Plus[index] ?? 0));
        Line(drawing.IsOnSide ? [(x1, y1 + aside), (x2, y2 + aside)] : [(x1 + aside, y1), (x2 + aside, y2)], limits.Colour, limits.Points, 0, isFlat: true);
    }

    private void DrawLine(DrawnSeries series)
    {
        if (series.IsOutline)
        {
            Path([.. series.Values.Select((v, i) => At(series, i, v!.Value))], series.Fill!.Value);
            return;
        }
        if (series.FilledFrom is { } other) FillBetween(series, drawing.Series[other]);
        if (series.Limits is { } limits) for (var i = 0; i < series.Values.Length; i++) if (series.Values[i] is not null) Limit(series, limits, i, 0);
        if (series.Line is { } line)
        {
            foreach (var run in Runs(series))
            {
                (double X, double Y)[] points = [.. run.Select(i => At(series, i, series.Values[i]!.Value))];
                if (series.ReachesEdges && points.Length > 0) points = [(Plot.Left, points[0].Y), .. points, (Plot.Right, points[^1].Y)];
                if (points.Length > 1) Line(points, line, series.LinePoints, series.Dash, series.HasFlatEnds);
            }
        }
        if (series.Shape == MarkShape.None) return;
        for (var i = 0; i < series.Values.Length; i++)
        {
            if (series.Values[i] is not { } value) continue;
            var (x, y) = At(series, i, value);
            var size = series.Sizes.IsEmpty ? series.ShapePoints : Math.Sqrt(series.Sizes[i]) * Math.Min(Plot.Width, Plot.Height) * 0.15;
            Mark(series.Shape, x, y, size / 2, series.Own.GetValueOrDefault(i, series.Fill ?? drawing.Muted));
        }
    }

    private void FillBetween(DrawnSeries upper, DrawnSeries lower) => Path(
        [
            .. Runs(lower).SelectMany(r => r).Select(i => At(lower, i, lower.Values[i]!.Value)),
            .. Runs(upper).SelectMany(r => r).Reverse().Select(i => At(upper, i, upper.Values[i]!.Value)),
        ],
        (upper.Line ?? drawing.Muted) with { Opacity = 0.16 });

    /// <summary>The values without gaps between them.</summary>
    private static IEnumerable<int[]> Runs(DrawnSeries series)
    {
        var run = new List<int>();
        for (var i = 0; i <= series.Values.Length; i++)
        {
            if (i < series.Values.Length && series.Values[i] is not null)
            {
                run.Add(i);
            }
            else if (run.Count > 0)
            {
                yield return [.. run];
                run.Clear();
            }
        }
    }

    private void DrawSlices(DrawnSeries series)
    {
        var total = series.Values.Sum(v => v ?? 0);
        var (x, y, radius) = (Plot.Left + (Plot.Width / 2), Plot.Top + (Plot.Height / 2), Plot.Width / 2);
        var done = 0.0;
        for (var i = 0; i < series.Values.Length; i++)
        {
            if (series.Values[i] is not { } value || value == 0) continue;
            var (from, to) = (done / total * 2 * Math.PI, (done + value) / total * 2 * Math.PI);
            done += value;
            var inner = radius * drawing.Hole;
            var isLarge = to - from > Math.PI ? 1 : 0;
            string Point(double r, double angle) => $"{N(x + (r * Math.Sin(angle)))} {N(y - (r * Math.Cos(angle)))}";
            // A whole is two halves: an arc that ends where it begins is none.
            var outer = to - from > (2 * Math.PI) - 1e-9 ? $"A{N(radius)} {N(radius)} 0 1 1 {Point(radius, from + Math.PI)} A{N(radius)} {N(radius)} 0 1 1 {Point(radius, to)}" : $"A{N(radius)} {N(radius)} 0 {isLarge} 1 {Point(radius, to)}";
            var path = inner == 0 ? $"M{N(x)} {N(y)} L{Point(radius, from)} {outer} Z" : $"M{Point(inner, from)} L{Point(radius, from)} {outer} L{Point(inner, to)} A{N(inner)} {N(inner)} 0 {isLarge} 0 {Point(inner, from)} Z";
            svg.Append(Plain, $"<path d=\"{path}\" {Fill(series.Own[i])} stroke=\"#FFFFFF\" stroke-width=\"1\"/>");
            if (series.Labels.FirstOrDefault(l => l.Index == i) is not { Words: { } words } label) continue;
            var (middle, far) = ((from + to) / 2, inner == 0 ? radius + (drawing.TextSize * 0.8) : (radius + inner) / 2);
            var lines = words.Split('\n').Length;
            var (wx, wy) = (x + (far * Math.Sin(middle)), y - (far * Math.Cos(middle)));
            Lines(words, wx, wy - (lines * LineHeight * drawing.TextSize / 2 * (inner > 0 ? 1 : 1 + Math.Cos(middle))), inner > 0 || Math.Abs(Math.Sin(middle)) < 0.3 ? "middle" : Math.Sin(middle) > 0 ? "start" : "end", label.Colour);
        }
    }

    private void Labels(DrawnSeries series)
    {
        if (series.Mark == DrawnMark.Slice) return;
        var own = series.Labels.ToDictionary(l => l.Index);
        for (var i = 0; i < series.Values.Length; i++)
        {
            if (series.Values[i] is not { } value) continue;
            var label = own.GetValueOrDefault(i) ?? (series.ValuesAt is { } usual ? new DrawnLabel(i, null, usual) { Colour = series.ValueColour } : null);
            if (label is null || label.Words is "") continue;
            var words = label.Words ?? drawing.Text(series, value);
            var (x, y) = LabelAt(series, i, value, label.Place);
            Place(words, x + (label.Aside * Plot.Width), y + label.Down, label, series.Shape == MarkShape.None ? LabelSpace : (series.ShapePoints / 2.0) + LabelSpace, value < 0 && series.Mark == DrawnMark.Bar);
        }
    }

    /// <summary>The point that the words of a value stand beside.</summary>
    private (double X, double Y) LabelAt(DrawnSeries series, int index, double value, LabelPlace place)
    {
        if (series.Mark != DrawnMark.Bar) return At(series, index, value);
        var (from, to) = Stack(series, index);
        var (x, y) = At(series, index, place == LabelPlace.Centre ? (from + to) / 2 : to);
        var (start, breadth) = BarOf(series);
        var aside = start + (breadth / 2);
        return drawing.IsOnSide ? (x, y + aside) : (x + aside, y);
    }

    private void Place(string words, double x, double y, DrawnLabel label, double space, bool isNegativeBar)
    {
        var height = words.Split('\n').Length * LineHeight * drawing.TextSize;
        var place = label.Place == LabelPlace.OutsideEnd ? drawing.IsOnSide ? isNegativeBar ? LabelPlace.Left : LabelPlace.Right : isNegativeBar ? LabelPlace.Below : LabelPlace.Above : label.Place;
        if (place == LabelPlace.InsideEnd) place = drawing.IsOnSide ? isNegativeBar ? LabelPlace.Right : LabelPlace.Left : isNegativeBar ? LabelPlace.Above : LabelPlace.Below;
        var (left, top, anchor) = place switch
        {
            LabelPlace.Right => (x + space, y - (height / 2), "start"),
            LabelPlace.Left => (x - space, y - (height / 2), "end"),
            LabelPlace.Above => (x, y - height - (space * 0.6), "middle"),
            LabelPlace.Below => (x, y + (space * 0.6), "middle"),
            _ => (x, y - (height / 2), "middle"),
        };
        Lines(words, left, top, anchor, label.Colour, label.Bold);
    }

    private void Legend()
    {
        if (drawing.Series is [{ Mark: DrawnMark.Slice } slices])
        {
            for (var i = 0; i < drawing.Legend.Length; i++) Entry(drawing.Legend[i], top => Rectangle(drawing.Legend[i].Left, top - (KeyWidth / 2), KeyWidth, KeyWidth, slices.Own[i]));
            return;
        }
        foreach (var entry in drawing.Legend)
        {
            if (drawing.Series.FirstOrDefault(s => s.IsInLegend && s.Name == entry.Words) is not { } series) continue;
            Entry(entry, middle =>
            {
                if (series.Mark is DrawnMark.Bar or DrawnMark.Area && series.Fill is { } fill) Rectangle(entry.Left, middle - (KeyWidth / 2), KeyWidth, KeyWidth, fill);
                if (series.Line is { } line) Line([(entry.Left, middle), (entry.Left + KeyWidth + 1, middle)], line, Math.Min(series.LinePoints, 4), series.Dash, isFlat: true);
                if (series.Shape != MarkShape.None && series.Fill is { } mark) Mark(series.Shape, entry.Left + (KeyWidth / 2), middle, Math.Min(series.ShapePoints, KeyWidth) / 2.0, mark);
            });
        }
    }

    private void Entry(DrawnText entry, Action<double> key)
    {
        key(entry.Top + (drawing.TextSize * 0.55));
        Words(entry.Words, entry.Left + KeyWidth + 5, entry.Top + (drawing.TextSize * 0.9), "start", null);
    }

    private void Mark(MarkShape shape, double x, double y, double half, DrawnColour fill)
    {
        switch (shape)
        {
            case MarkShape.Circle: svg.Append(Plain, $"<circle cx=\"{N(x)}\" cy=\"{N(y)}\" r=\"{N(half)}\" {Fill(fill)}/>"); break;
            case MarkShape.Square: Rectangle(x - half, y - half, 2 * half, 2 * half, fill); break;
            case MarkShape.Diamond: Path([(x, y - (half * 1.2)), (x + (half * 1.2), y), (x, y + (half * 1.2)), (x - (half * 1.2), y)], fill); break;
            case MarkShape.Triangle: Path([(x, y - (half * 1.1)), (x + (half * 1.1), y + half), (x - (half * 1.1), y + half)], fill); break;
            default: Rectangle(x - half, y - 1, 2 * half, 2, fill); break;
        }
    }

    private void Rectangle(double x, double y, double width, double height, DrawnColour fill) => svg.Append(Plain, $"<rect x=\"{N(x)}\" y=\"{N(y)}\" width=\"{N(width)}\" height=\"{N(height)}\" {Fill(fill)}/>");

    private void Path(IEnumerable<(double X, double Y)> points, DrawnColour fill) => svg.Append(Plain, $"<polygon points=\"{Points(points)}\" {Fill(fill)}/>");

    private void Line(IEnumerable<(double X, double Y)> points, DrawnColour colour, double width, int dash, bool isFlat)
    {
        var dashes = dash switch { 1 => $" stroke-dasharray=\"{N(width * 4)} {N(width * 3)}\"", 2 => $" stroke-dasharray=\"{N(width)} {N(width)}\"", 3 => $" stroke-dasharray=\"{N(width * 8)} {N(width * 3)} {N(width)} {N(width * 3)}\"", _ => "" };
        var opacity = colour.Opacity < 1 ? $" stroke-opacity=\"{N(colour.Opacity)}\"" : "";
        svg.Append(Plain, $"<polyline points=\"{Points(points)}\" fill=\"none\" stroke=\"#{colour.Rgb}\" stroke-width=\"{N(width)}\" stroke-linejoin=\"round\" stroke-linecap=\"{(isFlat ? "butt" : "round")}\"{opacity}{dashes}/>");
    }

    private void Lines(string words, double x, double top, string anchor, DrawnColour? colour = null, bool bold = false)
    {
        foreach (var (line, i) in words.Split('\n').Select((l, i) => (l, i))) Words(line, x, top + (drawing.TextSize * ((i * LineHeight) + Ascent + 0.12)), anchor, colour, bold);
    }

    private void Words(string words, double x, double y, string anchor, DrawnColour? colour, bool bold = false)
    {
        if (words.Length == 0) return;
        svg.Append(Plain, $"<text x=\"{N(x)}\" y=\"{N(y)}\"{(anchor == "start" ? "" : $" text-anchor=\"{anchor}\"")}{(bold ? " font-weight=\"bold\"" : "")} fill=\"#{(colour ?? drawing.Ink).Rgb}\">{Escaped(words)}</text>");
    }

    private static string Fill(DrawnColour colour) => colour.Opacity < 1 ? $"fill=\"#{colour.Rgb}\" fill-opacity=\"{N(colour.Opacity)}\"" : $"fill=\"#{colour.Rgb}\"";

    private static string Points(IEnumerable<(double X, double Y)> points) => string.Join(' ', points.Select(p => $"{N(p.X)},{N(p.Y)}"));

    private static string N(double number) => Math.Round(number, 2).ToString(Plain);

    private static string Escaped(string text)
    {
        var escaped = new StringBuilder(text.Length);
        foreach (var c in text.Where(c => c is '\t' or '\n' or >= ' ' and not ('\uFFFE' or '\uFFFF'))) escaped.Append(c switch { '&' => "&amp;", '<' => "&lt;", '>' => "&gt;", '"' => "&quot;", _ => c.ToString() });
        return escaped.ToString();
    }
}
