using System.Collections.Frozen;
using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Documents;

namespace Fennick.Records;

/// <summary>Reads a document's record, which may have been saved by other programs, or be hostile.</summary>
internal sealed class RecordReader
{
    private static readonly XNamespace Own = DocumentRecord.Namespace;
    private readonly string manuscript;
    private int blocks;
    private int values;

    private RecordReader(string manuscript) => this.manuscript = manuscript;

    /// <summary>Whether a part is a record.</summary>
    public static bool IsRecord(ReadOnlySpan<byte> part) => part[..Math.Min(part.Length, 400)].IndexOf("urn:fennick:record:"u8) >= 0;

    /// <summary>Reads a record.</summary>
    /// <param name="part">The part's bytes.</param>
    /// <param name="xml">The same as XML.</param>
    /// <exception cref="FormatException">It is none that this version knows.</exception>
    public static DocumentRecord Read(ReadOnlySpan<byte> part, XDocument xml)
    {
        if (xml.Root is not { } root || root.Name != Own + "record") throw new FormatException("it was written by another version");
        var made = root.Element(Own + "made");
        var making = new Making((string?)made?.Attribute("by") ?? "", (string?)made?.Attribute("hash") ?? "", Named("set"), [.. Named("input").Select(i => new MadeFrom(i.Key, i.Value))], Named("source"));
        var reader = new RecordReader(making.Manuscript);
        return new DocumentRecord((string?)root.Attribute("program") ?? "", making, [.. root.Elements(Own + "story").Select(reader.Story)])
        {
            Slots = root.Elements(Own + "slot").GroupBy(s => NameOf(s), StringComparer.OrdinalIgnoreCase).ToFrozenDictionary(g => g.Key, g => g.First().Value, StringComparer.OrdinalIgnoreCase),
            Parts = root.Elements(Own + "part").GroupBy(NameOf, StringComparer.Ordinal).ToFrozenDictionary(g => g.Key, g => uint.TryParse((string?)g.First().Attribute("crc"), NumberStyles.None, CultureInfo.InvariantCulture, out var crc) ? crc : 0, StringComparer.Ordinal),
            IsIntact = (string?)root.Attribute("hash") == HashOf(part, root),
        };

        ImmutableArray<KeyValuePair<string, string>> Named(string element) => [.. (made?.Elements(Own + element) ?? []).Select(e => KeyValuePair.Create(NameOf(e), e.Value))];

        static string NameOf(XElement element) => (string?)element.Attribute("name") ?? "";
    }

    /// <summary>The hash of what was written: of its bytes if they are as they were, or else as they would be written.</summary>
    private static string HashOf(ReadOnlySpan<byte> part, XElement root)
    {
        var end = part.IndexOf("</made>"u8) is >= 0 and var closed ? closed + "</made>"u8.Length : part.IndexOf("<made/>"u8) is >= 0 and var empty ? empty + "<made/>"u8.Length : -1;
        var last = part.LastIndexOf("</record>"u8);
        if (end >= 0 && last >= end && RecordWriter.HashOf(part[end..last]) is var hash && hash == (string?)root.Attribute("hash")) return hash;
        // Other programs write the same mark-up in other letters.
        return RecordWriter.HashOf(Encoding.UTF8.GetBytes(string.Concat(root.Elements().Where(e => e.Name != Own + "made").Select(Canonical))));
    }

    private static string Canonical(XElement element)
    {
        var copy = new XElement(element);
        foreach (var inner in copy.DescendantsAndSelf())
        {
            inner.Attributes().Where(a => a.IsNamespaceDeclaration).Remove();
            inner.Name = inner.Name.LocalName;
            if (inner is { IsEmpty: false, FirstNode: null }) inner.RemoveNodes();
        }
        return copy.ToString(SaveOptions.DisableFormatting).Replace(" />", "/>", StringComparison.Ordinal);
    }

    private RecordedStory Story(XElement story) => new((string?)story.Attribute("part") ?? "", [.. story.Elements().Select(Block).OfType<RecordedBlock>()]);

    private RecordedBlock? Block(XElement block)
    {
        if (block.Name != Own + "p" && block.Name != Own + "t") return null;
        var mark = ++blocks;
        var (place, label) = ((string?)block.Attribute("a") is { } written ? PlaceOf(written) : null, (string?)block.Attribute("l"));
        if (block.Name == Own + "p") return new RecordedParagraph(mark, place, label, (string?)block.Attribute("s") ?? "", [.. block.Nodes().Select(n => SegmentOf(n, isMarked: true)).OfType<Segment>()]);
        var hash = (string?)block.Element(Own + "h") ?? "";
        return new RecordedTable(mark, place, label, hash.Length > 0 ? null : [.. block.Elements(Own + "r").Select(Row)], hash);
    }

    private RecordedRow Row(XElement row)
    {
        var keys = string.Concat(row.Nodes().OfType<XText>().Select(t => t.Value));
        int[] spans = [.. ((string?)row.Attribute("w"))?.Split(',').Select(s => int.TryParse(s, NumberStyles.None, CultureInfo.InvariantCulture, out var span) ? Math.Clamp(span, 1, 63) : 1) ?? []];
        var known = row.Elements().ToLookup(e => (int?)e.Attribute("c") ?? -1, e => SegmentOf(e, isMarked: false));
        var cells = Math.Max(0, keys.Length - RecordedRow.KeyLength) / RecordedCell.KeyLength;
        return new RecordedRow(keys[..Math.Min(keys.Length, RecordedRow.KeyLength)],
            [.. Enumerable.Range(0, cells).Select(c => new RecordedCell(keys.Substring(RecordedRow.KeyLength + (c * RecordedCell.KeyLength), RecordedCell.KeyLength), c < spans.Length ? spans[c] : 1, [.. known[c].OfType<Segment>()]))]);
    }

    private Segment? SegmentOf(XNode node, bool isMarked)
    {
        if (node is XText text) return new WordsSegment(text.Value);
        if (node is not XElement element) return null;
        var written = element.Value;
        switch (element.Name.LocalName)
        {
            case "v":
                var origin = new Origin((string?)element.Attribute("e") ?? "", (string?)element.Attribute("f"), (string?)element.Attribute("x") ?? written, (string?)element.Attribute("a") is { } at ? PlaceOf(at) : SourcePlace.Nowhere);
                return new ValueSegment(written, isMarked ? ++values : 0, origin) { Proposed = (string?)element.Attribute("o") };
            case "f":
                return new FieldSegment(written, (string?)element.Attribute("k") ?? "");
            case "o" when Enum.TryParse<ObjectKind>((string?)element.Attribute("k"), out var kind):
                return new ObjectSegment(kind, (string?)element.Attribute("i") ?? "") { Letters = written };
            default:
                return null;
        }
    }

    private SourcePlace PlaceOf(string text)
    {
        var parts = text.Split(':');
        var file = parts.Length > 2 ? string.Join(':', parts[..^2]) : manuscript;
        return parts.Length >= 2 && int.TryParse(parts[^2], NumberStyles.None, CultureInfo.InvariantCulture, out var line) && int.TryParse(parts[^1], NumberStyles.None, CultureInfo.InvariantCulture, out var column)
            ? new SourcePlace(file, line, column) : new SourcePlace(text.Length > 0 ? text : manuscript, 0, 0);
    }
}
