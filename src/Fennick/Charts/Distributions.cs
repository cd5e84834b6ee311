using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Formatting;
using Fennick.Statistics.Summaries;

namespace Fennick.Charts;

/// <summary>Charts of how values are distributed.</summary>
internal static class Distributions
{
    private const int DensityPoints = 128;
    private const double StripBreadth = 0.26;

    public static Chart Histogram<T>(IEnumerable<T> records, Func<T, double?> value, int? bins, double? width, double? from)
    {
        if (bins is < 1) throw Chart.Refused("a histogram needs at least one bin", "give a number above zero, or none");
        if (width is <= 0) throw Chart.Refused("the width of a bin must be above zero", "give a width above zero, or none");
        var (groups, remarks) = Values(records, _ => null, value);
        double[] all = [.. groups.SelectMany(g => g.Values)];
        var step = width ?? Ticks.RoundStep(BinWidth(all, bins));
        var start = from is { } edge ? edge - (Math.Ceiling((edge - all[0]) / step - 1e-9) * step) : Math.Floor((all[0] / step) + 1e-9) * step;
        var count = Math.Max(1, (int)Math.Floor(((all[^1] - start) / step) + 1e-9) + 1);
        // The greatest value belongs to the last bin, not to one of its own.
        if (count > 1 && Math.Abs(start + ((count - 1) * step) - all[^1]) <= 1e-9 * step) count--;
        if (count > 1000) throw Chart.Refused($"a histogram with a width of {step} has {count} bins", "take wider bins");
        var counts = new int[count];
        foreach (var number in all) counts[Math.Clamp((int)Math.Floor(((number - start) / step) + 1e-9), 0, count - 1)]++;
        var edges = Enumerable.Range(0, count + 1).Select(i => Exact(start + (i * step))).ToArray();
        var points = counts.Select((c, i) => new ChartPoint(new Bin(edges[i], edges[i + 1]), c)).ToImmutableArray();
        return new Chart { Layers = [new ChartLayer(ChartMark.Columns, [new ChartSeries(null, points)]) { IsContiguous = true }], Remarks = remarks, LiesOnSide = false };
    }

    private static double Exact(double number) => double.Parse(number.ToString("G12", System.Globalization.CultureInfo.InvariantCulture), System.Globalization.CultureInfo.InvariantCulture);

    private static double BinWidth(double[] sorted, int? bins)
    {
        var range = sorted[^1] - sorted[0];
        if (range == 0) return 1;
        if (bins is { } wanted) return range / wanted;
        var quartiles = Quantile(sorted, 0.75) - Quantile(sorted, 0.25);
        var rule = 2 * quartiles / Math.Cbrt(sorted.Length);
        return Math.Clamp(rule, range / 30, range / 5);
    }

    public static Chart Cumulative<T>(IEnumerable<T> records, Func<T, double?> value, Func<T, object?>? group)
    {
        var (groups, remarks) = Values(records, group ?? (_ => null), value);
        var series = groups.Select(g => new ChartSeries(g.Name, [.. g.Values.Select((v, i) => (v, Share: (i + 1.0) / g.Values.Length)).GroupBy(p => p.v).Select(p => new ChartPoint(p.Key, p.Last().Share)).Prepend(new ChartPoint(g.Values[0], 0))]));
        return new Chart { Layers = [new ChartLayer(ChartMark.Steps, [.. series])], ValueAxis = new ChartAxis { Format = "percent 0", Minimum = 0, Maximum = 1 }, Remarks = remarks, LiesOnSide = false };
    }

    public static Chart Boxes<T>(IEnumerable<T> records, Func<T, object?> category, Func<T, double?> value)
    {
        var (groups, remarks) = Values(records, category, value);
        var (boxes, whiskers, medians, beyond) = (new List<ChartPoint>(), new List<ChartPoint>(), new List<ChartPoint>(), new List<ChartPoint>());
        foreach (var (name, values) in groups)
        {
            var (low, middle, high) = (Quantile(values, 0.25), Quantile(values, 0.5), Quantile(values, 0.75));
            var reach = 1.5 * (high - low);
            var inside = values.Where(v => v >= low - reach && v <= high + reach).ToArray();
            whiskers.Add(new ChartPoint(name, middle, Math.Min(low, inside[0]), Math.Max(high, inside[^1])));
            boxes.Add(new ChartPoint(name, middle, low, high));
            medians.Add(new ChartPoint(name, middle));
            beyond.AddRange(values.Where(v => v < low - reach || v > high + reach).Select(v => new ChartPoint(name, v)));
        }
        ChartLayer Layer(ChartMark mark, object? label, List<ChartPoint> points) => new(mark, [new ChartSeries(label, [.. points])]) { IsPartOfAnother = true };
        var layers = ImmutableArray.Create(Layer(ChartMark.Intervals, null, whiskers), Layer(ChartMark.Boxes, null, boxes), Layer(ChartMark.Dashes, null, medians));
        return new Chart { Layers = beyond.Count == 0 ? layers : layers.Add(Layer(ChartMark.Points, null, beyond) with { IsFaint = true }), Remarks = remarks };
    }

