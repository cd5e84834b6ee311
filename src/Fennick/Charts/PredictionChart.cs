using System.Collections.Immutable;
using Fennick.Statistics;
using Fennick.Statistics.Fits;
using Fennick.Tables;

namespace Fennick.Charts;

/// <summary>What a model predicts on average over a variable, with its band, by group if asked for; or for each level of a factor, with intervals. Immutable: each call gives another.</summary>
/// <example><c>PredictionChart.Of(survival, "Mites").By("Treated")</c></example>
/// <remarks>Every row has the value (and the level of the group), and keeps all else that it has; errors by the delta method.</remarks>
public sealed record PredictionChart : IChartSource
{
    private const int Points = 41;

    private readonly RegressionFit fit;
    private readonly string variable;
    private string? factor;
    private double level = 0.95;
    private double? from;
    private double? to;
    private Labels names = Tables.Labels.None;

    private PredictionChart(RegressionFit fit, string variable) => (this.fit, this.variable) = (fit, variable);

    /// <summary>Predictions over a variable.</summary>
    /// <param name="fit">The model.</param>
    /// <param name="variable">A variable of numbers, or a factor.</param>
    /// <exception cref="AnalysisException">The fit has no such variable.</exception>
    public static PredictionChart Of(RegressionFit fit, string variable)
    {
        ArgumentNullException.ThrowIfNull(fit);
        _ = IsFactor(fit, variable) ? fit.LevelsOf(variable).Count : fit.ValuesOf(variable).Count;
        return new PredictionChart(fit, variable);
    }

    /// <summary>With a line for each level of a factor.</summary>
    /// <exception cref="AnalysisException">The fit has no such factor.</exception>
    public PredictionChart By(string group)
    {
        _ = fit.LevelsOf(group);
        return this with { factor = group };
    }

    /// <summary>With intervals of another level than 0.95.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The level is not between 0 and 1.</exception>
    public PredictionChart Level(double intervals) => intervals is > 0 and < 1 ? this with { level = intervals } : throw new ArgumentOutOfRangeException(nameof(intervals), intervals, "A level lies between 0 and 1.");

    /// <summary>From one value of the variable to another; over all that was observed otherwise.</summary>
    public PredictionChart Between(double first, double last) => this with { from = first, to = last };

    /// <summary>With other words for a variable or a level (<c>Strain=Dusk</c>).</summary>
    public PredictionChart Label(string name, string words) => this with { names = names.With(name, words) };

    /// <inheritdoc/>
    public Chart ToChart()
    {
        var labels = names.Or(Tables.Labels.Of(fit.RecordType));
        var axis = new ChartAxis { Title = labels[fit.Response] };
        if (IsFactor(fit, variable))
        {
            var effects = fit.PredictedMeans(variable);
            string[] levels = [.. effects.Select(e => e.Name)];
            var rows = effects.Select((e, i) => (Name: (object)new RowName(i, labels.Level(variable, e.Name, levels), false), e.Estimate, Interval: e.Interval(level)));
            return Chart.Intervals(rows, r => r.Name, r => r.Estimate, r => r.Interval.Low, r => r.Interval.High) with { ValueAxis = axis, BaseAxis = new ChartAxis { Title = labels[variable] } };
        }
        var observed = fit.ValuesOf(variable);
        if ((from ?? to) is null && observed.Count == 0) throw Chart.Refused($"the range of `{variable}` is not known, since terms are computed from it", "say it with `Between(first, last)`");
        var (low, high) = (from ?? observed.Min(), to ?? observed.Max());
        var isWhole = observed.Count > 0 && observed.All(v => v == Math.Truncate(v)) && high - low <= Points;
        double[] at = isWhole ? [.. Enumerable.Range((int)Math.Ceiling(low), (int)(high - low) + 1).Select(i => (double)i)] : [.. Enumerable.Range(0, Points).Select(i => low + ((high - low) * i / (Points - 1)))];
        var groups = factor is null ? [(null, null)] : fit.LevelsOf(factor).Select(l => (Level: (string?)l, Name: (object?)labels.Level(factor, l, [.. fit.LevelsOf(factor)]))).ToArray();
        var series = groups.Select(g => new ChartSeries(g.Name, [.. at.Zip(fit.PredictedMeans(variable, at, g.Level is null ? null : factor, g.Level), (x, e) => new ChartPoint(x, e.Estimate, e.Interval(level).Low, e.Interval(level).High))])).ToImmutableArray();
        return new Chart
        {
            Layers = [new ChartLayer(ChartMark.Bands, series) { IsPartOfAnother = true }, new ChartLayer(ChartMark.Lines, series)],
            ValueAxis = axis,
            BaseAxis = new ChartAxis { Title = labels[variable] },
            LiesOnSide = false,
        };
    }

    private static bool IsFactor(RegressionFit fit, string variable) => fit.Terms.Any(t => t.Term.Variable == variable && t.Term.Level is not null);
}
