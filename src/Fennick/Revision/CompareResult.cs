using System.Collections.Immutable;

namespace Fennick.Revision;

/// <summary>How two documents differ.</summary>
/// <param name="Differences">Each difference, in the order of the newer document.</param>
/// <param name="LeftOut">How many differences are not listed, because only numbers were asked for that differ by more.</param>
/// <param name="Remarks">What else deserves to be known, such as tracked changes that were taken for accepted.</param>
public sealed record CompareResult(ImmutableArray<Difference> Differences, int LeftOut, ImmutableArray<string> Remarks)
{
    /// <summary>How many differences of a kind there are.</summary>
    public int Count(DifferenceKind kind) => Differences.Count(d => d.Kind == kind);

    /// <summary>How they differ, in numbers.</summary>
    public string Summary
    {
        get
        {
            (DifferenceKind Kind, string One, string Many)[] words = [(DifferenceKind.Number, "number differs", "numbers differ"), (DifferenceKind.Text, "text differs", "texts differ"), (DifferenceKind.Shape, "thing has another shape", "things have another shape"), (DifferenceKind.Added, "added", "added"), (DifferenceKind.Removed, "removed", "removed"), (DifferenceKind.Moved, "moved", "moved")];
            var parts = words.Where(w => Count(w.Kind) > 0).Select(w => Count(w.Kind) == 1 ? $"1 {w.One}" : $"{Count(w.Kind)} {w.Many}").ToArray();
            var said = parts.Length > 0 ? string.Join(", ", parts) : LeftOut > 0 ? "no number differs by more" : "the documents say the same";
            return LeftOut switch { 0 => said, 1 => $"{said}; 1 smaller or other difference is not listed", _ => $"{said}; {LeftOut} smaller or other differences are not listed" };
        }
    }
}
