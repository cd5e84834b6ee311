using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Formatting;

namespace Fennick.Charts;

/// <summary>What a chart takes from records: series of points, and what had to be left out.</summary>
internal sealed record ChartRows(ImmutableArray<ChartSeries> Series, ImmutableArray<Diagnostic> Remarks)
{
    /// <summary>Reads records into series in the order in which their names appear.</summary>
    public static ChartRows Read<T>(
        IEnumerable<T> records, Func<T, object?> at, Func<T, double?> value, Func<T, object?>? series = null, Func<T, double?>? lower = null, Func<T, double?>? upper = null,
        Func<T, double?>? size = null, bool isAlongBase = false, bool allowsDoubles = false)
    {
        ArgumentNullException.ThrowIfNull(records);
        ArgumentNullException.ThrowIfNull(at);
        ArgumentNullException.ThrowIfNull(value);
        var infinite = 0;
        var unplaced = 0;
        var groups = new List<(object? Name, List<ChartPoint> Points)>();
        var byName = new Dictionary<object, List<ChartPoint>>();
        foreach (var record in records)
        {
            var name = series?.Invoke(record);
            if (!byName.TryGetValue(name ?? "", out var points))
            {
                byName[name ?? ""] = points = [];
                groups.Add((name, points));
            }
            var place = at(record);
            if (isAlongBase && place is null or double.NaN or float.NaN) unplaced++;
            else points.Add(new ChartPoint(place, Finite(value(record)), Finite(lower?.Invoke(record)), Finite(upper?.Invoke(record)), Finite(size?.Invoke(record))));
        }
        if (groups.Count == 0) throw Chart.Refused("the chart has no data", "check the records it is made from");
        var isSorted = isAlongBase && groups.SelectMany(g => g.Points).All(p => BaseValue.IsNumber(p.At));
        var made = groups.Select(g => new ChartSeries(g.Name, isSorted ? [.. g.Points.OrderBy(p => BaseValue.Number(p.At))] : [.. g.Points])).ToImmutableArray();
        if (!allowsDoubles && (series is not null || isAlongBase)) RefuseDoubles(made);
        var remarks = ImmutableArray.CreateBuilder<Diagnostic>();
        if (infinite > 0) remarks.Add(Diagnostic.Warning(null, $"{Counted(infinite, "infinite value is", "infinite values are")} left out of a chart", "leave such records out, or give them another value"));
        if (unplaced > 0) remarks.Add(Diagnostic.Warning(null, $"{Counted(unplaced, "record without a place along the base is", "records without a place along the base are")} left out of a chart", "leave such records out, or say where they belong"));
        return new ChartRows(made, remarks.ToImmutable());

        double? Finite(double? number)
        {
            if (number is { } finite && double.IsFinite(finite)) return finite;
            if (number is { } other && double.IsInfinity(other)) infinite++;
            return null;
        }
    }

    private static string Counted(int count, string one, string many) => $"{count} {(count == 1 ? one : many)}";

    private static void RefuseDoubles(ImmutableArray<ChartSeries> series)
    {
        foreach (var one in series)
        {
            var seen = new HashSet<object>();
            foreach (var point in one.Points)
            {
                if (seen.Add(point.At ?? "")) continue;
                var of = one.Name is null or "" ? "" : $" of {ValueFormatter.Format(one.Name, null, Language.Current)}";
                throw Chart.Refused($"a chart has two values{of} at {ValueFormatter.Format(point.At, null, Language.Current)}", "take their sum or mean first, or give the series");
            }
        }
    }

    /// <summary>The chart of these series by one kind of mark; lines with limits have a band, other marks intervals.</summary>
    public Chart With(ChartMark mark)
    {
        var layers = ImmutableArray.CreateBuilder<ChartLayer>();
        var hasLimits = Series.Any(s => s.Points.Any(p => p.Lower is not null || p.Upper is not null));
        if (hasLimits && mark == ChartMark.Lines) layers.Add(new ChartLayer(ChartMark.Bands, Series) { IsPartOfAnother = true });
        layers.Add(new ChartLayer(mark, Series));
        if (hasLimits && mark is ChartMark.Columns or ChartMark.Points) layers.Insert(mark == ChartMark.Points ? 0 : 1, new ChartLayer(ChartMark.Intervals, Series) { IsPartOfAnother = true });
        return new Chart { Layers = layers.ToImmutable(), Remarks = Remarks };
    }
}
