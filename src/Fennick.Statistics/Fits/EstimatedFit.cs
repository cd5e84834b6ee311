using System.Collections.Immutable;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Fits;

/// <summary>A model that was estimated by its likelihood: its terms, their errors, and how well it fits.</summary>
public abstract class EstimatedFit : IModelResult
{
    private readonly double[,] covariance;

    private protected EstimatedFit(EstimatedBasis basis, StandardErrors errors, double degreesOfFreedom = double.PositiveInfinity)
    {
        Basis = basis;
        StandardErrors = errors;
        (covariance, ClusterCounts) = basis.ErrorsOf(errors);
        Terms = [.. basis.Terms.Select((term, i) => basis.Infinite.TryGetValue(i, out var sign)
            ? new TermEstimate(term, sign * double.PositiveInfinity, double.PositiveInfinity, double.PositiveInfinity)
            : new TermEstimate(term, basis.Coefficients[i], Math.Sqrt(covariance[i, i]), degreesOfFreedom))];
    }

    /// <inheritdoc/>
    public string Estimator => Basis.Estimator;

    /// <inheritdoc/>
    public virtual string Response => Basis.Data.ResponseName;

    /// <inheritdoc/>
    public ImmutableArray<TermEstimate> Terms { get; }

    /// <summary>A term by name.</summary>
    /// <exception cref="AnalysisException">The fit has no such term.</exception>
    public TermEstimate this[string name] => Terms.Named(name);

    /// <summary>The kind of the standard errors.</summary>
    public StandardErrors StandardErrors { get; }

    /// <inheritdoc/>
    public string ErrorKind => StandardErrors.Kind;

    /// <inheritdoc/>
    public IReadOnlyList<string> ErrorGroups => StandardErrors.GroupNames;

    /// <inheritdoc/>
    public ImmutableArray<int> ClusterCounts { get; }

    /// <inheritdoc/>
    public int Observations => Basis.Data.Rows.Length;

    /// <inheritdoc/>
    public int RowsLeftOut => Basis.Data.RowsLeftOut;

    /// <inheritdoc/>
    public int RowsOutsideDomain => Basis.Data.RowsOutsideDomain;

    /// <inheritdoc/>
    public Type? RecordType => Basis.Data.RecordType;

    /// <inheritdoc/>
    public bool Converged => Basis.Converged;

    /// <summary>How many steps the iteration took.</summary>
    public int Iterations => Basis.Iterations;

    /// <summary>The natural logarithm of the likelihood at the estimates; partial, restricted or conditional where the estimator's is.</summary>
    public double LogLikelihood => Basis.LogLikelihood;

    /// <summary>2 p − 2 log L; p counts all that was estimated.</summary>
    public double Aic => (2 * Basis.ParameterCount) - (2 * LogLikelihood);

    /// <summary>p ln n − 2 log L.</summary>
    public virtual double Bic => (Basis.ParameterCount * Math.Log(Observations)) - (2 * LogLikelihood);

    /// <inheritdoc/>
    public ImmutableArray<AnalysisWarning> Warnings => [.. Basis.Data.Warnings, .. Basis.Warnings];

    /// <inheritdoc/>
    public virtual ImmutableArray<string> AbsorbedGroupings => [];

    /// <inheritdoc/>
    public virtual ImmutableArray<ModelStatistic> Statistics => [new("Log-likelihood", LogLikelihood, "#,0.0"), new("AIC", Aic, "#,0.0")];

    /// <inheritdoc/>
    public virtual ImmutableArray<string> Notes => [];

    internal EstimatedBasis Basis { get; }

    /// <summary>The covariance matrix of the coefficients, k × k, in the order of the terms.</summary>
    public double[,] Covariance() => (double[,])covariance.Clone();

    /// <summary>Tests that several terms are all zero, by a χ² test.</summary>
    /// <param name="names">Names of terms or of variables; all levels of a factor are meant by its name. Without any, all terms but constants.</param>
    /// <exception cref="AnalysisException">A name is unknown, or the errors cannot tell so many terms apart.</exception>
    public TestResult Wald(params string[] names)
    {
        ArgumentNullException.ThrowIfNull(names);
        int[] chosen = names.Length == 0 ? [.. Enumerable.Range(0, Terms.Length).Where(i => !IsConstant(i))] : [.. names.SelectMany(n => Terms.PlacesOf(n)).Distinct()];
        if (chosen.Length == 0) throw new AnalysisException("there are no terms to test");
        if (chosen.FirstOrDefault(Basis.Infinite.ContainsKey, -1) is >= 0 and var infinite) throw new AnalysisException($"the term `{Terms[infinite].Name}` has no finite estimate, so it cannot be tested; use a likelihood-ratio test");
        var statistic = TermLists.WaldStatistic([.. chosen.Select(c => Terms[c].Estimate)], Estimators.Categories.Reorder(covariance, chosen), StandardErrors.Name);
        return new TestResult("Wald χ² test", statistic, chosen.Length, null, Tails.ChiSquaredUpper(statistic, chosen.Length));
    }

    /// <summary>Whether a coefficient is a constant or a threshold.</summary>
    private protected virtual bool IsConstant(int place) => Terms[place].Name == Term.InterceptName;

    /// <summary>A likelihood-ratio test against a model with more terms, of the same rows.</summary>
    private protected TestResult CompareWith(EstimatedFit larger)
    {
        ArgumentNullException.ThrowIfNull(larger);
        if (larger.Estimator != Estimator) throw new AnalysisException($"the fits do not compare: one is by {Estimator}, the other by {larger.Estimator}");
        if (larger.Response != Response || !larger.Basis.Data.Rows.AsSpan().SequenceEqual(Basis.Data.Rows) || !larger.Basis.Data.Response.AsSpan().SequenceEqual(Basis.Data.Response))
            throw new AnalysisException("the fits do not compare: they are not of the same rows and response; fit both to the rows that are complete in both");
        var more = larger.Basis.ParameterCount - Basis.ParameterCount;
        if (more <= 0) throw new AnalysisException("the second fit must have more terms than the first");
        var statistic = Math.Max(0, 2 * (larger.LogLikelihood - LogLikelihood));
        return new TestResult("likelihood-ratio test", statistic, more, null, Tails.ChiSquaredUpper(statistic, more));
    }
}
