using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Statistics;
using Fennick.Statistics.Fits;

namespace Fennick.Tables;

/// <summary>Nested fits, each tested against the one above it.</summary>
/// <example><c>FitComparisonTable.Of(("Forage", simple), ("and strain", full))</c></example>
public sealed record FitComparisonTable : ResultTable<FitComparisonTable>
{
    private readonly ImmutableArray<(string Head, RegressionFit Fit)> fits;

    private FitComparisonTable(ImmutableArray<(string, RegressionFit)> fits) => this.fits = fits;

    /// <summary>Fits from the smallest to the largest, called (1), (2), …</summary>
    /// <exception cref="ReportException">There are fewer than two, or they are of different kinds.</exception>
    public static FitComparisonTable Of(params RegressionFit[] fits) => Of([.. fits.Select((f, i) => ($"({i + 1})", f))]);

    /// <summary>Named fits from the smallest to the largest.</summary>
    /// <exception cref="ReportException">There are fewer than two, or they are of different kinds.</exception>
    public static FitComparisonTable Of(params (string Head, RegressionFit Fit)[] fits)
    {
        if (fits.Length < 2) throw new ReportException(Diagnostic.Error(null, "a comparison needs at least two fits", "name them from the smallest to the largest"));
        if (fits.Any(f => f.Fit.Estimator != fits[0].Fit.Estimator) || fits[0].Fit is not (LinearFit or GeneralizedFit))
            throw new ReportException(Diagnostic.Error(null, "only fits of one kind, by least squares or of one generalized linear model, compare", "make a table for each kind"));
        return new([.. fits]);
    }

    /// <inheritdoc/>
    /// <exception cref="AnalysisException">Two fits are not nested, or not of the same rows.</exception>
    public override Table ToTable()
    {
        var isLinear = fits[0].Fit is LinearFit;
        var rows = fits.Select((f, i) =>
        {
            TestResult? test = i == 0 ? null : Compare(fits[i - 1].Fit, f.Fit);
            double residual = isLinear ? ((LinearFit)f.Fit).ResidualSumOfSquares : f.Fit.LogLikelihood;
            return new TableRow([f.Head, Number(f.Fit.ResidualDegreesOfFreedom, "#,0"), Number(residual, "#,0.0"), Number(f.Fit.Aic, "#,0.0"), Number(f.Fit.Bic, "#,0.0"),
                test is null ? "" : Number(test.DegreesOfFreedom, "#,0"), test is null ? "" : Number(test.Statistic, "#,0.00"), test is null ? "" : PValue(test.PValue)]);
        });
        string[] heads = ["Model", "Residual df", isLinear ? "Sum of squares" : "Log-likelihood", "AIC", "BIC", "df", isLinear ? "F" : "χ²", "p"];
        var table = new Table
        {
            Columns = [new(Alignment.Left), .. Enumerable.Repeat(new TableColumn(Alignment.Right), 6), new(Alignment.Decimal)],
            HeaderRows = [new TableRow([.. heads.Select(h => Text(Names.Word(h)))])],
            Rows = [.. rows],
            Warnings = [.. fits.SelectMany(f => f.Fit.Warnings.Select(w => $"model {f.Head}: {w.Message}"))],
        }.SpanOver(Names.Word("Against the model above"), 5, 7);
        var first = fits[0].Fit;
        var names = Names.Or(Tables.Labels.Of(first.RecordType));
        var how = EstimatorOf(first, names);
        // The comparison looks at sums of squares or likelihoods, whatever errors the fits have.
        var isRobust = fits.Any(f => f.Fit.StandardErrors != StandardErrors.Classical);
        var tests = Named(isLinear ? "F tests" : "likelihood-ratio tests");
        if (isRobust) tests = Sentence($"{tests} of the classical kind, which do not take account of errors that are {Kind(fits.First(f => f.Fit.StandardErrors != StandardErrors.Classical).Fit, names)}");
        return Finish(table, [Sentence($"{Opening(how)} of {names[first.Response]}, n = {first.Observations}; {tests}.")], heads.Append("Against the model above"));
    }

    private static TestResult Compare(RegressionFit smaller, RegressionFit larger) => (smaller, larger) switch
    {
        (LinearFit a, LinearFit b) => a.Compare(b),
        (GeneralizedFit a, GeneralizedFit b) => a.Compare(b),
        _ => throw new InvalidOperationException("The fits are of different kinds."),
    };
}
