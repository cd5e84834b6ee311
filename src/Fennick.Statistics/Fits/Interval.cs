namespace Fennick.Statistics.Fits;

/// <summary>An interval.</summary>
/// <param name="Low">Its lower end.</param>
/// <param name="High">Its upper end.</param>
public readonly record struct Interval(double Low, double High);
