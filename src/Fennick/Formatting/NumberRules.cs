namespace Fennick.Formatting;

/// <summary>How values are shown where nothing else is said.</summary>
public sealed record NumberRules
{
    /// <summary>The significant digits of a number without a format.</summary>
    public int Digits { get; init; } = 4;

    /// <summary>What stands for a missing value.</summary>
    public string Missing { get; init; } = "\u2014";
}
