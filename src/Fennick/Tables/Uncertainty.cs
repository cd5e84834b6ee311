namespace Fennick.Tables;

/// <summary>What stands with an estimate.</summary>
public enum Uncertainty
{
    /// <summary>The standard error, in parentheses.</summary>
    StandardError,

    /// <summary>The t or z statistic, in parentheses.</summary>
    Statistic,

    /// <summary>The p-value, in parentheses.</summary>
    PValue,

    /// <summary>The confidence interval, in brackets.</summary>
    Interval,

    /// <summary>Nothing.</summary>
    None,
}
