using Fennick.Diagnostics;

namespace Fennick.Revision;

/// <summary>What a refresh did to something, or left to you.</summary>
public enum ChangeKind
{
    /// <summary>A value, a cell, a text, a figure was brought up to date.</summary>
    Refreshed,

    /// <summary>Something new in the manuscript was inserted.</summary>
    Added,

    /// <summary>Something that the manuscript no longer has was taken out.</summary>
    Removed,

    /// <summary>People and the manuscript have both changed it: theirs stays, and what the manuscript says now is proposed beside it.</summary>
    Proposed,

    /// <summary>People have deleted it; it would be another now.</summary>
    StaysDeleted,

    /// <summary>A number that people wrote or copied and that was that of a value which is another now.</summary>
    Suspect,

    /// <summary>What could not be done by itself.</summary>
    Open,
}

/// <summary>One thing that a refresh did, or left to you.</summary>
/// <param name="Kind">What was done.</param>
/// <param name="What">What it is about, such as <c>mean</c> or <c>the table</c>.</param>
/// <param name="Where">Where in the document: a caption, a heading.</param>
/// <param name="Before">What stood there; null if nothing.</param>
/// <param name="After">What stands there now, or would; null if nothing.</param>
/// <param name="Place">Where in the manuscript it comes from; null if it comes from people.</param>
public sealed record Change(ChangeKind Kind, string What, string Where, string? Before, string? After, SourcePlace? Place)
{
    /// <summary>Whether it waits for you to decide.</summary>
    public bool NeedsYou => Kind is ChangeKind.Proposed or ChangeKind.StaysDeleted or ChangeKind.Suspect or ChangeKind.Open;

    /// <summary>It in a sentence.</summary>
    public override string ToString() => Kind switch
    {
        ChangeKind.Refreshed when Before is null => $"{What} in {Where} was brought up to date",
        ChangeKind.Refreshed => $"{What} in {Where}: {Before} → {After}",
        ChangeKind.Added => $"{What} was added in {Where}: {After}",
        ChangeKind.Removed => $"{What} was taken out of {Where}: {Before}",
        ChangeKind.Proposed => $"{What} in {Where} has been changed to “{Before}”, and the manuscript gives “{After}” now; theirs stays, the other is proposed",
        ChangeKind.StaysDeleted => $"{What} in {Where} has been deleted{(After is null ? ", and it would be another now" : $", and it would be “{After}” now")}; it stays deleted",
        ChangeKind.Suspect => $"{Where} holds {Before}, which was the value of {What} and is {After} now",
        _ => $"{What} in {Where} was left as it is: {After}",
    };
}
