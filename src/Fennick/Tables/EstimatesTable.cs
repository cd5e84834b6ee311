using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Statistics.Fits;

namespace Fennick.Tables;

/// <summary>One term in the models of several responses: a row for each response.</summary>
/// <example><c>EstimatesTable.Of("Treated=yes", honey, mites, survival)</c></example>
public sealed record EstimatesTable : ResultTable<EstimatesTable>
{
    private readonly string term;
    private readonly ImmutableArray<IModelResult> fits;
    private double level = 0.95;

    private EstimatesTable(string term, ImmutableArray<IModelResult> fits)
    {
        this.term = term;
        this.fits = fits;
    }

    /// <summary>The estimates of a term.</summary>
    /// <param name="term">Its name; a level of a factor is <c>Treated=yes</c>.</param>
    /// <param name="fits">The models.</param>
    /// <exception cref="ReportException">No model has the term.</exception>
    public static EstimatesTable Of(string term, params IModelResult[] fits)
    {
        if (fits.Any(f => f.Terms.Any(t => t.Name == term))) return new(term, [.. fits]);
        var names = fits.SelectMany(f => f.Terms.Select(t => t.Name)).Distinct().ToArray();
        throw new ReportException(Diagnostic.Error(null, $"no model has a term `{term}`", Nearest.Suggest(term, names) ?? $"their terms are {string.Join(", ", names.Select(n => $"`{n}`"))}"));
    }

    /// <summary>With intervals of another level than 0.95.</summary>
    public EstimatesTable Level(double intervals) => this with { level = intervals };

    /// <inheritdoc/>
    public override Table ToTable()
    {
        var labels = fits.Aggregate(Names, (all, fit) => all.Or(Tables.Labels.Of(fit.RecordType)));
        var estimates = fits.Select(f => (Fit: f, Term: f.Terms.FirstOrDefault(t => t.Name == term))).ToArray();
        var rows = estimates.Select(e =>
        {
            if (e.Term is not { } own) return new TableRow([labels[e.Fit.Response], "—", "—", "—", "—", Number(e.Fit.Observations, "#,0")]);
            // Responses have units of their own: each row has the decimals that suit it.
            var numbers = EstimateFormat(own.Estimate, own.StandardError, 3);
            return new TableRow([labels[e.Fit.Response], Number(own.Estimate, numbers) with { Sign = SignOf(own.PValue) }, Number(own.StandardError, numbers), IntervalCell(own.Interval(level), numbers), PValue(own.PValue), Number(e.Fit.Observations, "#,0")]);
        });
        string[] words = ["Response", "Estimate", "Std. error", "p", "n"];
        RichText[] heads = [.. words.Select(labels.Word)];
        heads = [.. heads[..3], IntervalName(level), .. heads[3..]];
        var table = new Table
        {
            Columns = [new(Alignment.Left), new(Alignment.Decimal), new(Alignment.Decimal), new(Alignment.Centre), new(Alignment.Decimal), new(Alignment.Right)],
            HeaderRows = [new TableRow([.. heads.Select(h => Text(h))])],
            Rows = [.. rows],
            Warnings = [.. estimates.Where(e => e.Term is null).Select(e => $"the model of `{e.Fit.Response}` has no term `{term}`"), .. fits.SelectMany(f => f.Warnings.Select(w => $"model of `{f.Response}`: {w.Message}"))],
        };
        var estimators = fits.Select(f => f.Estimator).Distinct().ToArray();
        var how = estimators.Length == 1 ? Named(estimators[0]) : RichText.Join("; ", fits.GroupBy(f => f.Estimator).Select(g => RichText.Join(": ", [string.Join(", ", g.Select(f => labels[f.Response])), Named(g.Key)])));
        var errors = fits.DistinctBy(ErrorsName).Select(f => Kind(f, labels)).ToArray();
        var factor = estimates.Select(e => e.Term?.Term).FirstOrDefault(t => t?.Reference is not null);
        var what = factor is null ? labels.Term(term) : Sentence($"{labels.Term(term)} ({labels.Word("reference")}: {labels.Level(factor.Variable, factor.Reference!, [factor.Reference!, factor.Level ?? ""])})");
        return Finish(table, [Sentence($"Estimates of {what}; {how}."), Sentence($"Standard errors {Listed(errors)}."), .. SignsNote(), .. OwnNotes(fits)],
            fits.Select(f => f.Response).Concat(words).Append(term));
    }
}
