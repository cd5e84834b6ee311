using Fennick.Records;

namespace Fennick.Revision;

/// <summary>A paragraph or table of an older document and what it is in a newer one.</summary>
/// <param name="Old">It in the older; null if that has none.</param>
/// <param name="New">It in the newer; null if that has none.</param>
/// <param name="IsMoved">Whether it stands elsewhere.</param>
internal sealed record BlockPair(ReadBlock? Old, ReadBlock? New, bool IsMoved);

/// <summary>Finds which paragraphs and tables of two documents belong together.</summary>
internal static class BlockPairs
{
    private const double Alike = 0.5;
    private const double TablesAlike = 0.3;
    private const int ShortestMoved = 12;
    private const int MostCells = 400;

    /// <summary>The pairs of a part, in the order of the newer document; what that lacks stands behind what was before it.</summary>
    /// <param name="old">The older document.</param>
    /// <param name="oldPart">The part of it.</param>
    /// <param name="now">The newer document.</param>
    /// <param name="part">The part of that.</param>
    /// <param name="succession">What has become of what was written, if both remember that.</param>
    public static List<BlockPair> Of(ComparedText old, string oldPart, ComparedText now, string part, Succession? succession)
    {
        var both = InParallel.Select([(Text: old, Part: oldPart), (Text: now, Part: part)], d => d.Text.Stories.First(s => s.Part == d.Part).Blocks.Select(b => new Known(b, d.Text, d.Part)).ToArray());
        var (first, second) = (both[0], both[1]);
        var known = ByRecord(first, second, succession);
        string[] keys = [.. first.Select(f => f.Key)];
        string[] others = [.. second.Select(s => s.Key)];
        // What is known to belong together is known by nothing else.
        foreach (var (i, j) in known) keys[i] = others[j] = $"\u0003{i}";
        var isTaken = known.Values.ToHashSet();
        var places = Pairing.Find(keys, others, i => known.ContainsKey(i) ? [] : first[i].Words, j => isTaken.Contains(j) ? [] : second[j].Words, (i, j) => Likeness(first[i], second[j]));
        ByPlace(first, second, places);
        return InOrder(first, second, places, known);
    }

    /// <summary>Where as many paragraphs are left on both sides between two that belong together, and they differ in nothing but their numbers, they belong together in their order.</summary>
    private static void ByPlace(Known[] first, Known[] second, int[] places)
    {
        var (last, before) = (0, 0);
        for (var i = 0; i <= first.Length; i++)
        {
            if (i < first.Length && places[i] < 0) continue;
            var end = i < first.Length ? places[i] : second.Length;
            if (i - last == end - before && Enumerable.Range(0, i - last).All(k => DifferInNumbers(first[last + k], second[before + k])))
                for (var k = 0; k < i - last; k++) places[last + k] = before + k;
            (last, before) = (i + 1, end + 1);
        }
    }

    private static bool DifferInNumbers(Known first, Known second) => first.Block is ReadParagraph && second.Block is ReadParagraph && first.Block.Text.Any(char.IsAsciiDigit) && PrintedNumber.Without(first.Block.Text) == PrintedNumber.Without(second.Block.Text);

    private static Dictionary<int, int> ByRecord(Known[] first, Known[] second, Succession? succession)
    {
        if (succession is null) return [];
        var now = second.Index().Where(s => s.Item.Recorded is not null).ToDictionary(s => s.Item.Recorded!, s => s.Index, (IEqualityComparer<RecordedBlock>)ReferenceEqualityComparer.Instance);
        var pairs = new Dictionary<int, int>();
        foreach (var (i, block) in first.Index())
            if (block.Recorded is { } was && succession.Later(was) is { } later && now.TryGetValue(later, out var j) && second[j].Block.GetType() == block.Block.GetType()) pairs[i] = j;
        return pairs;
    }

