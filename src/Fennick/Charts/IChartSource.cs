namespace Fennick.Charts;

/// <summary>What a chart can be made of: results of models, and kinds of charts of a user's own.</summary>
public interface IChartSource
{
    /// <summary>The chart.</summary>
    Chart ToChart();
}
