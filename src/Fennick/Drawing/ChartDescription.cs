using Fennick.Charts;
using Fennick.Formatting;

namespace Fennick.Drawing;

/// <summary>What a chart shows, in words, for readers who cannot see it: what it is, and all values where they are few, else their range, extremes and trend.</summary>
internal static class ChartDescription
{
    private const int MostValues = 24;

    /// <summary>The words of a chart.</summary>
    public static string Of(ChartPlan plan)
    {
        var (chart, language) = (plan.Chart, plan.Language);
        var layers = chart.Layers.Where(l => !l.IsPartOfAnother).DefaultIfEmpty(chart.Layers[0]).ToArray();
        if (chart.Layers.Any(l => l.Mark == ChartMark.Boxes)) layers = [chart.Layers.First(l => l.Mark == ChartMark.Boxes)];
        var parts = layers.SelectMany(l => Series(chart, plan, l, language));
        var head = Sentence(Kind(chart, language), string.Join(", ", new[] { chart.ValueAxis.Title, chart.BaseAxis.Title }.Where(t => t.Length > 0)));
        var references = chart.References.Where(r => r.Words.Length > 0).Select(r => $"{r.Words}{(r.Words.Any(char.IsDigit) ? "" : $" ({Text(r.From, r.IsAtBase ? chart.BaseAxis.Format : chart.ValueAxis.Format, language)})")}");
        var notes = chart.Notes.Select(n => $"{Text(n.At, null, language)}: {n.Words}");
        return string.Join(" ", new[] { chart.Subtitle, head }.Where(t => t.Length > 0).Concat(parts).Concat(references.Concat(notes).Select(t => t)).Select(t => t.EndsWith('.') ? t : $"{t}."));
    }

    private static string Sentence(string kind, string titles) => titles.Length == 0 ? kind : $"{kind}: {titles}";

    private static string Kind(Chart chart, Language language) => Phrases.Find(
        chart.Layers.Any(l => l.Mark == ChartMark.Boxes) ? "Area plot"
        : chart.Layers.Any(l => l.IsContiguous) ? "Histogram"
        : chart.Layers.Any(l => l.Mark == ChartMark.Slices) ? "Shares of a whole"
        : chart.Layers[^1].Mark switch
        {
            ChartMark.Columns => chart.Stacking == Stacking.None ? "Column chart" : "Stacked columns",
            ChartMark.Lines or ChartMark.Bands => "Line chart",
            ChartMark.Steps => "Step chart",
            ChartMark.Areas => "Area chart",
            ChartMark.Intervals => chart.Layers[0].Mark == ChartMark.Columns ? "Column chart" : "Dots with intervals",
            _ => chart.LiesOnSide == false ? "Scatter chart" : chart.Layers[0].Mark == ChartMark.Intervals ? "Dots with intervals" : "Dot chart",
        },
        language);

    private static IEnumerable<string> Series(Chart chart, ChartPlan plan, ChartLayer layer, Language language)
    {
        var numbers = ChartNumbers.Of(layer.IsOnSecondAxis ? chart.SecondAxis.Format : chart.ValueAxis.Format, [.. layer.Series.SelectMany(s => s.Points).Select(p => p.Value).OfType<double>()], language);
        var isAll = layer.Series.Sum(s => s.Points.Length) <= MostValues && !(plan.IsOfNumbers && layer.Mark == ChartMark.Points);
        foreach (var series in layer.Series)
        {
            var name = plan.NameOf(series);
            var words = isAll ? string.Join("; ", series.Points.Where(p => p.At is not RowName { IsHeading: true }).Select(Value)) : Summary(series);
            if (words.Length > 0) yield return name.Length == 0 ? words : name == words ? name : $"{name}: {words}";
        }

        string Value(ChartPoint point)
        {
            var value = point.Value is not { } number ? language.Numbers.Missing : chart.Stacking == Stacking.Shares && chart.ValueAxis.Format is not null ? Share(layer, point, numbers, language) : numbers.Text(number, language);
            var limits = point.Lower is { } lower && point.Upper is { } upper ? $" ({Text(lower, chart.ValueAxis.Format ?? numbers.Format, language)}–{Text(upper, chart.ValueAxis.Format ?? numbers.Format, language)})" : "";
            var at = Text(point.At, chart.BaseAxis.Format, language);
            return at.Length == 0 ? value + limits : $"{at} {value}{limits}";
        }

        string Summary(ChartSeries series)
        {
            var points = series.Points.Where(p => p.Value is not null).ToArray();
            if (points.Length == 0) return "";
            var (least, most) = (points.MinBy(p => p.Value), points.MaxBy(p => p.Value));
            string At(ChartPoint point) => $"{numbers.Text(point.Value!.Value, language)} ({Text(point.At, chart.BaseAxis.Format, language)})";
            var range = string.Format(language.Culture, Phrases.Find("{0} values from {1} to {2}", language), points.Length, At(least), At(most));
            if (layer.Mark == ChartMark.Points && plan.IsOfNumbers) return $"{range}; {Relation(points, language)}";
            return plan.IsOfNumbers || plan.IsOfDates ? $"{range}; {string.Format(language.Culture, Phrases.Find("from {0} at the beginning to {1} at the end", language), At(points[0]), At(points[^1]))}" : range;
        }
    }

    private static string Share(ChartLayer layer, ChartPoint point, ChartNumbers numbers, Language language)
    {
        var total = layer.Series.SelectMany(s => s.Points).Where(p => Equals(p.At, point.At)).Sum(p => p.Value ?? 0);
        return total == 0 ? language.Numbers.Missing : numbers.Text(point.Value!.Value / total, language);
    }

    private static string Relation(ChartPoint[] points, Language language)
    {
        var (x, y) = (points.Select(p => BaseValue.Number(p.At)).ToArray(), points.Select(p => p.Value!.Value).ToArray());
        var (mx, my) = (x.Average(), y.Average());
        var (sxx, syy, sxy) = (x.Sum(v => (v - mx) * (v - mx)), y.Sum(v => (v - my) * (v - my)), x.Zip(y, (a, b) => (a - mx) * (b - my)).Sum());
        var correlation = sxx > 0 && syy > 0 ? sxy / Math.Sqrt(sxx * syy) : 0;
        var phrase = Math.Abs(correlation) < 0.1 ? "no linear relation" : correlation > 0 ? "higher values go with higher values" : "higher values go with lower values";
        return $"{Phrases.Find(phrase, language)} (r = {ValueFormatter.Format(correlation, "0.00", language)})";
    }

    private static string Text(object? value, string? format, Language language) => ChartWords.Of(value, format, language);
}
