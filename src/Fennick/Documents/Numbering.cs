using System.Collections.Immutable;
using Fennick.Diagnostics;

namespace Fennick.Documents;

/// <summary>What a number counts.</summary>
internal enum NumberedKind
{
    Section,
    Table,
    Figure,
}

/// <summary>One thing that the text can refer to.</summary>
/// <param name="Kind">What it is.</param>
/// <param name="Number">Its number; null for a section without one.</param>
/// <param name="Title">Its caption or heading.</param>
/// <param name="Bookmark">The bookmark that stands around word and number, or around a section's title.</param>
internal sealed record Numbered(NumberedKind Kind, int? Number, RichText Title, string Bookmark)
{
    /// <summary>The bookmark around the number alone; null while nothing refers to just that.</summary>
    public string? NumberBookmark { get; set; }

    /// <summary>The bookmark around the caption's words; null while nothing refers to them.</summary>
    public string? TitleBookmark { get; set; }
}

/// <summary>The numbers of a report: by occurrence, and by label.</summary>
internal sealed record Numbering(
    IReadOnlyDictionary<BlockId, Numbered> ByBlock,
    IReadOnlyDictionary<string, Numbered> ByLabel,
    ImmutableArray<Diagnostic> Diagnostics);
