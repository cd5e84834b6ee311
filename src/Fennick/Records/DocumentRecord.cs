using System.Collections.Frozen;
using System.Collections.Immutable;
using Fennick.Documents;

namespace Fennick.Records;

/// <summary>What a document remembers of how it was made: what was written, and where all of it comes from.</summary>
/// <param name="Program">The version of the program that wrote it.</param>
/// <param name="Making">What it was made from.</param>
/// <param name="Stories">What was written, part by part.</param>
internal sealed record DocumentRecord(string Program, Making Making, ImmutableArray<RecordedStory> Stories)
{
    /// <summary>The namespace of its part; a later form has another.</summary>
    public const string Namespace = "urn:fennick:record:1";

    /// <summary>What the ids of the paragraphs begin with that bear the marks of blocks; the number follows in four digits.</summary>
    public static ReadOnlySpan<byte> ParagraphMark => "0FE1"u8;

    /// <summary>The highest number of a block that gets a mark; the others are found by what stands in them.</summary>
    public const int MostMarks = 0xFFFF;

    /// <summary>What the names of the bookmarks around values begin with; word processors hide such bookmarks.</summary>
    public static ReadOnlySpan<byte> ValueMark => "_v"u8;

    /// <summary>Tables with more rows are kept by their hash alone.</summary>
    public const int MostRows = 2000;

    /// <summary>The words that were written into slots, by their names.</summary>
    public FrozenDictionary<string, string> Slots { get; init; } = FrozenDictionary<string, string>.Empty;

    /// <summary>The checksums of the parts of the document.</summary>
    public FrozenDictionary<string, uint> Parts { get; init; } = FrozenDictionary<string, uint>.Empty;

    /// <summary>Whether it is as it was written.</summary>
    public bool IsIntact { get; init; } = true;

    /// <summary>Whether a part is one that people change as a whole, so that its checksum tells whether they did.</summary>
    public static bool Knows(string part) => part is "word/styles.xml" || part.StartsWith("word/media/", StringComparison.Ordinal) || (part.StartsWith("word/charts/chart", StringComparison.Ordinal) && part.EndsWith(".xml", StringComparison.Ordinal));

    /// <summary>All that was written.</summary>
    public IEnumerable<RecordedBlock> Blocks => Stories.SelectMany(s => s.Blocks);
}
