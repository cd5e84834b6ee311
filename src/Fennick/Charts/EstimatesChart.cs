using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Variables;
using Fennick.Tables;

namespace Fennick.Charts;

/// <summary>The estimates of fitted models as dots with intervals: a row for each term, with the labels and the order of <see cref="RegressionTable"/>. Immutable: each call gives another.</summary>
/// <example><c>EstimatesChart.Of(("Odds", survival)).Exponentiated().Label("QueenAge", "Age of the queen (years)")</c></example>
public sealed record EstimatesChart : IChartSource
{
    private readonly ImmutableArray<IModelResult> fits;
    private readonly RegressionTable table;
    private bool isRatio;
    private bool hasConstant;
    private double level = 0.95;

    private EstimatesChart(ImmutableArray<IModelResult> fits, RegressionTable table) => (this.fits, this.table) = (fits, table);

    /// <summary>A chart of fits, side by side in each row.</summary>
    /// <exception cref="ArgumentException">There is no fit.</exception>
    public static EstimatesChart Of(params IModelResult[] fits) => new([.. fits], RegressionTable.Of(fits));

    /// <summary>A chart of named fits.</summary>
    /// <exception cref="ArgumentException">There is no fit.</exception>
    public static EstimatesChart Of(params (string Name, IModelResult Fit)[] fits) => new([.. fits.Select(f => f.Fit)], RegressionTable.Of(fits));

    /// <summary>With other words for a variable, a level (<c>Strain=Dusk</c>) or a term.</summary>
    public EstimatesChart Label(string name, string words) => new(this, table.Label(name, words));

    /// <summary>With labels from elsewhere; what the chart was told itself goes before.</summary>
    public EstimatesChart Labels(Labels labels) => new(this, table.Labels(labels));

    /// <summary>With these terms or variables first, in this order.</summary>
    public EstimatesChart First(params string[] terms) => new(this, table.First(terms));

    /// <summary>Without these terms or variables.</summary>
    public EstimatesChart Without(params string[] terms) => new(this, table.Without(terms));

    /// <summary>With these terms or variables alone.</summary>
    public EstimatesChart Only(params string[] terms) => new(this, table.Only(terms));

    /// <summary>With a heading over some terms or variables.</summary>
    /// <param name="words">The heading.</param>
    /// <param name="terms">The terms or variables.</param>
    public EstimatesChart Under(string words, params string[] terms) => new(this, table.Under(words, terms));

    /// <summary>With the constant, which is left out otherwise: it is of another size than most estimates.</summary>
    public EstimatesChart WithConstant() => this with { hasConstant = true };

    /// <summary>With estimates as e to their power (odds ratios, rate ratios) on a logarithmic axis.</summary>
    public EstimatesChart Exponentiated() => this with { isRatio = true };

    /// <summary>With intervals of another level than 0.95.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The level is not between 0 and 1.</exception>
    public EstimatesChart Level(double intervals) => new(this, table.Level(intervals)) { level = intervals };

    private EstimatesChart(EstimatesChart before, RegressionTable table)
        : this(before.fits, table) => (isRatio, hasConstant, level) = (before.isRatio, before.hasConstant, before.level);

    /// <inheritdoc/>
    public Chart ToChart()
    {
        var shown = hasConstant ? table : table.Without(Term.InterceptName);
        var rows = shown.RowsOfTerms();
        if (!rows.Any(r => r.Term is not null)) throw new ReportException(Diagnostic.Error(null, "the chart of estimates has no terms", "leave fewer out, or call `WithConstant()`"));
        var heads = shown.HeadsOfModels();
        var infinite = 0;
        var series = fits.Select((fit, f) => new ChartSeries(fits.Length == 1 ? null : heads[f], [.. rows.Select((row, place) => Point(fit, row.Term, new RowName(place, row.Words, row.Term is null)))])).ToImmutableArray();
        var layers = ImmutableArray.Create(new ChartLayer(ChartMark.Intervals, series) { IsPartOfAnother = true }, new ChartLayer(ChartMark.Points, series));
        var chart = new Chart
        {
            Layers = layers,
            LiesOnSide = true,
            ValueAxis = new ChartAxis { Words = new RichText([new PhraseInline(isRatio ? "Ratio with its {0}% interval" : "Estimate with its {0}% interval", [RichText.Plain(level.ToString("0.#%", System.Globalization.CultureInfo.InvariantCulture).TrimEnd('%'))])]), IsLogarithmic = isRatio },
            Remarks = infinite == 0 ? [] : [Diagnostic.Warning(null, $"{infinite} {(infinite == 1 ? "estimate has" : "estimates have")} no finite value and no mark in the chart", "see the table of the model")],
        };
        return chart.ReferenceLine(isRatio ? 1 : 0);

        ChartPoint Point(IModelResult fit, string? term, RowName name)
        {
            if (term is null || fit.Terms.FirstOrDefault(t => t.Name == term) is not { } own) return new ChartPoint(name, null);
            if (!double.IsFinite(own.Estimate))
            {
                infinite++;
                return new ChartPoint(name, null);
            }
            var interval = own.Interval(level);
            double? Scaled(double value) => (isRatio ? Math.Exp(value) : value) is var scaled && double.IsFinite(scaled) ? scaled : null;
            return new ChartPoint(name, Scaled(own.Estimate), Scaled(interval.Low), Scaled(interval.High));
        }
    }
}
