using MathNet.Numerics;

namespace Fennick.Statistics.Estimators;

/// <summary>The distribution and link of a generalized linear model.</summary>
/// <remarks>McCullagh &amp; Nelder, Generalized Linear Models, 2nd ed., ch. 2, 4 and 6.</remarks>
internal abstract class Family
{
    public abstract string Estimator { get; }

    /// <summary>The mean for a linear predictor, and its slope.</summary>
    public abstract (double Mean, double Slope) Mean(double linear);

    /// <summary>A linear predictor to start from.</summary>
    public abstract double Start(double response);

    public abstract double Variance(double mean);

    public abstract double UnitDeviance(double response, double mean);

    public abstract double LogLikelihood(double response, double mean);

    /// <summary>The part of half the unit deviance that changes with the mean; the rest is <see cref="FixedDeviance"/>. The iteration needs no logarithm where the link is one.</summary>
    public virtual double ChangingDeviance(double response, double linear, double mean) => UnitDeviance(response, mean) / 2;

    /// <summary>The part of half the unit deviance that depends on the response alone.</summary>
    public virtual double FixedDeviance(double response) => 0;

    /// <summary>The information about the linear predictor that the covariance is made of: minus the second derivative of the log-likelihood, or its expectation.</summary>
    public virtual double Information(double response, double linear, double mean, double slope) => slope * slope / Variance(mean);

    /// <summary>What is wrong with a response, or null.</summary>
    public abstract string? Complaint(double[] response, string name);

    protected static string? BinaryComplaint(double[] response, string name)
    {
        var wrong = response.Count(y => y is not (0 or 1));
        if (wrong > 0) return $"the response `{name}` is neither 0 nor 1 in {Variables.ModelData.CountRows(wrong)}";
        var ones = response.Count(y => y == 1);
        return ones == 0 || ones == response.Length ? $"the response `{name}` is {response[0]:0} in all {Variables.ModelData.CountRows(response.Length)}; there is nothing to explain" : null;
    }

    protected static double BinaryLogLikelihood(double response, double mean) => response == 1 ? Math.Log(mean) : Math.Log(1 - mean);

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

    public override double Start(double response) => Math.Log((response + 0.5) / (1.5 - response));

    public override double Variance(double mean) => mean * (1 - mean);

    public override double UnitDeviance(double response, double mean) => -2 * BinaryLogLikelihood(response, mean);

    public override double LogLikelihood(double response, double mean) => BinaryLogLikelihood(response, mean);

    public override double Information(double response, double linear, double mean, double slope) => slope;

    public override string? Complaint(double[] response, string name) => BinaryComplaint(response, name);
}

/// <summary>0/1 responses with the normal distribution as link.</summary>
internal sealed class Probit : Family
{
    public override string Estimator => "probit regression";

    public override (double Mean, double Slope) Mean(double linear) => (0.5 * SpecialFunctions.Erfc(-linear / Math.Sqrt(2)), Math.Exp(-linear * linear / 2) / Math.Sqrt(2 * Math.PI));

    public override double Start(double response) => response == 1 ? 0.67 : -0.67;

    public override double Variance(double mean) => mean * (1 - mean);

    public override double UnitDeviance(double response, double mean) => -2 * BinaryLogLikelihood(response, mean);

    public override double LogLikelihood(double response, double mean) => BinaryLogLikelihood(response, mean);

    // The observed information: for this link it differs from the expected one.
    public override double Information(double response, double linear, double mean, double slope)
    {
        var ratio = response == 1 ? slope / mean : -slope / (1 - mean);
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

    public override double Start(double response) => Math.Log(response + 0.1);

    public override double Variance(double mean) => mean;

    public override double UnitDeviance(double response, double mean) => 2 * ((response == 0 ? 0 : response * Math.Log(response / mean)) - (response - mean));

    public override double ChangingDeviance(double response, double linear, double mean) => mean - (response * linear);

    public override double FixedDeviance(double response) => response == 0 ? 0 : (response * Math.Log(response)) - response;

    public override double LogLikelihood(double response, double mean) => (response == 0 ? 0 : response * Math.Log(mean)) - mean - SpecialFunctions.GammaLn(response + 1);

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

    public override double Start(double response) => Math.Log(response + 0.1);

    public override double Variance(double mean) => mean + (mean * mean / theta);

    public override double UnitDeviance(double response, double mean) =>
        2 * ((response == 0 ? 0 : response * Math.Log(response / mean)) - ((response + theta) * Math.Log((response + theta) / (mean + theta))));

    public override double ChangingDeviance(double response, double linear, double mean) => ((response + theta) * Math.Log(mean + theta)) - (response * linear);

    public override double FixedDeviance(double response) => (response == 0 ? 0 : response * Math.Log(response)) - ((response + theta) * Math.Log(response + theta));

    public override double LogLikelihood(double response, double mean) =>
        SpecialFunctions.GammaLn(response + theta) - SpecialFunctions.GammaLn(theta) - SpecialFunctions.GammaLn(response + 1)
        + (theta * Math.Log(theta / (theta + mean))) + (response == 0 ? 0 : response * Math.Log(mean / (theta + mean)));

    public override string? Complaint(double[] response, string name) => CountComplaint(response, name);
}
