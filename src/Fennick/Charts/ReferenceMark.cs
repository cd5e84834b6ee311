namespace Fennick.Charts;

/// <summary>A line or a shaded span across a chart.</summary>
/// <param name="From">The value where it lies or begins; a name, a number or a date if it is at the base.</param>
/// <param name="To">Where a span ends; null for a line.</param>
/// <param name="Words">What it says; empty for nothing.</param>
/// <param name="IsAtBase">Whether it crosses the base rather than the values.</param>
public sealed record ReferenceMark(object From, object? To, string Words, bool IsAtBase);
