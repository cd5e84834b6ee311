namespace Fennick.Statistics;

/// <summary>The data do not allow the analysis that was asked for; the message names the variable and the rows.</summary>
public sealed class AnalysisException : FennickException
{
    /// <summary>An analysis that cannot be made.</summary>
    public AnalysisException(string message)
        : base(message)
    {
    }
}
