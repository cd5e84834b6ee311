using System.Collections.Immutable;
using Fennick.Documents;
using Fennick.Statistics;
using Fennick.Statistics.Fits;

namespace Fennick.Tables;

/// <summary>Average predictions for the levels of a factor, or average marginal effects of variables.</summary>
/// <example><c>PredictionTable.Of(survival, "Strain")</c> or <c>PredictionTable.Effects(survival, "Mites", "Treated")</c></example>
public sealed record PredictionTable : ResultTable<PredictionTable>
{
    private readonly RegressionFit fit;
    private readonly ImmutableArray<(string Variable, ImmutableArray<AverageEffect> Effects)> groups;
    private readonly bool isPrediction;
    private double level = 0.95;
    private string? format;

    private PredictionTable(RegressionFit fit, bool isPrediction, ImmutableArray<(string, ImmutableArray<AverageEffect>)> groups)
    {
        this.fit = fit;
        this.isPrediction = isPrediction;
        this.groups = groups;
    }

    /// <summary>What the model predicts on average if every row had each level of a factor.</summary>
    /// <exception cref="AnalysisException">The fit has no such factor.</exception>
    public static PredictionTable Of(RegressionFit fit, params string[] factors) => new(fit, true, [.. factors.Select(f => (f, fit.PredictedMeans(f).ToImmutableArray()))]);

    /// <summary>How much the prediction changes on average with each variable.</summary>
    /// <exception cref="AnalysisException">The fit has no such variable.</exception>
    public static PredictionTable Effects(RegressionFit fit, params string[] variables) => new(fit, false, [.. variables.Select(v => (v, fit.MarginalEffects(v).ToImmutableArray()))]);

    /// <summary>With intervals of another level than 0.95.</summary>
    public PredictionTable Level(double intervals) => this with { level = intervals };

    /// <summary>With numbers in a .NET format.</summary>
    public PredictionTable Format(string numbers) => this with { format = numbers };

    /// <inheritdoc/>
    public override Table ToTable()
    {
        var labels = Names.Or(Tables.Labels.Of(fit.RecordType));
        var rows = new List<TableRow>();
        foreach (var (variable, effects) in groups)
        {
            var isFactor = isPrediction || effects is not [{ } only] || only.Name != variable;
            var reference = fit.Terms.FirstOrDefault(t => t.Term.Variable == variable)?.Term.Reference;
            string[] levels = [.. effects.Select(e => e.Name), .. reference is null ? Array.Empty<string>() : [reference]];
            var hasHeading = isFactor && (groups.Length > 1 || !isPrediction);
            if (hasHeading)
                rows.Add(TableRow.Heading(isPrediction || reference is null ? labels[variable] : Sentence($"{labels[variable]} ({labels.Word("reference")}: {labels.Level(variable, reference, levels)})"), isPrediction ? 4 : 5));
            foreach (var effect in effects)
            {
                var numbers = format ?? EstimateFormat(effect.Estimate, effect.StandardError, 3);
                rows.Add(new TableRow([isFactor ? labels.Level(variable, effect.Name, levels) : labels[variable], Number(effect.Estimate, numbers), Number(effect.StandardError, numbers), IntervalCell(effect.Interval(level), numbers), .. isPrediction ? [] : new[] { PValue(effect.PValue) }]) { Level = hasHeading ? 1 : 0 });
            }
        }
        RichText[] heads = [groups.Length == 1 && isPrediction ? labels[groups[0].Variable] : "", labels.Word(isPrediction ? "Prediction" : "Effect"), labels.Word("Std. error"), IntervalName(level), .. isPrediction ? [] : new[] { labels.Word("p") }];
        var table = new Table
        {
            Columns = [new(Alignment.Left), new(Alignment.Decimal), new(Alignment.Decimal), new(Alignment.Centre), .. isPrediction ? [] : new[] { new TableColumn(Alignment.Decimal) }],
            HeaderRows = [new TableRow([.. heads.Select(h => Text(h))])],
            Rows = [.. rows],
            Warnings = [.. fit.Warnings.Select(w => w.Message)],
        };
        RichText note = isPrediction ? Sentence($"Average predictions of {labels[fit.Response]} with every row set to the level, other variables unchanged; {Named(fit.Estimator)}, delta-method errors.")
            : Sentence($"Average change in {labels[fit.Response]} for one unit more, or against the reference; {Named(fit.Estimator)}, delta-method errors.");
        return Finish(table, [note], groups.Select(g => g.Variable).Concat(groups.SelectMany(g => g.Effects.Select(e => $"{g.Variable}={e.Name}"))).Concat(["Prediction", "Effect", "Std. error", "p", "reference", fit.Response]));
    }
}
