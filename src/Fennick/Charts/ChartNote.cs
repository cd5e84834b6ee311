namespace Fennick.Charts;

/// <summary>Words at a point of a chart.</summary>
/// <param name="At">The point's place along the base.</param>
/// <param name="Series">The name of its series; null for the first.</param>
/// <param name="Words">What they say.</param>
public sealed record ChartNote(object At, object? Series, string Words);
