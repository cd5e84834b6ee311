using System.Collections.Immutable;

namespace Fennick.Charts;

/// <summary>Charts of two values of each unit.</summary>
internal static class Pairs
{
    public static Chart Slopes<T>(IEnumerable<T> records, Func<T, object?> name, Func<T, double?> before, Func<T, double?> after, object beforeName, object afterName)
    {
        var rows = records.ToArray();
        var chart = Chart.Lines(rows.SelectMany(r => new[] { (Row: r, IsAfter: false), (Row: r, IsAfter: true) }), r => r.IsAfter ? afterName : beforeName, r => r.IsAfter ? after(r.Row) : before(r.Row), r => name(r.Row));
        return chart with { Layers = [.. chart.Layers.Select(l => l with { HasPoints = true })], Labels = SeriesLabels.AtEnds, LiesOnSide = false };
    }

    public static Chart Ranges<T>(IEnumerable<T> records, Func<T, object?> name, Func<T, double?> from, Func<T, double?> to, object fromName, object toName)
    {
        var rows = records.ToArray();
        var ends = ChartRows.Read(rows.SelectMany(r => new[] { (Row: r, IsEnd: false), (Row: r, IsEnd: true) }), r => name(r.Row), r => r.IsEnd ? to(r.Row) : from(r.Row), r => r.IsEnd ? toName : fromName);
        var lines = ends.Series[0].Points.Zip(ends.Series[^1].Points, (a, b) => a.Value is { } x && b.Value is { } y ? new ChartPoint(a.At, x, Math.Min(x, y), Math.Max(x, y)) : new ChartPoint(a.At, null)).ToImmutableArray();
        return new Chart
        {
            Layers = [new ChartLayer(ChartMark.Intervals, [new ChartSeries(null, lines)]) { IsPartOfAnother = true, IsFaint = true }, new ChartLayer(ChartMark.Points, ends.Series)],
            LiesOnSide = true,
            Remarks = ends.Remarks,
        };
    }
}
