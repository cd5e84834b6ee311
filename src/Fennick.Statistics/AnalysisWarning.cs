namespace Fennick.Statistics;

/// <summary>Something about a result that its reader must know, such as a column that was dropped.</summary>
/// <param name="Message">What it is, in the reader's words.</param>
public sealed record AnalysisWarning(string Message)
{
    /// <inheritdoc/>
    public override string ToString() => Message;
}
