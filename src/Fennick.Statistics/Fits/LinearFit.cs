using System.Collections.Immutable;
using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Fits;

/// <summary>A fit by least squares, plain, weighted, in two stages, or with absorbed effects.</summary>
public sealed class LinearFit : RegressionFit
{
    private readonly double total;

    internal LinearFit(FitBasis basis, StandardErrors errors, double total)
        : base(basis, errors) => this.total = total;

    /// <summary>How many effects were absorbed without columns of their own.</summary>
    public int AbsorbedEffects => Basis.Absorption?.EffectCount ?? 0;

    /// <inheritdoc/>
    public override ImmutableArray<string> AbsorbedGroupings => [.. Basis.Data.Absorbed.Select(a => a.Name)];

    /// <summary>The sum of (weighted) squared residuals, in squared units of the response.</summary>
    public double ResidualSumOfSquares => Basis.Dispersion * ResidualDegreesOfFreedom;

    /// <summary>√(residual sum of squares / residual degrees of freedom), in units of the response.</summary>
    public double ResidualStandardError => Math.Sqrt(Basis.Dispersion);

    /// <summary>The share of the variation that is explained: around the mean with an intercept, around zero without, within the groups where effects are absorbed.</summary>
    public double RSquared => 1 - (ResidualSumOfSquares / total);

    /// <summary>R² adjusted for the number of terms.</summary>
    public double AdjustedRSquared => 1 - ((1 - RSquared) * (Observations - (HasIntercept ? 1 : 0) - AbsorbedEffects) / ResidualDegreesOfFreedom);

    /// <summary>Tests that all terms but the intercept are zero, with this fit's own kind of errors.</summary>
    /// <exception cref="AnalysisException">There are no terms to test, or as for <see cref="RegressionFit.Wald"/>.</exception>
    public TestResult FTest()
    {
        if (StandardErrors.Correction >= 0 || Basis.Estimator != Regression.LeastSquaresName) return Wald();
        var tested = Terms.Length - (HasIntercept ? 1 : 0);
        if (tested == 0) throw new AnalysisException("there are no terms to test");
        var statistic = (total - ResidualSumOfSquares) / tested / Basis.Dispersion;
        return new TestResult("F test", statistic, tested, ResidualDegreesOfFreedom, Tails.FUpper(statistic, tested, ResidualDegreesOfFreedom));
    }

    /// <summary>The same fit with other standard errors.</summary>
    /// <exception cref="AnalysisException">There are fewer than two clusters.</exception>
    public LinearFit With(StandardErrors errors)
    {
        ArgumentNullException.ThrowIfNull(errors);
        return new LinearFit(Basis, errors, total);
    }

    /// <summary>The same fit with each of several kinds of standard errors, computed in one pass over the rows.</summary>
    /// <param name="errors">The kinds.</param>
    /// <returns>A fit for each kind, in their order.</returns>
    /// <exception cref="AnalysisException">There are fewer than two clusters.</exception>
    public IReadOnlyList<LinearFit> WithEach(params StandardErrors[] errors)
    {
        ArgumentNullException.ThrowIfNull(errors);
        Basis.Prepare(errors);
        return [.. errors.Select(With)];
    }

    /// <summary>Compares this fit with one that has more terms, on the same rows, response and weights: the classical F test, whatever kind of errors the fits have.</summary>
    /// <param name="larger">The fit with more terms.</param>
    /// <exception cref="AnalysisException">The fits are not of the same rows, response, weights or kind, or this one is not nested in the other.</exception>
    public TestResult Compare(LinearFit larger)
    {
        ArgumentNullException.ThrowIfNull(larger);
        CheckSameData(larger);
        if (Basis.Estimator == Regression.TwoStageName) throw new AnalysisException("fits in two stages do not compare by their residuals; test their terms with `Wald`");
        var more = ResidualDegreesOfFreedom - larger.ResidualDegreesOfFreedom;
        if (more <= 0) throw new AnalysisException("the second fit must have more terms than the first");
        CheckNestedIn(larger);
        var statistic = Math.Max(0, ResidualSumOfSquares - larger.ResidualSumOfSquares) / more / larger.Basis.Dispersion;
        return new TestResult("F test", statistic, more, larger.ResidualDegreesOfFreedom, Tails.FUpper(statistic, more, larger.ResidualDegreesOfFreedom));
    }
}
