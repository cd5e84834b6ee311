using Fennick.Documents;

namespace Fennick.Charts;

/// <summary>An axis of a chart: its words, its limits and how it shows its numbers. What is not said is chosen by what is drawn.</summary>
public sealed record ChartAxis
{
    /// <summary>What it shows, with the unit of its numbers; empty for no words.</summary>
    public string Title { get; init; } = "";

    /// <summary>What it shows, in words that are chosen when the language is known; in place of the title if not null.</summary>
    internal RichText? Words { get; init; }

    /// <summary>What it must reach beside its own values, so that charts beside each other have one scale.</summary>
    internal (double Low, double High)? Reaches { get; init; }

    /// <summary>The format of its numbers or dates, such as <c>0.0</c>, <c>percent 1</c> or <c>MMM yyyy</c>; sensible digits if null.</summary>
    public string? Format { get; init; }

    /// <summary>Where it begins; null for a round number below the least value. A date is the number of days since 30 December 1899.</summary>
    public double? Minimum { get; init; }

    /// <summary>Where it ends; null for a round number above the greatest value.</summary>
    public double? Maximum { get; init; }

    /// <summary>The distance of its ticks; null for 1, 2, 2.5 or 5 times a power of ten.</summary>
    public double? Step { get; init; }

    /// <summary>Whether equal distances are equal ratios. All that is drawn along it must be above zero.</summary>
    public bool IsLogarithmic { get; init; }
}
