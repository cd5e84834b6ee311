namespace Fennick.Statistics.Variables;

/// <summary>
/// The groups whose means are taken out of a design before anything else: all rows together for an intercept, the levels of a factor, or nothing. Columns of zeros and ones for
/// each group are never made.
/// </summary>
/// <param name="Codes">The group of each row; null if all rows are in one group, or there are none.</param>
/// <param name="Count">How many groups there are.</param>
internal sealed record Partition(int[]? Codes, int Count)
{
    /// <summary>No groups: nothing is taken out.</summary>
    public static Partition None { get; } = new(null, 0);

    /// <summary>One group of all rows.</summary>
    public static Partition Whole { get; } = new(null, 1);

    /// <summary>The group of a row.</summary>
    public int this[int row] => Codes is null ? 0 : Codes[row];
}
