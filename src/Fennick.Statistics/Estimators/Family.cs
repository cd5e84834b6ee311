using Fennick.Statistics.Numerics;
using MathNet.Numerics;

namespace Fennick.Statistics.Estimators;

/// <summary>The distribution and link of a generalized linear model.</summary>
/// <remarks>McCullagh &amp; Nelder, Generalized Linear Models, 2nd ed., ch. 2, 4 and 6.</remarks>
internal abstract class Family
{
    public abstract string Estimator { get; }

    /// <summary>The mean for a linear predictor, and its slope.</summary>
    public abstract (double Mean, double Slope) Mean(double linear);

    /// <summary>The curvature of the mean.</summary>
    public abstract double Curvature(double linear, double mean, double slope);

    /// <summary>A linear predictor to start from.</summary>
    public abstract double Start(double response);

    public abstract double Variance(double mean);

    /// <summary>(y − μ)² over the variance at μ.</summary>
    public virtual double Pearson(double response, double linear, double mean) => response == mean ? 0 : (response - mean) * (response - mean) / Variance(mean);

    /// <summary>What the score and the response less its mean have between them: the derivative of the log-likelihood with respect to the linear predictor.</summary>
    public virtual double Score(double response, double linear, double mean, double slope) => response == mean ? 0 : (response - mean) * slope / Variance(mean);

    /// <summary>The linear predictor of a mean.</summary>
    public abstract double Link(double mean);

    public abstract double LogLikelihood(double response, double linear, double mean);

    /// <summary>The part of half the unit deviance that changes with the mean; the rest is <see cref="FixedDeviance"/>. The iteration needs no logarithm where the link is one.</summary>
    public abstract double ChangingDeviance(double response, double linear, double mean);

    /// <summary>The part of half the unit deviance that depends on the response alone.</summary>
    public virtual double FixedDeviance(double response) => 0;

    /// <summary>The information about the linear predictor that the covariance is made of: minus the second derivative of the log-likelihood, or its expectation.</summary>
    public virtual double Information(double response, double linear, double mean, double slope) => slope * slope / Variance(mean);

    /// <summary>What is wrong with a response, or null.</summary>
    public abstract string? Complaint(double[] response, string name);

    /// <summary>(y − p)² / (p (1 − p)): the probability of the other outcome over that of this one.</summary>
    protected double BinaryPearson(double response, double linear) => response == 1 ? Mean(-linear).Mean / Mean(linear).Mean : Mean(linear).Mean / Mean(-linear).Mean;

    protected static string? BinaryComplaint(double[] response, string name)
    {
        var wrong = response.Count(y => y is not (0 or 1));
        if (wrong > 0) return $"the response `{name}` is neither 0 nor 1 in {Variables.ModelData.CountRows(wrong)}";
        var ones = response.Count(y => y == 1);
        return ones == 0 || ones == response.Length ? $"the response `{name}` is {response[0]:0} in all {Variables.ModelData.CountRows(response.Length)}; there is nothing to explain" : null;
    }

    protected static string? CountComplaint(double[] response, string name)
    {
        var negative = response.Count(y => y < 0);
        if (negative > 0) return $"the count `{name}` is negative in {Variables.ModelData.CountRows(negative)}";
        return response.All(y => y == 0) ? $"the count `{name}` is 0 in all {Variables.ModelData.CountRows(response.Length)}; there is nothing to explain" : null;
    }
}

/// <summary>0/1 responses with the logistic link.</summary>
internal sealed class Logistic : Family
{
    public override string Estimator => "logistic regression";

    public override (double Mean, double Slope) Mean(double linear)
    {
        var e = Math.Exp(-Math.Abs(linear));
        var small = e / (1 + e);
        return (linear >= 0 ? 1 - small : small, e / ((1 + e) * (1 + e)));
    }

    // p (1 − p) (1 − 2p), without the cancellation of 1 − 2p.
    public override double Curvature(double linear, double mean, double slope) => -slope * Math.Tanh(linear / 2);

    public override double Link(double mean) => Math.Log(mean / (1 - mean));

    public override double Start(double response) => Math.Log((response + 0.5) / (1.5 - response));

    public override double Variance(double mean) => mean * (1 - mean);

    public override double Pearson(double response, double linear, double mean) => BinaryPearson(response, linear);

    // y − p = ±1 / (1 + e^±linear), right where p is nearly 0 or 1 too.
    public override double Score(double response, double linear, double mean, double slope) => response == 1 ? Mean(-linear).Mean : -Mean(linear).Mean;

    public override double LogLikelihood(double response, double linear, double mean) => -ChangingDeviance(response, linear, mean);

