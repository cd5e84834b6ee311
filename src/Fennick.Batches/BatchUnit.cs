using System.Collections.Immutable;

namespace Fennick.Batches;

/// <summary>One row of a roster, and the document made from it.</summary>
/// <param name="Name">Its document, relative to the folder of the batch, without <c>.docx</c>.</param>
/// <param name="Row">Its row.</param>
public sealed record BatchUnit(string Name, RosterRow Row)
{
    /// <summary>The cell of a column; null for a missing value.</summary>
    public string? this[string column] => Row[column];

    /// <summary>Its document, relative to the folder of the batch.</summary>
    public string File => Name + ".docx";

    /// <summary>What its report is made with.</summary>
    internal ImmutableSortedDictionary<string, object> Parameters { get; init; } = ImmutableSortedDictionary<string, object>.Empty;
}
