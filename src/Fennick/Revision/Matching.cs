using System.Xml.Linq;
using Fennick.Records;

namespace Fennick.Revision;

/// <summary>Which paragraph or table of a document is which of those that were written.</summary>
internal sealed class Matching
{
    private const double Alike = 0.5;
    private const double SurelyAlike = 0.75;
    private const double TableAlike = 0.3;
    private readonly Dictionary<RecordedBlock, ReadBlock> found = new(ReferenceEqualityComparer.Instance);
    private readonly Dictionary<ReadBlock, RecordedBlock> back = new(ReferenceEqualityComparer.Instance);

    private readonly Dictionary<ReadBlock, string> parts = new(ReferenceEqualityComparer.Instance);
    private readonly HashSet<XElement> entries = [];

    private Matching()
    {
    }

    /// <summary>All paragraphs and tables of the document, part by part.</summary>
    public List<(string Part, List<ReadBlock> Blocks)> Stories { get; } = [];

    /// <summary>How many were found by what stands in them and beside them, because they bear no mark.</summary>
    public int WithoutMark { get; private set; }

    /// <summary>Blocks that bear the mark of another as well: somebody has copied it.</summary>
    public List<(RecordedBlock Of, ReadBlock Copy)> Copies { get; } = [];

    /// <summary>The part that a paragraph or table stands in.</summary>
    public string PartOf(ReadBlock block) => parts[block];

    /// <summary>Whether a paragraph is an entry of a list of contents or an index.</summary>
    public bool IsEntry(XElement paragraph) => entries.Contains(paragraph);

    /// <summary>What has become of a block; null if it is no longer there.</summary>
    public ReadBlock? Of(RecordedBlock block) => found.GetValueOrDefault(block);

    /// <summary>What a paragraph or table was written as; null if people have added it.</summary>
    public RecordedBlock? Of(ReadBlock block) => back.GetValueOrDefault(block);

    public static Matching Find(DocumentRecord record, WordDocument document)
    {
        var matching = new Matching();
        RecordedBlock[] blocks = [.. record.Blocks];
        var tables = DataTables(record, document, blocks);
        foreach (var part in document.Stories)
        {
            var all = document.Blocks(part, tables.ContainsKey);
            foreach (var entry in Entries.Of(all)) matching.entries.Add(entry.Element);
            matching.Stories.Add((part, [.. all.Where(b => !matching.entries.Contains(b.Element))]));
            foreach (var block in matching.Stories[^1].Blocks) matching.parts[block] = part;
        }
        matching.ByMarks(blocks, tables);
        matching.ByOrder(record);
        matching.Anywhere(blocks);
        return matching;
    }

    /// <summary>The tables of data among those of the document: by their marks, or by what stands in their cells.</summary>
    private static Dictionary<XElement, RecordedTable> DataTables(DocumentRecord record, WordDocument document, RecordedBlock[] blocks)
    {
        var tables = new Dictionary<XElement, RecordedTable>();
        var unmarked = new List<XElement>();
        foreach (var table in document.Stories.SelectMany(s => document.Open(s).Descendants(WordNames.Table)))
        {
            if (WordDocument.MarkOfTable(table) is > 0 and var mark && mark <= blocks.Length)
            {
                if (blocks[mark - 1] is RecordedTable known) tables[table] = known;
            }
            else unmarked.Add(table);
        }
        foreach (var lost in record.Blocks.OfType<RecordedTable>().Where(t => !tables.ContainsValue(t)))
        {
            if (unmarked.Where(t => !tables.ContainsKey(t)).Select(t => (Table: t, Likeness: LikenessOf(lost, t))).OrderByDescending(t => t.Likeness).FirstOrDefault() is { Likeness: > TableAlike } best) tables[best.Table] = lost;
        }
        return tables;
    }

    /// <summary>What share of a table's cells stand in another.</summary>
    private static double LikenessOf(RecordedTable table, XElement element)
    {
        if (table.Rows is not { } rows) return 0;
        var keys = new ReadTable(element, 0).Rows.SelectMany(r => r.Cells).GroupBy(c => RecordedCell.KeyOf(c.Text)).ToDictionary(g => g.Key, g => g.Count(), StringComparer.Ordinal);
        var (all, there) = (0, 0);
        foreach (var key in rows.SelectMany(r => r.Cells).Select(c => c.Key).Where(k => k != RecordedCell.EmptyKey))
        {
            all++;
            if (keys.GetValueOrDefault(key) is not (> 0 and var left)) continue;
            there++;
            keys[key] = left - 1;
        }
        return all == 0 ? 0 : (double)there / all;
    }

