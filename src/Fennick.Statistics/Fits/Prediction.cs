namespace Fennick.Statistics.Fits;

/// <summary>A prediction.</summary>
/// <param name="Value">The predicted mean, on the response's own scale.</param>
/// <param name="StandardError">Its standard error.</param>
/// <param name="Mean">The interval for the mean.</param>
/// <param name="Single">The interval for a single new response; null where no normal distribution is meant.</param>
public sealed record Prediction(double Value, double StandardError, Interval Mean, Interval? Single);
