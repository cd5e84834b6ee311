namespace Fennick.Charts;

/// <summary>One value of a series.</summary>
/// <param name="At">Where it stands along the base: a name, a number or a date.</param>
/// <param name="Value">The value; null where there is none.</param>
/// <param name="Lower">The lower limit of an interval, band or box.</param>
/// <param name="Upper">The upper limit of an interval, band or box.</param>
/// <param name="Size">The size of a point, as an area; null for one size.</param>
public readonly record struct ChartPoint(object? At, double? Value, double? Lower = null, double? Upper = null, double? Size = null);
