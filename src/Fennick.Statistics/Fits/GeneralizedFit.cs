namespace Fennick.Statistics.Fits;

/// <summary>A fit of a generalized linear model: logistic, probit, Poisson or negative binomial.</summary>
public sealed class GeneralizedFit : RegressionFit
{
    private readonly Outcome outcome;

    internal GeneralizedFit(FitBasis basis, StandardErrors errors, Outcome outcome)
        : base(basis, errors) => this.outcome = outcome;

    /// <summary>Twice the difference of log-likelihoods between a fit that meets every response and this one.</summary>
    public double Deviance => outcome.Deviance;

    /// <summary>The deviance of a fit with the intercept alone.</summary>
    public double NullDeviance => outcome.NullDeviance;

    /// <summary>The log-likelihood of a fit with the intercept alone.</summary>
    public double NullLogLikelihood => outcome.NullLogLikelihood;

    /// <summary>Pearson's χ²: the sum of (y − μ)² over the variance at μ. Over its degrees of freedom it estimates the dispersion.</summary>
    public double PearsonChiSquared => outcome.PearsonChiSquared;

    /// <summary>1 − log L / log L₀.</summary>
    /// <remarks>McFadden (1974), in Frontiers in Econometrics.</remarks>
    public double PseudoRSquared => 1 - (LogLikelihood / NullLogLikelihood);

    /// <summary>Whether the iteration met its criterion: a step shorter than 1e-9 of the coefficients' standard errors.</summary>
    public override bool Converged => outcome.Converged;

    /// <summary>The steps of the iteration.</summary>
    public int Iterations => outcome.Iterations;

    /// <summary>θ of a negative binomial, whose variance is μ + μ²/θ; null for other models.</summary>
    public double? Theta => outcome.Theta;

    private protected override int ParameterCount => base.ParameterCount + (Theta is null ? 0 : 1);

    /// <summary>Tests that all terms but the intercept are zero.</summary>
    /// <exception cref="AnalysisException">There are no such terms.</exception>
    public TestResult LikelihoodRatioTest() => LikelihoodRatio(NullLogLikelihood, Terms.Length - (HasIntercept ? 1 : 0));

    /// <summary>The same fit with other standard errors.</summary>
    /// <exception cref="AnalysisException">There are fewer than two clusters.</exception>
    public GeneralizedFit With(StandardErrors errors)
    {
        ArgumentNullException.ThrowIfNull(errors);
        return new GeneralizedFit(Basis, errors, outcome);
    }

    /// <summary>Compares this fit with one that has more terms, on the same rows, response and offset: a likelihood-ratio test.</summary>
    /// <param name="larger">The fit with more terms.</param>
    /// <exception cref="AnalysisException">The fits are not of the same rows, response, offset or kind, or this one is not nested in the other.</exception>
    public TestResult Compare(GeneralizedFit larger)
    {
        ArgumentNullException.ThrowIfNull(larger);
        CheckSameData(larger);
        var more = larger.Terms.Length - Terms.Length;
        if (more <= 0) throw new AnalysisException("the second fit must have more terms than the first");
        CheckNestedIn(larger);
        return larger.LikelihoodRatio(LogLikelihood, more);
    }

    internal sealed record Outcome(double Deviance, double NullDeviance, double NullLogLikelihood, double PearsonChiSquared, bool Converged, int Iterations, double? Theta);
}
