using System.Collections.Immutable;
using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Fits;

/// <summary>What a mixed model knows beside its fixed effects.</summary>
internal sealed record MixedDetails(string Group, ImmutableArray<string> Levels, ImmutableArray<string> Effects, double[,] Covariance, double? ResidualVariance, double WithoutEffects, bool IsRestricted, double[][] Predictions)
{
    public int Nodes { get; init; }

    /// <summary>The covariance of the fixed effects from the expected information; null if it is not known.</summary>
    public double[,]? Expected { get; init; }
}

/// <summary>A model with random effects of one grouping; the terms are its fixed effects, compared with the normal distribution.</summary>
public sealed class MixedFit : EstimatedFit
{
    private readonly MixedDetails details;

    internal MixedFit(EstimatedBasis basis, StandardErrors errors, MixedDetails details)
        : base(basis, errors) => this.details = details;

    /// <summary>
    /// The same fit with errors from the expected information, (X'V⁻¹X)⁻¹, as if the variances were known. Otherwise they are from the observed one, the curvature of the likelihood in the
    /// fixed effects and the variances together; the two differ by a percent or so in small samples.
    /// </summary>
    /// <exception cref="AnalysisException">The fit is of a logistic model.</exception>
    public MixedFit WithExpectedInformation() => new(Basis with { Covariance = details.Expected ?? throw new AnalysisException("the expected information of a mixed logistic regression is not known") }, StandardErrors.ExpectedInformation, details);

    /// <summary>The name of the grouping.</summary>
    public string Group => details.Group;

    /// <summary>How many groups there are.</summary>
    public int Groups => details.Levels.Length;

    /// <summary>What differs by group: the intercept, then the variables whose slopes do.</summary>
    public ImmutableArray<string> RandomEffects => details.Effects;

    /// <summary>The variance of what is left, in squared units of the response; null for a logistic model.</summary>
    public double? ResidualVariance => details.ResidualVariance;

    /// <summary>The share of the variance that is between groups, of a model with random intercepts alone; for a logistic one on the scale of the linear predictor, where rows vary by π²/3. Null with random slopes.</summary>
    public double? IntraclassCorrelation => details.Effects.Length > 1 ? null : details.Covariance[0, 0] / (details.Covariance[0, 0] + (ResidualVariance ?? (Math.PI * Math.PI / 3)));

    /// <inheritdoc/>
    public override ImmutableArray<ModelStatistic> Statistics
    {
        get
        {
            var rows = ImmutableArray.CreateBuilder<ModelStatistic>();
            rows.Add(new ModelStatistic("Groups", Groups, "#,0"));
            for (var e = 0; e < details.Effects.Length; e++) rows.Add(new ModelStatistic(e == 0 ? "Variance of intercepts" : details.Effects.Length == 2 ? "Variance of slopes" : $"Variance of slopes of {details.Effects[e]}", details.Covariance[e, e]));
            if (ResidualVariance is { } rest) rows.Add(new ModelStatistic("Residual variance", rest));
            if (IntraclassCorrelation is { } share) rows.Add(new ModelStatistic("Intraclass correlation", share));
            rows.AddRange(base.Statistics);
            return rows.ToImmutable();
        }
    }

    /// <inheritdoc/>
    public override ImmutableArray<string> Notes =>
    [
        $"Random {(details.Effects.Length == 1 ? "intercepts" : $"intercepts and slopes of {string.Join(", ", details.Effects.Skip(1))}")} by {Group}, "
        + (details.Nodes > 0 ? $"integrated with {details.Nodes} nodes of adaptive quadrature." : details.IsRestricted ? "by restricted maximum likelihood." : "by maximum likelihood."),
    ];

    /// <summary>The covariance of the random effects, in the order of <see cref="RandomEffects"/>.</summary>
    public double[,] RandomCovariance() => (double[,])details.Covariance.Clone();

    /// <summary>What is predicted of a group's random effects, in the order of <see cref="RandomEffects"/>: best linear unbiased predictions, or modes for a logistic model.</summary>
    /// <param name="group">The group.</param>
    /// <exception cref="AnalysisException">There is no such group.</exception>
    public IReadOnlyList<double> EffectsOf(string group) => details.Levels.IndexOf(group) is >= 0 and var place ? details.Predictions[place]
        : throw new AnalysisException($"there is no group `{group}` of {Group} in the rows used");

    /// <summary>
    /// The likelihood-ratio test that there are no random effects. Variances cannot be negative, so for random intercepts the statistic has half of its weight at zero; with slopes the
    /// p-value is that of a χ², which is too large.
    /// </summary>
    /// <remarks>Self &amp; Liang (1987), Journal of the American Statistical Association 82.</remarks>
    public TestResult RandomEffectsTest()
    {
        var (statistic, q) = (Math.Max(0, details.WithoutEffects), details.Effects.Length);
        var degrees = q * (q + 1) / 2;
        return new TestResult("likelihood-ratio test of the random effects", statistic, degrees, null, q > 1 ? Tails.ChiSquaredUpper(statistic, degrees) : statistic == 0 ? 1 : Tails.ChiSquaredUpper(statistic, 1) / 2);
    }

    /// <summary>
    /// A likelihood-ratio test against a model with more terms or more random effects, of the same rows. Where one random slope is added, the p-value is halfway between those of as many
    /// and one fewer degrees of freedom.
    /// </summary>
    /// <param name="larger">The larger model.</param>
    /// <exception cref="AnalysisException">The fits are not of the same rows, or of restricted likelihoods with other fixed terms.</exception>
    /// <remarks>Stram &amp; Lee (1994), Biometrics 50.</remarks>
    public TestResult Compare(MixedFit larger)
    {
        ArgumentNullException.ThrowIfNull(larger);
        var isSameFixed = Terms.Select(t => t.Name).SequenceEqual(larger.Terms.Select(t => t.Name));
        if (!isSameFixed && details.IsRestricted) throw new AnalysisException("restricted likelihoods of models with other fixed terms do not compare; fit both with `restricted: false`");
        if (larger.Group != Group) throw new AnalysisException($"the fits do not compare: one has groups of {Group}, the other of {larger.Group}");
        var test = CompareWith(larger);
        var (q, more) = (details.Effects.Length, larger.details.Effects.Length - details.Effects.Length);
        return isSameFixed && more == 1 ? test with { PValue = (Tails.ChiSquaredUpper(test.Statistic, q) + Tails.ChiSquaredUpper(test.Statistic, q + 1)) / 2 } : test;
    }
}
