using System.Collections.Immutable;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Fits;

/// <summary>A model that was estimated elsewhere, by its numbers.</summary>
/// <example>
/// <code>
/// ModelResult.Of("quantile regression", "HoneyKg", 584, ["intercept", "ForageHa"], [14.2, 0.21], new[,] { { 1.9, -0.02 }, { -0.02, 0.0004 } }) with
/// {
///     ErrorKind = "bootstrap with 999 draws", Statistics = [new("Quantile", 0.5, "0.00")],
/// }
/// </code>
/// </example>
public sealed record ModelResult : IModelResult
{

    /// <summary>A model without a covariance matrix: each term has its standard error.</summary>
    /// <param name="estimator">What the estimator is called, in lower case.</param>
    /// <param name="response">The name of the response.</param>
    /// <param name="observations">n, the rows used.</param>
    /// <param name="terms">The terms in order.</param>
    /// <exception cref="AnalysisException">There is no term, or two have one name.</exception>
    public ModelResult(string estimator, string response, int observations, params IEnumerable<TermEstimate> terms)
    {
        ArgumentNullException.ThrowIfNull(terms);
        Estimator = estimator;
        Response = response;
        Observations = observations;
        Terms = [.. terms];
        if (Terms.IsEmpty) throw new AnalysisException($"the model of `{response}` has no terms");
        if (Terms.GroupBy(t => t.Name).FirstOrDefault(g => g.Count() > 1) is { } twice) throw new AnalysisException($"the model of `{response}` has {twice.Count()} terms called `{twice.Key}`");
    }

    /// <summary>A model by its coefficients and their covariance.</summary>
    /// <param name="estimator">What the estimator is called, in lower case.</param>
    /// <param name="response">The name of the response.</param>
    /// <param name="observations">n, the rows used.</param>
    /// <param name="names">k names of terms: <c>intercept</c> is the constant, <c>Strain=Dusk</c> a level of a factor.</param>
    /// <param name="coefficients">k coefficients.</param>
    /// <param name="covariance">Their covariance, k × k, symmetric, with no variance below zero.</param>
    /// <param name="degreesOfFreedom">Those of the t statistics; infinite where the normal distribution is meant.</param>
    /// <exception cref="AnalysisException">The sizes do not go together, or the matrix cannot be a covariance.</exception>
    public static ModelResult Of(string estimator, string response, int observations, IReadOnlyList<string> names, IReadOnlyList<double> coefficients, double[,] covariance, double degreesOfFreedom = double.PositiveInfinity)
    {
        ArgumentNullException.ThrowIfNull(names);
        ArgumentNullException.ThrowIfNull(coefficients);
        ArgumentNullException.ThrowIfNull(covariance);
        var count = names.Count;
        if (coefficients.Count != count || covariance.GetLength(0) != count || covariance.GetLength(1) != count)
            throw new AnalysisException($"the model of `{response}` has {count} names, {coefficients.Count} coefficients and a covariance of {covariance.GetLength(0)} × {covariance.GetLength(1)}; they must be as many");
        for (var i = 0; i < count; i++)
        {
            if (!(covariance[i, i] >= 0)) throw new AnalysisException($"the variance of `{names[i]}` in the model of `{response}` is not a number of zero or more");
            for (var j = 0; j < i; j++)
            {
                if (!(Math.Abs(covariance[i, j] - covariance[j, i]) <= 1e-8 * Math.Sqrt(covariance[i, i] * covariance[j, j])))
                    throw new AnalysisException($"the covariance in the model of `{response}` is not symmetric at `{names[i]}` and `{names[j]}`");
            }
        }
        return new ModelResult(estimator, response, observations, names.Select((name, i) => new TermEstimate(Term.Named(name), coefficients[i], Math.Sqrt(covariance[i, i]), degreesOfFreedom))).WithCovariance((double[,])covariance.Clone());
    }

    /// <summary>The same model with the covariance of its coefficients.</summary>
    internal ModelResult WithCovariance(double[,] known) => this with { KnownCovariance = known };

    private double[,]? KnownCovariance { get; init; }

    /// <inheritdoc/>
    public string Estimator { get; }

    /// <inheritdoc/>
    public string Response { get; }

    /// <inheritdoc/>
    public ImmutableArray<TermEstimate> Terms { get; }

    /// <inheritdoc/>
    public int Observations { get; }

    /// <inheritdoc/>
    public string ErrorKind { get; init; } = "classical";

    /// <inheritdoc/>
    public IReadOnlyList<string> ErrorGroups { get; init; } = [];

    /// <inheritdoc/>
    public ImmutableArray<int> ClusterCounts { get; init; } = [];

    /// <inheritdoc/>
    public ImmutableArray<ModelStatistic> Statistics { get; init; } = [];

    /// <inheritdoc/>
    public ImmutableArray<string> Notes { get; init; } = [];

    /// <inheritdoc/>
    public ImmutableArray<AnalysisWarning> Warnings { get; init; } = [];

    /// <inheritdoc/>
    public bool Converged { get; init; } = true;

    /// <inheritdoc/>
    public string? Weights { get; init; }

    /// <inheritdoc/>
    public int RowsLeftOut { get; init; }

    /// <inheritdoc/>
    public ImmutableArray<string> AbsorbedGroupings { get; init; } = [];

    /// <inheritdoc/>
    public Type? RecordType { get; init; }

    /// <inheritdoc/>
    /// <exception cref="AnalysisException">It is not known.</exception>
    public double[,] Covariance() => (double[,]?)KnownCovariance?.Clone() ?? throw new AnalysisException($"the covariance of the coefficients in the model of `{Response}` was not given; make it with `ModelResult.Of`");
}
