namespace Fennick.Tables;

/// <summary>A named set of table rules; in the document it is a table style of that name.</summary>
/// <param name="Name">The name as settings give it.</param>
public sealed record Ruling(string Name)
{
    /// <summary>Horizontal rules only: above the header, under it, and at the bottom.</summary>
    public static Ruling Open { get; } = new("open");

    /// <summary>The rulings that every house has.</summary>
    public static IReadOnlyList<Ruling> All { get; } = [Open];
}
