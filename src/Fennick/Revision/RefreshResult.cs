using System.Collections.Immutable;

namespace Fennick.Revision;

/// <summary>What a refresh did.</summary>
/// <param name="Changes">Each thing that was done or left to you, in the order of the document.</param>
/// <param name="Remarks">What else deserves to be known, such as marks that were lost.</param>
public sealed record RefreshResult(ImmutableArray<Change> Changes, ImmutableArray<string> Remarks)
{
    /// <summary>How many things of a kind there are.</summary>
    public int Count(ChangeKind kind) => Changes.Count(c => c.Kind == kind);

    /// <summary>Whether something waits for you to decide.</summary>
    public bool NeedsYou => Changes.Any(c => c.NeedsYou);

    /// <summary>What was done, in numbers.</summary>
    public string Summary
    {
        get
        {
            (ChangeKind Kind, string Words)[] words = [(ChangeKind.Refreshed, "refreshed"), (ChangeKind.Added, "added"), (ChangeKind.Removed, "taken out"), (ChangeKind.Proposed, "proposed"), (ChangeKind.StaysDeleted, "deleted and left so"), (ChangeKind.Suspect, "perhaps out of date"), (ChangeKind.Open, "left to you")];
            var parts = words.Where(w => Count(w.Kind) > 0).Select(w => $"{Count(w.Kind)} {w.Words}").ToArray();
            return parts.Length == 0 ? "nothing had to be changed" : string.Join(", ", parts);
        }
    }
}