    private static List<BlockPair> InOrder(Known[] first, Known[] second, int[] places, Dictionary<int, int> known)
    {
        var moved = Moved(first, second, places, known);
        var isMoved = moved.Values.ToHashSet();
        var (pairs, at) = (new List<BlockPair>(), 0);
        var from = places.Index().Where(p => p.Item >= 0).ToDictionary(p => p.Item, p => p.Index);
        for (var j = 0; j <= second.Length; j++)
        {
            var end = j == second.Length ? first.Length : from.GetValueOrDefault(j, -1);
            for (; at < end; at++)
                if (places[at] < 0 && !isMoved.Contains(at)) pairs.Add(new BlockPair(first[at].Block, null, false));
            if (j == second.Length) break;
            if (end >= 0) at = end + 1;
            pairs.Add(end >= 0 ? new BlockPair(first[end].Block, second[j].Block, false) : moved.TryGetValue(j, out var i) ? new BlockPair(first[i].Block, second[j].Block, true) : new BlockPair(null, second[j].Block, false));
        }
        return pairs;
    }

    /// <summary>What stands elsewhere, by its place in the second sequence.</summary>
    private static Dictionary<int, int> Moved(Known[] first, Known[] second, int[] places, Dictionary<int, int> known)
    {
        var moved = known.Where(p => places[p.Key] < 0).ToDictionary(p => p.Value, p => p.Key);
        var paired = places.Where(p => p >= 0).ToHashSet();
        var open = Enumerable.Range(0, first.Length).Where(i => places[i] < 0 && !known.ContainsKey(i) && first[i].Key.Length >= ShortestMoved).GroupBy(i => first[i].Key, StringComparer.Ordinal).ToDictionary(g => g.Key, g => new Queue<int>(g), StringComparer.Ordinal);
        for (var j = 0; j < second.Length; j++)
            if (!paired.Contains(j) && !moved.ContainsKey(j) && open.TryGetValue(second[j].Key, out var queue) && queue.TryDequeue(out var i)) moved[j] = i;
        return moved;
    }

    private static double Likeness(Known first, Known second)
    {
        if (first.Block.GetType() != second.Block.GetType()) return 0;
        if (first.Block is ReadTable) return Math.Max(first.Bag.Likeness(second.Bag) is >= TablesAlike and var share ? share : 0, first.IsCaptioned && first.Where == second.Where ? Alike : 0);
        if (first.Kinds.Length > 0 && first.Block.Text.Trim() == first.Kinds) return first.Kinds == second.Kinds && second.Block.Text.Trim() == second.Kinds ? first.Where == second.Where ? 0.6 : 0.2 : 0;
        return first.Bag.MostLikeness(second.Bag) < Alike ? 0 : first.Bag.Likeness(second.Bag) is >= Alike and var likeness ? likeness : 0;
    }

    /// <summary>A block with what is asked for again and again.</summary>
    private sealed class Known
    {
        private WordBag? bag;

        public Known(ReadBlock block, ComparedText text, string part)
        {
            (Block, Where, Recorded) = (block, text.WhereIs(block), text.RecordedAs(block));
            IsCaptioned = block is ReadTable && !Where.StartsWith('“') && Where.Any(char.IsAsciiDigit);
            Piece[] objects = block is ReadParagraph paragraph ? [.. paragraph.Reading.Pieces.Where(p => p.Kind == PieceKind.Object)] : [];
            Kinds = new string(Segment.ObjectLetter, objects.Length);
            Key = objects.Length == 0 ? (block is ReadTable ? "\t" : "") + Revision.Words.Alike(block.Text) : $"{Revision.Words.Alike(block.Text)}\u0004{string.Join('\u0004', objects.Select(o => text.SignatureOf(part, o)))}";
        }

        public ReadBlock Block { get; }

        public string Where { get; }

        public RecordedBlock? Recorded { get; }

        public bool IsCaptioned { get; }

        /// <summary>A letter for each thing in it that is no text.</summary>
        public string Kinds { get; }

        /// <summary>What it is known by as a whole; empty if it holds nothing.</summary>
        public string Key { get; }

        public WordBag Bag => bag ??= new WordBag(Block.Text);

        public IEnumerable<string> Words => Block is ReadTable table ? table.Rows.SelectMany(r => r.Cells).Select(c => c.Text).Where(t => t.Length > 0).Take(MostCells).Append(Where) : Kinds.Length > 0 ? Bag.Words.Append(Where).Append(Kinds) : Bag.Words;
    }
}
