namespace Fennick.Editors;

/// <summary>Something that may be written.</summary>
internal sealed record Proposal(string Label, int Kind, string? Detail, string SortText, TextChange TextEdit);

/// <summary>All that may be written; what is typed on changes it.</summary>
internal sealed record Proposals(bool IsIncomplete, IReadOnlyList<Proposal> Items);

/// <summary>A text for readers.</summary>
internal sealed record ShownText(string Kind, string Value);

/// <summary>What is said of a place.</summary>
internal sealed record Explanation(ShownText Contents);
