using System.Collections.Immutable;
using System.IO.Hashing;
using System.Runtime.InteropServices;
using Fennick.Diagnostics;

namespace Fennick.Records;

/// <summary>A paragraph or a table as it was written.</summary>
/// <param name="Mark">The number of its mark.</param>
/// <param name="Place">Where in the manuscript it comes from, if that is known.</param>
/// <param name="Label">The label of the table, figure, formula or section that it belongs to; null if that has none.</param>
internal abstract record RecordedBlock(int Mark, SourcePlace? Place, string? Label)
{
    /// <summary>All its segments.</summary>
    public abstract IEnumerable<Segment> Segments { get; }

    /// <summary>Its text.</summary>
    public string Text => text ??= string.Concat(Segments.Select(s => s.Text));

    private string? text;
}

/// <summary>A paragraph.</summary>
/// <param name="Mark">The number of its mark.</param>
/// <param name="Place">Where in the manuscript it comes from.</param>
/// <param name="Label">The label of what it belongs to.</param>
/// <param name="Style">The id of its style; empty if it names none.</param>
/// <param name="Content">What was written into it.</param>
internal sealed record RecordedParagraph(int Mark, SourcePlace? Place, string? Label, string Style, ImmutableArray<Segment> Content) : RecordedBlock(Mark, Place, Label)
{
    public override IEnumerable<Segment> Segments => Content;
}

/// <summary>A table of data.</summary>
/// <param name="Mark">The number of its mark.</param>
/// <param name="Place">Where in the manuscript it comes from.</param>
/// <param name="Label">Its label.</param>
/// <param name="Rows">The cells of each row; null if it is too long to be kept.</param>
/// <param name="Hash">The hash of all its text if it is too long to be kept; empty if not.</param>
internal sealed record RecordedTable(int Mark, SourcePlace? Place, string? Label, ImmutableArray<RecordedRow>? Rows, string Hash) : RecordedBlock(Mark, Place, Label)
{
    /// <summary>The hash of the texts of all cells of a long table.</summary>
    public static string HashOf(IEnumerable<string> cells)
    {
        var hash = new XxHash64();
        foreach (var cell in cells) Append(hash, cell);
        return Convert.ToHexStringLower(hash.GetHashAndReset());
    }

    /// <summary>Adds the text of a cell to a hash.</summary>
    public static void Append(XxHash64 hash, string cell)
    {
        hash.Append(MemoryMarshal.AsBytes(RecordedCell.Bare(cell).AsSpan()));
        hash.Append([0]);
    }

    public override IEnumerable<Segment> Segments => (Rows ?? []).SelectMany(r => r.Cells).SelectMany(c => c.Known);
}

/// <summary>A row of a table of data.</summary>
/// <param name="Key">By what it is known whether any of its text is another.</param>
/// <param name="Cells">Its cells.</param>
internal sealed record RecordedRow(string Key, ImmutableArray<RecordedCell> Cells)
{
    /// <summary>How many letters a key has.</summary>
    public const int KeyLength = 4;

    /// <summary>The key of a row of which a cell waits for people to decide.</summary>
    public const string Unsettled = "????";

    /// <summary>The key of a row with these texts in its cells.</summary>
    public static string KeyOf(IEnumerable<string> texts) => RecordedCell.Hash(string.Join('\0', texts.Select(RecordedCell.Bare)))[..KeyLength];
}

/// <summary>A cell of a table of data.</summary>
/// <param name="Key">By what it is known whether its text is another; short, for the row's key makes sure that no change is overlooked.</param>
/// <param name="Span">How many columns it reaches over.</param>
/// <param name="Known">The values and things in it.</param>
internal sealed record RecordedCell(string Key, int Span, ImmutableArray<Segment> Known)
{
    /// <summary>How many letters a key has.</summary>
    public const int KeyLength = 2;

    /// <summary>The key of a cell without text.</summary>
    public const string EmptyKey = "..";

    /// <summary>The key of a cell's text.</summary>
    public static string KeyOf(string text) => Bare(text) is { Length: > 0 } bare ? Hash(bare)[..KeyLength] : EmptyKey;

    /// <summary>The text of a cell without what puts it into its place: tabs, and what stands around it.</summary>
    public static string Bare(string text) => (text.Contains('\t', StringComparison.Ordinal) ? text.Replace("\t", "", StringComparison.Ordinal) : text).Trim();

    internal static string Hash(string text)
    {
        Span<byte> hash = stackalloc byte[sizeof(ulong)];
        XxHash64.Hash(MemoryMarshal.AsBytes(text.AsSpan()), hash);
        return Convert.ToBase64String(hash);
    }
}

/// <summary>What was written into one part of the document.</summary>
/// <param name="Part">The name of the part.</param>
/// <param name="Blocks">Its paragraphs and tables in their order.</param>
internal sealed record RecordedStory(string Part, ImmutableArray<RecordedBlock> Blocks);
