using System.Collections.Immutable;

namespace Fennick.Charts;

/// <summary>What is drawn by one kind of mark; layers lie over each other in their order.</summary>
/// <param name="Mark">The kind of mark.</param>
/// <param name="Series">The series; series of one name have one colour in all layers.</param>
public sealed record ChartLayer(ChartMark Mark, ImmutableArray<ChartSeries> Series)
{
    /// <summary>Whether lines carry a mark at each value.</summary>
    public bool HasPoints { get; init; }

    /// <summary>Whether columns touch each other, as those of a histogram do.</summary>
    public bool IsContiguous { get; init; }

    /// <summary>Whether its values are along the second axis.</summary>
    public bool IsOnSecondAxis { get; init; }

    /// <summary>Whether its series are left out of the legend, since another layer shows them.</summary>
    public bool IsPartOfAnother { get; init; }

    /// <summary>Whether its marks are small and pale: single values behind a summary.</summary>
    public bool IsFaint { get; init; }
}
