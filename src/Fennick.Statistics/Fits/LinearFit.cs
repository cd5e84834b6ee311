using System.Collections.Immutable;
using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Fits;

/// <summary>A fit by least squares, plain, weighted, in two stages, or with absorbed effects.</summary>
public sealed class LinearFit : RegressionFit
{
    private readonly double total;
    private readonly InstrumentTests? instruments;
    private ImmutableArray<ModelStatistic>? statistics;

    internal LinearFit(FitBasis basis, StandardErrors errors, double total, InstrumentTests? instruments = null)
        : base(basis, errors) => (this.total, this.instruments) = (total, instruments);

    /// <summary>Measures of the instruments, of a fit in two stages: the F of the first stage, and the p-values of the tests of over-identification and endogeneity.</summary>
    public override ImmutableArray<ModelStatistic> Statistics => instruments is null ? [] : statistics ??= instruments.Statistics(StandardErrors);

    /// <summary>Tests, for each endogenous term, that the instruments are no part of its first stage, with this fit's kind of errors; a small F tells of weak instruments.</summary>
    /// <exception cref="AnalysisException">The fit is not in two stages.</exception>
    public IReadOnlyList<TestResult> FirstStageTests() => Instruments.FirstStages(StandardErrors);

    /// <summary>The effective F of the first stage of one endogenous term, which allows for rows that vary differently or are clustered.</summary>
    /// <returns>With one endogenous term; with classical errors it is the F of the first stage.</returns>
    /// <exception cref="AnalysisException">The fit is not in two stages, or has several endogenous terms.</exception>
    /// <remarks>Montiel Olea &amp; Pflueger (2013), Journal of Business &amp; Economic Statistics 31.</remarks>
    public double EffectiveF() => Instruments.EffectiveF(StandardErrors);

    /// <summary>Tests that the instruments beyond those needed have no effect of their own: Sargan's test with classical errors, else Hansen's.</summary>
    /// <exception cref="AnalysisException">The fit is not in two stages, or there are no more instruments than endogenous terms.</exception>
    /// <remarks>Sargan (1958), Econometrica 26: n times the uncentred R² of the residuals on the instruments; Hansen (1982), Econometrica 50, at the two-step estimates.</remarks>
    public TestResult OveridentificationTest() => Instruments.Overidentification(StandardErrors);

    /// <summary>Tests that the endogenous terms are exogenous after all: that the residuals of their first stages have no effect in least squares, with this fit's kind of errors.</summary>
    /// <exception cref="AnalysisException">The fit is not in two stages.</exception>
    /// <remarks>Durbin, Wu and Hausman, as a regression: Wooldridge, Econometric Analysis of Cross Section and Panel Data, 2nd ed., §6.3.</remarks>
    public TestResult EndogeneityTest() => Instruments.Endogeneity(StandardErrors);

    private InstrumentTests Instruments => instruments ?? throw new AnalysisException("the fit has no instruments; make it with `Regression.TwoStageLeastSquares`");

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
        return new LinearFit(Basis, errors, total, instruments);
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

    /// <summary>
    /// The wild cluster bootstrap that a term is zero, for few clusters: the signs of the clusters' residuals are drawn anew under the hypothesis, and t compared each time. With up to 12
    /// clusters all arrangements of signs are counted.
    /// </summary>
    /// <param name="term">The name of the term.</param>
    /// <param name="draws">How many draws.</param>
    /// <param name="seed">Where the random numbers begin; the same seed gives the same result.</param>
    /// <exception cref="AnalysisException">The fit's errors are not clustered by one grouping, or it is not of plain least squares.</exception>
    /// <remarks>Cameron, Gelbach &amp; Miller (2008), Review of Economics and Statistics 90. The p-value of B draws is (1 + those at least as far) / (B + 1).</remarks>
    public TestResult WildBootstrapTest(string term, int draws = 999, int seed = 1)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(draws, 1);
        if (StandardErrors.Correction != StandardErrors.ClusteredCorrection || StandardErrors.Groups.Count != 1) throw new AnalysisException("a wild cluster bootstrap needs errors clustered by one grouping: `fit.With(StandardErrors.ClusteredBy(…)).WildBootstrapTest(…)`");
        if (Basis.Estimator != Regression.LeastSquaresName || Basis.Data.Weights is not null || Basis.Design.Partition.Count > 1) throw new AnalysisException("a wild cluster bootstrap is made for least squares without weights, absorbed effects or factors of very many levels");
        return WildBootstrap.Test(this, Terms.IndexOf(this[term]), draws, seed);
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