    public override double ChangingDeviance(double response, double linear, double mean)
    {
        var against = response == 1 ? -linear : linear;
        return Math.Max(0, against) + double.LogP1(Math.Exp(-Math.Abs(against)));
    }

    public override double Information(double response, double linear, double mean, double slope) => slope;

    public override string? Complaint(double[] response, string name) => BinaryComplaint(response, name);
}

/// <summary>0/1 responses with the normal distribution as link.</summary>
internal sealed class Probit : Family
{
    public override string Estimator => "probit regression";

    public override (double Mean, double Slope) Mean(double linear) => (Tails.NormalLower(linear), Math.Exp(-linear * linear / 2) / Math.Sqrt(2 * Math.PI));

    public override double Curvature(double linear, double mean, double slope) => -linear * slope;

    public override double Link(double mean) => mean < 0.5 ? -Tails.NormalQuantile(2 * mean) : Tails.NormalQuantile(2 * (1 - mean));

    public override double Start(double response) => response == 1 ? 0.67 : -0.67;

    public override double Variance(double mean) => mean * (1 - mean);

    public override double Pearson(double response, double linear, double mean) => BinaryPearson(response, linear);

    public override double Score(double response, double linear, double mean, double slope) => response == 1 ? Tails.NormalHazard(-linear) : -Tails.NormalHazard(linear);

    public override double LogLikelihood(double response, double linear, double mean) => Tails.LogNormalLower(response == 1 ? linear : -linear);

    public override double ChangingDeviance(double response, double linear, double mean) => -LogLikelihood(response, linear, mean);

    // The observed information: for this link it differs from the expected one.
    public override double Information(double response, double linear, double mean, double slope)
    {
        var ratio = Score(response, linear, mean, slope);
        return ratio * (ratio + linear);
    }

    public override string? Complaint(double[] response, string name) => BinaryComplaint(response, name);
}

/// <summary>Counts with the logarithm as link.</summary>
internal sealed class Poisson : Family
{
    public override string Estimator => "Poisson regression";

    public override (double Mean, double Slope) Mean(double linear)
    {
        var mean = Math.Exp(linear);
        return (mean, mean);
    }

    public override double Curvature(double linear, double mean, double slope) => mean;

    public override double Link(double mean) => Math.Log(mean);

    public override double Start(double response) => Math.Log(response + 0.1);

    public override double Variance(double mean) => mean;

    public override double ChangingDeviance(double response, double linear, double mean) => mean - (response == 0 ? 0 : response * linear);

    public override double FixedDeviance(double response) => response == 0 ? 0 : (response * Math.Log(response)) - response;

    public override double LogLikelihood(double response, double linear, double mean) => (response == 0 ? 0 : response * linear) - mean - SpecialFunctions.GammaLn(response + 1);

    public override string? Complaint(double[] response, string name) => CountComplaint(response, name);
}

/// <summary>Counts that vary more than Poisson's, with the logarithm as link and variance μ + μ²/θ.</summary>
/// <remarks>Lawless (1987), Canadian Journal of Statistics 15.</remarks>
internal sealed class NegativeBinomial(double theta) : Family
{
    public override string Estimator => "negative binomial regression";

    public double Theta => theta;

    public override (double Mean, double Slope) Mean(double linear)
    {
        var mean = Math.Exp(linear);
        return (mean, mean);
    }

    public override double Curvature(double linear, double mean, double slope) => mean;

    public override double Link(double mean) => Math.Log(mean);

    public override double Start(double response) => Math.Log(response + 0.1);

    public override double Variance(double mean) => mean + (mean * mean / theta);

    // Both parts are taken relative to θ, which may be large.
    public override double ChangingDeviance(double response, double linear, double mean) => ((response + theta) * double.LogP1(mean / theta)) - (response == 0 ? 0 : response * linear);

    public override double FixedDeviance(double response) => (response == 0 ? 0 : response * Math.Log(response)) - ((response + theta) * double.LogP1(response / theta));

    public override double LogLikelihood(double response, double linear, double mean) => LogRising(response) - SpecialFunctions.GammaLn(response + 1) - ChangingDeviance(response, linear, mean);

    /// <summary>ln Γ(y + θ) − ln Γ(θ) − y ln θ: the sum of ln(1 + j/θ) for whole y.</summary>
    private double LogRising(double response)
    {
        if (response > 1000 || response != Math.Floor(response)) return SpecialFunctions.GammaLn(response + theta) - SpecialFunctions.GammaLn(theta) - (response * Math.Log(theta));
        var sum = 0.0;
        for (var j = 1; j < response; j++) sum += double.LogP1(j / theta);
        return sum;
    }

    public override string? Complaint(double[] response, string name) => CountComplaint(response, name);
}
