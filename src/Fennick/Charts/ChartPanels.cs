using System.Collections.Immutable;
using Fennick.Formatting;

namespace Fennick.Charts;

/// <summary>A panel of a figure.</summary>
/// <param name="Title">What it shows, as a line above it; nothing if null.</param>
/// <param name="Chart">The chart.</param>
public sealed record ChartPanel(object? Title, Chart Chart);

/// <summary>Several charts in one figure with one caption: the same chart for each group on a common scale, or charts that belong together.</summary>
/// <example><c>ChartPanels.Of(hives, h => h.Valley, g => Chart.Lines(g.GroupBy(h => h.Season), s => s.Key, s => s.Average(h => h.HoneyKg)))</c></example>
public sealed record ChartPanels
{
    /// <summary>The panels, row by row.</summary>
    public required ImmutableArray<ChartPanel> Panels { get; init; }

    /// <summary>What all panels measure, as a line above them; empty for no words.</summary>
    public string Measured { get; init; } = "";

    /// <summary>How many stand in a row; null for what suits their number.</summary>
    public int? PerRow { get; init; }

    /// <summary>Whether they have letters, (a), (b) and so on, by which the text can refer to one of them.</summary>
    public bool HasLetters { get; init; }

    /// <summary>The same chart for each group of records, on the scale of all.</summary>
    /// <param name="records">The records.</param>
    /// <param name="group">The group; groups keep the order of the records.</param>
    /// <param name="chart">The chart of a group's records.</param>
    /// <exception cref="Diagnostics.ReportException">There are no records.</exception>
    public static ChartPanels Of<T>(IEnumerable<T> records, Func<T, object?> group, Func<IReadOnlyList<T>, Chart> chart)
    {
        ArgumentNullException.ThrowIfNull(chart);
        var panels = records.GroupBy(group).Select(g => new ChartPanel(g.Key, chart([.. g]))).ToImmutableArray();
        return panels.IsEmpty ? throw Chart.Refused("the panels have no data", "check the records they are made from") : WithOneTitle(OnOneScale(panels));
    }

    /// <summary>Charts that belong together, each on its own scale.</summary>
    /// <param name="panels">What each shows, and the chart.</param>
    /// <exception cref="Diagnostics.ReportException">There are none.</exception>
    public static ChartPanels Of(params (object? Title, Chart Chart)[] panels) =>
        panels is { Length: > 0 } ? new ChartPanels { Panels = [.. panels.Select(p => new ChartPanel(p.Title, p.Chart))] } : throw Chart.Refused("the figure has no panels", "give at least one chart");

    /// <summary>The same panels, so many in a row.</summary>
    /// <exception cref="ArgumentOutOfRangeException">There are fewer than one, or more than six.</exception>
    public ChartPanels InRowsOf(int panels) => panels is >= 1 and <= 6 ? this with { PerRow = panels } : throw new ArgumentOutOfRangeException(nameof(panels), panels, "From one to six panels stand in a row.");

    /// <summary>The same panels with letters, (a), (b) and so on, by which the text can refer to one of them.</summary>
    public ChartPanels WithLetters() => this with { HasLetters = true };

    /// <summary>How many stand in a row.</summary>
    internal int Columns => Math.Min(Panels.Length, PerRow ?? (Panels.Length <= 4 ? 2 : 3));

    /// <summary>What all panels measure is said once.</summary>
    private static ChartPanels WithOneTitle(ImmutableArray<ChartPanel> panels)
    {
        if (panels.Select(p => p.Chart.ValueAxis.Title).Distinct().Count() > 1) return new ChartPanels { Panels = panels };
        return new ChartPanels { Measured = panels[0].Chart.ValueAxis.Title, Panels = [.. panels.Select(p => p with { Chart = p.Chart with { ValueAxis = p.Chart.ValueAxis with { Title = "" } } })] };
    }

    private static ImmutableArray<ChartPanel> OnOneScale(ImmutableArray<ChartPanel> panels)
    {
        var values = Range(panels, p => [p.Value, p.Lower, p.Upper]);
        var areNumbers = panels.SelectMany(p => p.Chart.Layers).SelectMany(l => l.Series).SelectMany(s => s.Points).All(p => BaseValue.IsNumber(p.At) && !BaseValue.IsDate(p.At)) && panels.All(p => p.Chart.LiesOnSide == false);
        var places = areNumbers ? Range(panels, p => [BaseValue.Number(p.At)]) : null;
        return [.. panels.Select(p => p with
        {
            Chart = p.Chart with
            {
                ValueAxis = p.Chart.Stacking == Stacking.None && values is { } v ? p.Chart.ValueAxis with { Reaches = v } : p.Chart.ValueAxis,
                BaseAxis = places is { } b ? p.Chart.BaseAxis with { Reaches = b } : p.Chart.BaseAxis,
            },
        })];
    }

    private static (double Low, double High)? Range(ImmutableArray<ChartPanel> panels, Func<ChartPoint, double?[]> values)
    {
        double[] all = [.. panels.SelectMany(p => p.Chart.Layers).SelectMany(l => l.Series).SelectMany(s => s.Points).SelectMany(values).OfType<double>()];
        return all.Length == 0 ? null : (all.Min(), all.Max());
    }

    /// <summary>What all panels show, in words.</summary>
    internal string TitlesIn(Language language) => string.Join("; ", Panels.Select(p => p.Title).OfType<object>().Select(t => ChartWords.Of(t, null, language)));
}
