using System.Collections.Immutable;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Fits;

/// <summary>A multinomial logit: the coefficients are logarithms of the odds of a category against the reference. Each category but the reference is a column of a table of its own: <see cref="ByCategory"/>.</summary>
public sealed class MultinomialFit : EstimatedFit
{
    private readonly int reference;
    private readonly ImmutableArray<Term> ownTerms;
    private readonly double empty;

    internal MultinomialFit(EstimatedBasis basis, StandardErrors errors, ImmutableArray<string> categories, int reference, ImmutableArray<Term> ownTerms, double empty)
        : base(basis, errors) => (Categories, this.reference, this.ownTerms, this.empty) = (categories, reference, ownTerms, empty);

    /// <summary>The categories.</summary>
    public ImmutableArray<string> Categories { get; }

    /// <summary>The category that the others are compared with.</summary>
    public string Reference => Categories[reference];

    /// <summary>The log-likelihood with constants alone.</summary>
    public double NullLogLikelihood => empty;

    /// <summary>1 − log L / log L of the constants alone (McFadden).</summary>
    public double PseudoRSquared => 1 - (LogLikelihood / empty);

    /// <inheritdoc/>
    public override ImmutableArray<ModelStatistic> Statistics => [new("Pseudo-R²", PseudoRSquared), .. base.Statistics];

    /// <inheritdoc/>
    public override ImmutableArray<string> Notes => [$"Each category of {Response} is compared with {Reference}."];

    /// <summary>The coefficients of each category but the reference, as a model by itself: a table shows them side by side.</summary>
    public IReadOnlyList<IModelResult> ByCategory =>
    [
        .. Categories.Where((_, c) => c != reference).Select((category, place) =>
        {
            var (first, covariance) = (place * ownTerms.Length, Covariance());
            return new ModelResult(Estimator, category, Observations, ownTerms.Select((term, i) => Terms[first + i] with { Term = term }))
            {
                ErrorKind = ErrorKind,
                ErrorGroups = ErrorGroups,
                ClusterCounts = ClusterCounts,
                Statistics = Statistics,
                Notes = Notes,
                Warnings = Warnings,
                Converged = Converged,
                RowsLeftOut = RowsLeftOut,
                RecordType = RecordType,
            }.WithCovariance(Estimators.Categories.Reorder(covariance, [.. Enumerable.Range(first, ownTerms.Length)]));
        }),
    ];

    /// <summary>The same fit with other standard errors: <see cref="StandardErrors.Hc0"/>, or clustered by one grouping.</summary>
    /// <exception cref="AnalysisException">The kind makes no sense here, or there are fewer than two clusters.</exception>
    public MultinomialFit With(StandardErrors errors)
    {
        ArgumentNullException.ThrowIfNull(errors);
        return new MultinomialFit(Basis, errors, Categories, reference, ownTerms, empty);
    }

    /// <summary>The likelihood-ratio test that no term matters.</summary>
    public TestResult LikelihoodRatioTest()
    {
        var (statistic, degrees) = (Math.Max(0, 2 * (LogLikelihood - empty)), Terms.Length - Categories.Length + 1);
        return new TestResult("likelihood-ratio test", statistic, degrees, null, Tails.ChiSquaredUpper(statistic, degrees));
    }

    /// <summary>A likelihood-ratio test against a fit with more terms, of the same rows.</summary>
    /// <exception cref="AnalysisException">The fits are not of the same rows.</exception>
    public TestResult Compare(MultinomialFit larger) => CompareWith(larger);

    /// <summary>Average effects of a variable on the probability of each category: for a number the average slope, for a factor the average difference of each level from the reference.</summary>
    /// <param name="variable">The name of a variable that stands in one term by itself.</param>
    /// <returns>For each category, in order, the effects of the variable; errors by the delta method.</returns>
    /// <exception cref="AnalysisException">The fit has no such variable, or it stands in an interaction or another term too.</exception>
    public IReadOnlyList<(string Category, IReadOnlyList<AverageEffect> Effects)> MarginalEffects(string variable) => CategoryEffects.Of(this, Basis, Categories, variable, Probabilities);

    private double[] Probabilities(double[] coefficients, ReadOnlySpan<double> row)
    {
        var (width, values) = (row.Length + 1, new double[Categories.Length]);
        for (int c = 0, other = 0; c < values.Length; c++)
        {
            if (c == reference) continue;
            values[c] = coefficients[other * width] + Vectors.Dot(row, coefficients.AsSpan((other * width) + 1, row.Length));
            other++;
        }
        var highest = values.Max();
        for (var c = 0; c < values.Length; c++) values[c] = Math.Exp(values[c] - highest);
        var total = values.Sum();
        for (var c = 0; c < values.Length; c++) values[c] /= total;
        return values;
    }

    private protected override bool IsConstant(int place) => Terms[place].Term.Variable == Term.InterceptName;
}
