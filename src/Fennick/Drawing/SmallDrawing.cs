using System.Collections.Immutable;
using Fennick.Charts;

namespace Fennick.Drawing;

/// <summary>A small chart with every part of it in its place, in points from its upper left corner.</summary>
/// <param name="Width">Its width.</param>
/// <param name="Height">Its height.</param>
internal sealed record SmallDrawing(double Width, double Height)
{
    private const double DotRadius = 1.6;
    private const double LeastBar = 0.5;

    // How much of its place a column takes, and the widest one.
    private const double ColumnShare = 0.72;
    private const double WidestColumn = 9;

    /// <summary>Lines without gaps.</summary>
    public ImmutableArray<ImmutableArray<(double X, double Y)>> Lines { get; private init; } = [];

    /// <summary>Filled boxes.</summary>
    public ImmutableArray<(double Left, double Top, double Width, double Height)> Boxes { get; private init; } = [];

    /// <summary>Filled dots.</summary>
    public ImmutableArray<(double X, double Y, double Radius)> Dots { get; private init; } = [];

    /// <summary>Draws a chart that has values.</summary>
    public static SmallDrawing Of(SmallChart chart)
    {
        var drawing = new SmallDrawing(chart.Width.Points, chart.Height.Points);
        return chart.Mark switch
        {
            SmallMark.Line => drawing.Line(chart),
            SmallMark.Columns => drawing.Columns(chart),
            _ => drawing.Bar(chart),
        };
    }

    private SmallDrawing Line(SmallChart chart)
    {
        var radius = Math.Min(DotRadius, Height / 2);
        var step = chart.Values.Length > 1 ? (Width - (2 * radius)) / (chart.Values.Length - 1) : 0;
        (double X, double Y) Place(int i) => (chart.Values.Length > 1 ? radius + (i * step) : Width / 2, Height - radius - (chart.Share(chart.Values[i]!.Value) * (Height - (2 * radius))));
        var lines = new List<ImmutableArray<(double, double)>>();
        var dots = new List<(double X, double Y, double Radius)>();
        for (var i = 0; i < chart.Values.Length; i++)
        {
            if (chart.Values[i] is null) continue;
            var end = i;
            while (end + 1 < chart.Values.Length && chart.Values[end + 1] is not null) end++;
            if (end > i) lines.Add([.. Enumerable.Range(i, end - i + 1).Select(Place)]);
            // A value between two gaps would not be seen.
            else if (chart.Values.Skip(i + 1).Any(v => v is not null)) dots.Add((Place(i).X, Place(i).Y, radius / 2));
            i = end;
        }
        var last = chart.Values.Length - 1;
        while (chart.Values[last] is null) last--;
        return this with { Lines = [.. lines], Dots = [.. dots, (Place(last).X, Place(last).Y, radius)] };
    }

    private SmallDrawing Columns(SmallChart chart)
    {
        var place = Width / chart.Values.Length;
        var width = Math.Min(place * ColumnShare, WidestColumn);
        var zero = Height * (1 - chart.Share(0));
        return this with
        {
            Boxes =
            [
                .. chart.Values.Index().Where(v => v.Item is not null).Select(v =>
                {
                    var end = Height * (1 - chart.Share(v.Item!.Value));
                    return ((v.Index * place) + ((place - width) / 2), Math.Min(end, zero - (v.Item > 0 ? LeastBar : 0)), width, Math.Max(LeastBar, Math.Abs(zero - end)));
                }),
            ],
        };
    }

    private SmallDrawing Bar(SmallChart chart)
    {
        var (zero, end) = (Width * chart.Share(0), Width * chart.Share(chart.Values[0]!.Value));
        return this with { Boxes = [(Math.Min(zero, end), Height * 0.15, Math.Max(LeastBar, Math.Abs(end - zero)), Height * 0.7)] };
    }
}
