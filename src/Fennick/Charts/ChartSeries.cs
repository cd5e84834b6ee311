using System.Collections.Immutable;

namespace Fennick.Charts;

/// <summary>A series of a chart: values that belong together and have one colour.</summary>
/// <param name="Name">Its name, as a legend shows it in the report's language; null or empty for none.</param>
/// <param name="Points">Its values in order.</param>
public sealed record ChartSeries(object? Name, ImmutableArray<ChartPoint> Points);
