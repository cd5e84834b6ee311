using System.Collections.Immutable;
using Fennick.Statistics.Estimators;
using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Fits;

/// <summary>A model of ordered categories: positive coefficients make higher categories likelier. The thresholds stand behind the terms.</summary>
public sealed class OrderedFit : EstimatedFit
{
    internal const string ThresholdsName = "thresholds";
    private readonly double empty;
    private readonly bool isProbit;

    internal OrderedFit(EstimatedBasis basis, StandardErrors errors, ImmutableArray<string> categories, double empty, bool isProbit)
        : base(basis, errors) => (Categories, this.empty, this.isProbit) = (categories, empty, isProbit);

    /// <summary>The categories in their order.</summary>
    public ImmutableArray<string> Categories { get; }

    /// <summary>The thresholds between the categories, on the scale of the linear predictor.</summary>
    public IReadOnlyList<TermEstimate> Thresholds => [.. Terms.Where(t => t.Term.Variable == ThresholdsName)];

    /// <summary>The log-likelihood with thresholds alone.</summary>
    public double NullLogLikelihood => empty;

    /// <summary>1 − log L / log L of the thresholds alone (McFadden).</summary>
    public double PseudoRSquared => 1 - (LogLikelihood / empty);

    /// <inheritdoc/>
    public override ImmutableArray<ModelStatistic> Statistics => [new("Pseudo-R²", PseudoRSquared), .. base.Statistics];

    /// <inheritdoc/>
    public override ImmutableArray<string> Notes => [$"Categories in their order: {string.Join(", ", Categories)}."];

    /// <summary>The same fit with other standard errors: <see cref="StandardErrors.Hc0"/>, or clustered by one grouping.</summary>
    /// <exception cref="AnalysisException">The kind makes no sense here, or there are fewer than two clusters.</exception>
    public OrderedFit With(StandardErrors errors)
    {
        ArgumentNullException.ThrowIfNull(errors);
        return new OrderedFit(Basis, errors, Categories, empty, isProbit);
    }

    /// <summary>The likelihood-ratio test that no term matters.</summary>
    public TestResult LikelihoodRatioTest()
    {
        var (statistic, degrees) = (Math.Max(0, 2 * (LogLikelihood - empty)), Terms.Length - Thresholds.Count);
        return new TestResult("likelihood-ratio test", statistic, degrees, null, Tails.ChiSquaredUpper(statistic, degrees));
    }

    /// <summary>A likelihood-ratio test against a fit with more terms, of the same rows.</summary>
    /// <exception cref="AnalysisException">The fits are not of the same rows.</exception>
    public TestResult Compare(OrderedFit larger) => CompareWith(larger);

    /// <summary>Average effects of a variable on the probability of each category: for a number the average slope, for a factor the average difference of each level from the reference.</summary>
    /// <param name="variable">The name of a variable that stands in one term by itself.</param>
    /// <returns>For each category, in order, the effects of the variable; errors by the delta method.</returns>
    /// <exception cref="AnalysisException">The fit has no such variable, or it stands in an interaction or another term too.</exception>
    public IReadOnlyList<(string Category, IReadOnlyList<AverageEffect> Effects)> MarginalEffects(string variable) => CategoryEffects.Of(this, Basis, Categories, variable, Probabilities);

    /// <summary>The probability of each category at a row's values.</summary>
    private double[] Probabilities(double[] coefficients, ReadOnlySpan<double> row)
    {
        var (k, linear) = (row.Length, Vectors.Dot(row, coefficients.AsSpan(0, row.Length)));
        return [.. Enumerable.Range(0, Categories.Length).Select(c => OrderedEstimator.Part.Of(coefficients.AsSpan(k), linear, c, Categories.Length, isProbit).Probability)];
    }

    private protected override bool IsConstant(int place) => Terms[place].Term.Variable == ThresholdsName;
}
