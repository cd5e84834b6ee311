namespace Fennick.Statistics.Fits;

/// <summary>A measure of how well a model fits.</summary>
/// <param name="Name">What it is called, as the row of a table.</param>
/// <param name="Value">Its value.</param>
/// <param name="Format">A .NET format for it.</param>
public sealed record ModelStatistic(string Name, double Value, string Format = "#,0.000");
