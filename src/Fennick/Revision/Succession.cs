using System.Text;
using Fennick.Records;

namespace Fennick.Revision;

/// <summary>Which block of a later run is which of an earlier one: by what the manuscript says, whatever the values are.</summary>
internal sealed class Succession
{
    private const double Alike = 0.5;
    private readonly Dictionary<RecordedBlock, RecordedBlock> later = new(ReferenceEqualityComparer.Instance);
    private readonly Dictionary<RecordedBlock, RecordedBlock> earlier = new(ReferenceEqualityComparer.Instance);

    private Succession()
    {
    }

    /// <summary>What a block has become; null if it is gone.</summary>
    public RecordedBlock? Later(RecordedBlock block) => later.GetValueOrDefault(block);

    /// <summary>What a block was; null if it is new.</summary>
    public RecordedBlock? Earlier(RecordedBlock block) => earlier.GetValueOrDefault(block);

    public static Succession Of(DocumentRecord before, DocumentRecord now)
    {
        var succession = new Succession();
        foreach (var story in before.Stories)
        {
            if (now.Stories.FirstOrDefault(s => s.Part == story.Part) is not { } next) continue;
            var pairs = Pairs(story.Blocks, next.Blocks);
            for (var i = 0; i < pairs.Length; i++)
                if (pairs[i] >= 0) succession.Pair(story.Blocks[i], next.Blocks[pairs[i]]);
        }
        // What has a label is known wherever it stands now.
        var moved = now.Blocks.Where(b => succession.Earlier(b) is null && b.Label is not null).ToLookup(b => (b.Label, b.GetType(), (b as RecordedParagraph)?.Style));
        foreach (var block in before.Blocks.Where(b => b.Label is not null && succession.Later(b) is null))
            if (moved[(block.Label, block.GetType(), (block as RecordedParagraph)?.Style)].FirstOrDefault(b => succession.Earlier(b) is null) is { } found) succession.Pair(block, found);
        return succession;
    }

    private static int[] Pairs(IReadOnlyList<RecordedBlock> first, IReadOnlyList<RecordedBlock> second)
    {
        Known[] blocks = [.. first.Select(b => new Known(b))];
        Known[] others = [.. second.Select(b => new Known(b))];
        return Alignment.Best(first.Count, second.Count, (i, j) => Likeness(blocks[i], others[j]));
    }

    private static double Likeness(Known first, Known second)
    {
        if (first.Block.GetType() != second.Block.GetType()) return 0;
        var isOneLabel = first.Block.Label == second.Block.Label;
        if (first.Block is RecordedTable table) return table.Label is not null ? isOneLabel ? 1 : 0 : isOneLabel ? 0.7 + (0.6 * RowsAlike(table, (RecordedTable)second.Block)) : 0;
        // Passes of one loop say the same with other values.
        if (first.Name == second.Name) return isOneLabel ? 1 + (first.Block.Text == second.Block.Text ? 0.5 : 0) : 0.8;
        if (((RecordedParagraph)first.Block).Style != ((RecordedParagraph)second.Block).Style) return 0;
        // What a step prints is other words altogether.
        if (first.Block.Place is { } place && place == second.Block.Place && isOneLabel) return Math.Max(0.3, 0.9 * first.Bag.Likeness(second.Bag));
        var least = isOneLabel && first.Block.Label is not null ? 0 : Alike;
        if (first.Bag.MostLikeness(second.Bag) < least) return 0;
        var likeness = Math.Max(first.Bag.Likeness(second.Bag), least == 0 ? 0.6 : 0);
        return likeness >= Alike ? likeness * 0.9 : 0;
    }

    private static double RowsAlike(RecordedTable first, RecordedTable second)
    {
        if (first.Rows is not { Length: > 0 } rows || second.Rows is not { Length: > 0 } others) return first.Hash == second.Hash ? 1 : 0;
        var keys = others.Select(r => r.Key).ToHashSet(StringComparer.Ordinal);
        return (double)rows.Count(r => keys.Contains(r.Key)) / Math.Max(rows.Length, others.Length);
    }

    /// <summary>What the manuscript says of a block: its words, and the expressions of its values.</summary>
    public static string NameOf(RecordedBlock block)
    {
        if (block is RecordedTable) return $"table {block.Place?.File}";
        var name = new StringBuilder(((RecordedParagraph)block).Style).Append('|');
        foreach (var segment in block.Segments) name.Append(KeyOf(segment));
        return name.ToString();
    }

    /// <summary>What the manuscript says of a segment.</summary>
    public static string KeyOf(Segment segment) => segment switch
    {
        ValueSegment value => $"{{{value.Origin.Expression}:{value.Origin.Format}}}",
        FieldSegment field => $"<{field.Kind}>",
        ObjectSegment known => $"[{known.Kind}]",
        _ => segment.Text,
    };

    private void Pair(RecordedBlock block, RecordedBlock next)
    {
        later[block] = next;
        earlier[next] = block;
    }

    /// <summary>A block with what is asked for again and again.</summary>
    private sealed class Known(RecordedBlock block)
    {
        private WordBag? bag;

        public RecordedBlock Block => block;

        public string Name { get; } = NameOf(block);

        public WordBag Bag => bag ??= new WordBag(block.Text);
    }
}