    private void ByMarks(RecordedBlock[] blocks, Dictionary<XElement, RecordedTable> tables)
    {
        foreach (var group in Stories.SelectMany(s => s.Blocks).Select(b => (Block: b, Recorded: RecordedOf(b))).Where(b => b.Recorded is not null).GroupBy(b => b.Recorded!))
        {
            var alike = group.Select(g => (g.Block, Likeness: group.Key is RecordedTable ? 1 : Alignment.Likeness(group.Key.Text, g.Block.Text))).OrderByDescending(g => g.Likeness).ToArray();
            Pair(group.Key, alike[0].Block);
            foreach (var (copy, _) in alike.Skip(1)) Copies.Add((group.Key, copy));
        }

        RecordedBlock? RecordedOf(ReadBlock block) => block is ReadTable table ? tables.GetValueOrDefault(table.Element) : block.Mark > 0 && block.Mark <= blocks.Length && blocks[block.Mark - 1] is RecordedParagraph paragraph ? paragraph : null;
    }

    /// <summary>What bears no mark is found by its text and its neighbours.</summary>
    private void ByOrder(DocumentRecord record)
    {
        foreach (var recorded in record.Stories)
        {
            if (StoryFor(recorded) is not { } blocks) continue;
            var copied = Copies.Select(c => c.Copy).ToHashSet(ReferenceEqualityComparer.Instance);
            ReadBlock[] there = [.. blocks.Where(b => !copied.Contains(b))];
            var places = there.Index().ToDictionary(b => b.Item, b => b.Index, (IEqualityComparer<ReadBlock>)ReferenceEqualityComparer.Instance);
            // Between two that are known, in their order.
            var (from, before) = (0, -1);
            for (var i = 0; i <= recorded.Blocks.Length; i++)
            {
                var place = there.Length;
                if (i < recorded.Blocks.Length && !(found.TryGetValue(recorded.Blocks[i], out var known) && places.TryGetValue(known, out place) && place > before)) continue;
                Gap(recorded.Blocks, from, i, there, before + 1, place);
                (from, before) = (i + 1, place);
            }
        }
    }

    private void Gap(IReadOnlyList<RecordedBlock> blocks, int from, int to, ReadBlock[] there, int start, int end)
    {
        RecordedBlock[] lost = [.. blocks.Skip(from).Take(to - from).Where(b => !found.ContainsKey(b))];
        ReadBlock[] open = [.. there[start..end].Where(b => !back.ContainsKey(b))];
        if (lost.Length == 0 || open.Length == 0) return;
        WordBag[] bags = [.. lost.Select(b => new WordBag(b.Text))];
        WordBag[] others = [.. open.Select(b => new WordBag(b.Text))];
        var pairs = Alignment.Best(lost.Length, open.Length, (i, j) => LikenessOf(lost[i], bags[i], open[j], others[j]));
        for (var i = 0; i < pairs.Length; i++)
        {
            if (pairs[i] < 0) continue;
            Pair(lost[i], open[pairs[i]]);
            WithoutMark++;
        }
    }

    private static double LikenessOf(RecordedBlock recorded, WordBag bag, ReadBlock block, WordBag other)
    {
        if (recorded is not RecordedParagraph || block is not ReadParagraph) return 0;
        if (recorded.Text == block.Text) return 1;
        // Empty paragraphs part what stands around them.
        if (recorded.Text.Length == 0 || bag.MostLikeness(other) < Alike) return 0;
        return bag.Likeness(other) is >= Alike and var likeness ? likeness : 0;
    }

    /// <summary>What has been moved elsewhere.</summary>
    private void Anywhere(RecordedBlock[] blocks)
    {
        var open = Stories.SelectMany(s => s.Blocks).OfType<ReadParagraph>().Where(b => !back.ContainsKey(b) && b.Text.Length > 0).Select(b => (Block: b, Bag: new WordBag(b.Text))).ToList();
        foreach (var lost in blocks.OfType<RecordedParagraph>().Where(b => b.Text.Trim().Length > 0 && !found.ContainsKey(b)))
        {
            if (open.Count == 0) return;
            var bag = new WordBag(lost.Text);
            var best = open.Where(b => !back.ContainsKey(b.Block)).Select(b => (b.Block, Likeness: b.Block.Text == lost.Text ? 1 : bag.Likeness(b.Bag))).OrderByDescending(b => b.Likeness).FirstOrDefault();
            if (best.Likeness < SurelyAlike) continue;
            Pair(lost, best.Block);
            WithoutMark++;
        }
    }

    /// <summary>The part of the document that a part of the record has become: other programs give parts other names.</summary>
    private List<ReadBlock>? StoryFor(RecordedStory recorded)
    {
        if (recorded.Part.EndsWith("document.xml", StringComparison.Ordinal)) return Stories[0].Blocks;
        if (Stories.FirstOrDefault(s => s.Part == recorded.Part).Blocks is { } same) return same;
        var kind = WordDocument.KindOf(recorded.Part);
        var text = string.Join(' ', recorded.Blocks.Select(b => b.Text));
        return Stories.Where(s => Path.GetFileName(s.Part).StartsWith(kind, StringComparison.OrdinalIgnoreCase)).MaxBy(s => Alignment.Likeness(text, string.Join(' ', s.Blocks.Select(b => b.Text)))).Blocks;
    }

    private void Pair(RecordedBlock recorded, ReadBlock block)
    {
        found[recorded] = block;
        back[block] = recorded;
    }
}