    public static Chart Strips<T>(IEnumerable<T> records, Func<T, object?> category, Func<T, double?> value)
    {
        var (groups, remarks) = Values(records, category, value);
        var dots = groups.SelectMany(g => g.Values.Select(v => new ChartPoint(g.Name, v))).ToImmutableArray();
        var medians = groups.Select(g => new ChartPoint(g.Name, Quantile(g.Values, 0.5))).ToImmutableArray();
        return new Chart
        {
            Layers = [new ChartLayer(ChartMark.Points, [new ChartSeries(null, dots)]) { IsFaint = true }, new ChartLayer(ChartMark.Dashes, [new ChartSeries(null, medians)]) { IsPartOfAnother = true }],
            Remarks = remarks,
            LiesOnSide = true,
        };
    }

    /// <summary>How far a dot of a strip stands beside its row, so that equal values can be told apart: the same for the same data.</summary>
    public static double Aside(int index) => StripBreadth * (((index * 0.6180339887498949) % 1 * 2) - 1);

    public static Chart Density<T>(IEnumerable<T> records, Func<T, double?> value, Func<T, object?>? group)
    {
        var (groups, remarks) = Values(records, group ?? (_ => null), value);
        var widths = groups.Select(g => Bandwidth(g.Values, g.Name)).ToArray();
        var (low, high) = (groups.Zip(widths).Min(g => g.First.Values[0] - (3 * g.Second)), groups.Zip(widths).Max(g => g.First.Values[^1] + (3 * g.Second)));
        var series = groups.Zip(widths, (g, w) => new ChartSeries(g.Name, [.. Enumerable.Range(0, DensityPoints).Select(i => low + ((high - low) * i / (DensityPoints - 1))).Select(x => new ChartPoint(x, DensityAt(g.Values, x, w)))]));
        return new Chart { Layers = [new ChartLayer(ChartMark.Lines, [.. series])], ValueAxis = new ChartAxis { Minimum = 0 }, Labels = SeriesLabels.Legend, Remarks = remarks, LiesOnSide = false };
    }

    public static Chart Violins<T>(IEnumerable<T> records, Func<T, object?> category, Func<T, double?> value)
    {
        var (groups, remarks) = Values(records, category, value);
        var outlines = groups.SelectMany(g =>
        {
            var width = Bandwidth(g.Values, g.Name);
            var (low, high) = (g.Values[0], g.Values[^1]);
            ChartPoint[] points = [.. Enumerable.Range(0, DensityPoints).Select(i => low + ((high - low) * i / (DensityPoints - 1))).Select(v => new ChartPoint(g.Name, v, Size: DensityAt(g.Values, v, width)))];
            var most = points.Max(p => p.Size!.Value);
            return points.Select(p => p with { Size = p.Size / most });
        }).ToImmutableArray();
        var medians = groups.Select(g => new ChartPoint(g.Name, Quantile(g.Values, 0.5))).ToImmutableArray();
        return new Chart { Layers = [new ChartLayer(ChartMark.Violins, [new ChartSeries(null, outlines)]) { IsPartOfAnother = true }, new ChartLayer(ChartMark.Dashes, [new ChartSeries(null, medians)])], Remarks = remarks };
    }

    private static double Bandwidth(double[] sorted, object? name)
    {
        var mean = sorted.Average();
        var deviation = sorted.Length < 2 ? 0 : Math.Sqrt(sorted.Sum(v => (v - mean) * (v - mean)) / (sorted.Length - 1));
        var quartiles = (Quantile(sorted, 0.75) - Quantile(sorted, 0.25)) / 1.34;
        var spread = quartiles > 0 ? Math.Min(deviation, quartiles) : deviation;
        if (spread > 0) return 0.9 * spread * Math.Pow(sorted.Length, -0.2);
        throw Chart.Refused($"the values{(name is null ? "" : $" of {ValueFormatter.Format(name, null, Language.Current)}")} are all equal, and have no density", "take a histogram or a strip of dots");
    }

    private static double DensityAt(double[] values, double x, double width)
    {
        var sum = 0.0;
        foreach (var value in values) sum += Math.Exp(-0.5 * (x - value) * (x - value) / (width * width));
        return sum / (values.Length * width * Math.Sqrt(2 * Math.PI));
    }

    private static double Quantile(double[] values, double share) => Description.Of(values, v => v).Quantile(share);

    /// <summary>The values of each group in rising order, in the order in which the groups appear.</summary>
    private static (List<(object? Name, double[] Values)> Groups, ImmutableArray<Diagnostic> Remarks) Values<T>(IEnumerable<T> records, Func<T, object?> group, Func<T, double?> value)
    {
        var rows = ChartRows.Read(records, _ => "", value, group, allowsDoubles: true);
        var groups = rows.Series.Select(s => (s.Name, Values: s.Points.Select(p => p.Value).OfType<double>().Order().ToArray())).Where(g => g.Values.Length > 0).ToList();
        return groups.Count > 0 ? (groups, rows.Remarks) : throw Chart.Refused("the chart has no values", "check the records it is made from");
    }
}
