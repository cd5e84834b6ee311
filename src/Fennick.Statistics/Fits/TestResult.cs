namespace Fennick.Statistics.Fits;

/// <summary>The result of a test.</summary>
/// <param name="Name">What the test is called.</param>
/// <param name="Statistic">The test statistic.</param>
/// <param name="DegreesOfFreedom">Its degrees of freedom; the numerator's for an F.</param>
/// <param name="DenominatorDegreesOfFreedom">The denominator's for an F; null for other statistics.</param>
/// <param name="PValue">The p-value.</param>
public sealed record TestResult(string Name, double Statistic, double DegreesOfFreedom, double? DenominatorDegreesOfFreedom, double PValue);
