using System.Collections.Immutable;
using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Fits;

/// <summary>What time counts as in a test of proportional hazards.</summary>
public enum TimeScale
{
    /// <summary>One less the estimated share that survives.</summary>
    Survival,

    /// <summary>Time itself.</summary>
    Time,

    /// <summary>The natural logarithm of time.</summary>
    Logarithm,
}

/// <summary>What a Cox fit knows beside its coefficients.</summary>
internal sealed record CoxDetails(string EventName, int Events, double NullLogLikelihood, string? StrataName, int Strata, bool IsEfron, Func<TimeScale, TestResult[]> Proportionality);

/// <summary>A proportional-hazards model; the coefficients are logarithms of hazard ratios.</summary>
public sealed class CoxFit : EstimatedFit
{
    private readonly CoxDetails details;

    internal CoxFit(EstimatedBasis basis, StandardErrors errors, CoxDetails details)
        : base(basis, errors) => this.details = details;

    /// <summary>How many events occurred in the rows used.</summary>
    public int Events => details.Events;

    /// <summary>The logarithm of the partial likelihood without any term.</summary>
    public double NullLogLikelihood => details.NullLogLikelihood;

    /// <summary>p ln d − 2 log L, with the number d of events.</summary>
    public override double Bic => (Basis.ParameterCount * Math.Log(Events)) - (2 * LogLikelihood);

    /// <inheritdoc/>
    public override ImmutableArray<ModelStatistic> Statistics => [new("Events", Events, "#,0"), .. details.Strata > 1 ? [new ModelStatistic("Strata", details.Strata, "#,0")] : Array.Empty<ModelStatistic>(), .. base.Statistics];

    /// <inheritdoc/>
    public override ImmutableArray<string> Notes =>
    [
        $"Tied times by {(details.IsEfron ? "Efron" : "Breslow")}'s method.",
        .. details.StrataName is { } strata ? [$"The baseline hazard is one for each {strata}."] : Array.Empty<string>(),
    ];

    /// <summary>The same fit with other standard errors: <see cref="StandardErrors.Hc0"/> for robust ones, or clustered by one grouping, with the factor G/(G−1).</summary>
    /// <exception cref="AnalysisException">The kind makes no sense here, or there are fewer than two clusters.</exception>
    /// <remarks>Lin &amp; Wei (1989), Journal of the American Statistical Association 84.</remarks>
    public CoxFit With(StandardErrors errors)
    {
        ArgumentNullException.ThrowIfNull(errors);
        return new CoxFit(Basis, errors, details);
    }

    /// <summary>The likelihood-ratio test that no term matters.</summary>
    public TestResult LikelihoodRatioTest()
    {
        var statistic = Math.Max(0, 2 * (LogLikelihood - NullLogLikelihood));
        return new TestResult("likelihood-ratio test", statistic, Terms.Length, null, Tails.ChiSquaredUpper(statistic, Terms.Length));
    }

    /// <summary>A likelihood-ratio test against a fit with more terms, of the same rows.</summary>
    /// <exception cref="AnalysisException">The fits are not of the same rows, events or strata.</exception>
    public TestResult Compare(CoxFit larger)
    {
        ArgumentNullException.ThrowIfNull(larger);
        if (larger.details.StrataName != details.StrataName || larger.details.EventName != details.EventName) throw new AnalysisException("the fits do not compare: their events or strata are not the same");
        return CompareWith(larger);
    }

    /// <summary>Tests that the hazards are proportional: for each term that its coefficient does not change over time, and for all together last. A small p-value speaks against it.</summary>
    /// <param name="scale">What time counts as.</param>
    /// <remarks>Grambsch &amp; Therneau (1994), Biometrika 81, as a score test.</remarks>
    public IReadOnlyList<TestResult> ProportionalHazardsTest(TimeScale scale = TimeScale.Survival) => details.Proportionality(scale);
}
