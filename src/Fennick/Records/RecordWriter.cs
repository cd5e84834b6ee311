using System.Globalization;
using System.IO.Hashing;
using System.Security.Cryptography;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Wordprocessing;

namespace Fennick.Records;

/// <summary>Writes a document's record while the document is written, or from one that was read.</summary>
internal sealed class RecordWriter : IDisposable
{
    /// <summary>The version of this program.</summary>
    public static readonly string Program = typeof(RecordWriter).Assembly.GetName().Version?.ToString(3) ?? "";

    private readonly PooledBuffer buffer = new();
    private readonly Utf8XmlWriter xml;
    private readonly Making making;
    private readonly XxHash64 tableText = new();
    private int blocks;
    private int values;
    private readonly List<RecordedCell> row = [];
    private readonly List<string> rowTexts = [];
    private readonly StringBuilder cellText = new();
    private readonly List<Segment> known = [];
    private int cellSpan;
    private bool isOpen;
    private bool isInTable;
    private bool isLongTable;

    /// <param name="making">What the document is made from.</param>
    public RecordWriter(Making making)
    {
        this.making = making;
        xml = new Utf8XmlWriter(buffer);
    }

    /// <summary>The bytes of a record that is known.</summary>
    public static byte[] Write(DocumentRecord record)
    {
        using var writer = new RecordWriter(record.Making);
        foreach (var story in record.Stories)
        {
            writer.BeginStory(story.Part);
            foreach (var block in story.Blocks) writer.Write(block);
            writer.EndStory();
        }
        foreach (var (slot, words) in record.Slots.OrderBy(s => s.Key, StringComparer.Ordinal)) writer.Slot(slot, words);
        foreach (var (part, checksum) in record.Parts.OrderBy(p => p.Key, StringComparer.Ordinal)) writer.Part(part, checksum);
        using var target = new PooledBuffer();
        writer.WriteTo(target);
        return target.WrittenSpan.ToArray();
    }

    private void Write(RecordedBlock block)
    {
        if (block is RecordedParagraph paragraph)
        {
            BeginParagraph(Encoding.UTF8.GetBytes(paragraph.Style), paragraph.Place, paragraph.Label);
            foreach (var segment in paragraph.Content)
            {
                switch (segment)
                {
                    case ValueSegment value: Value(value.Text, value.Origin, value.Proposed); break;
                    case FieldSegment field: Field(field.Text, field.Kind); break;
                    case ObjectSegment known: Object(known.Kind, known.Key, known.Letters); break;
                    default: Words(segment.Text); break;
                }
            }
            EndParagraph();
            return;
        }
        var table = (RecordedTable)block;
        BeginTable(table.Rows?.Length ?? int.MaxValue, table.Place, table.Label);
        foreach (var known in table.Rows ?? [])
        {
            BeginRow();
            row.AddRange(known.Cells);
            EndRow(known.Key);
        }
        if (table.Rows is null)
        {
            isLongTable = false;
            xml.Element("h"u8);
            xml.Text(table.Hash);
            xml.End("h"u8);
        }
        EndTable();
    }

    /// <summary>Begins a part of the document.</summary>
    public void BeginStory(string part)
    {
        xml.Element("story"u8);
        xml.Attribute("part"u8, part);
    }

    public void EndStory() => xml.End("story"u8);

    /// <summary>Begins a paragraph that stands by itself.</summary>
    /// <param name="style">The id of its style; empty if it names none.</param>
    /// <param name="place">Where it comes from.</param>
    /// <param name="label">The label of what it belongs to.</param>
    /// <returns>The number of its mark.</returns>
    public int BeginParagraph(ReadOnlySpan<byte> style, SourcePlace? place, string? label)
    {
        xml.Element("p"u8);
        if (style.Length > 0) xml.Attribute("s"u8, style);
        WriteOrigin(place, label);
        isOpen = true;
        return ++blocks;
    }

    public void EndParagraph()
    {
        isOpen = false;
        xml.End("p"u8);
    }

    /// <summary>Begins a table of data.</summary>
    /// <param name="rows">How many rows it has.</param>
    /// <param name="place">Where it comes from.</param>
    /// <param name="label">Its label.</param>
    /// <returns>The number of its mark.</returns>
    public int BeginTable(int rows, SourcePlace? place, string? label)
    {
        xml.Element("t"u8);
        WriteOrigin(place, label);
        (isInTable, isLongTable) = (true, rows > DocumentRecord.MostRows);
        return ++blocks;
    }

    public void BeginRow()
    {
        row.Clear();
        rowTexts.Clear();
    }

    /// <summary>Writes what is known of the row.</summary>
    public void EndRow() => EndRow(RecordedRow.KeyOf(rowTexts));

    private void EndRow(string key)
    {
        if (isLongTable) return;
        xml.Element("r"u8);
        if (row.Any(c => c.Span > 1)) xml.Attribute("w"u8, string.Join(',', row.Select(c => c.Span)));
        xml.Text(key);
        foreach (var cell in row) xml.Text(cell.Key);
        for (var c = 0; c < row.Count; c++)
        {
            foreach (var segment in row[c].Known)
            {
                if (segment is ValueSegment value) WriteValue(value.Text, value.Origin, null, c);
                else if (segment is ObjectSegment known) WriteObject(known.Kind, known.Key, known.Letters, c);
            }
        }
        xml.End("r"u8);
    }

    /// <summary>Begins a cell.</summary>
    /// <param name="span">How many columns it reaches over.</param>
    public void BeginCell(int span)
    {
        isOpen = true;
        cellText.Clear();
        known.Clear();
        cellSpan = span;
    }

    public void EndCell()
    {
        isOpen = false;
        var text = RecordedCell.Bare(cellText.ToString());
        if (isLongTable)
        {
            RecordedTable.Append(tableText, text);
            return;
        }
        rowTexts.Add(text);
        row.Add(new RecordedCell(RecordedCell.KeyOf(text), cellSpan, [.. known]));
    }

    public void EndTable()
    {
        if (isLongTable)
        {
            xml.Element("h"u8);
            xml.Text(Convert.ToHexStringLower(tableText.GetHashAndReset()));
            xml.End("h"u8);
        }
        xml.End("t"u8);
        isInTable = isLongTable = false;
    }

    /// <summary>Words of the manuscript.</summary>
    public void Words(ReadOnlySpan<char> text)
    {
        if (isInTable) cellText.Append(text);
        else if (isOpen) Text(text);
    }

    /// <summary>What a value has become.</summary>
    /// <returns>The number of its mark; 0 if it gets none.</returns>
    public int Value(string text, Origin origin, string? proposed = null)
    {
        if (isInTable)
        {
            cellText.Append(text);
            known.Add(new ValueSegment(text, 0, origin));
            return 0;
        }
        if (!isOpen) return 0;
        WriteValue(text, origin, proposed, -1);
        return ++values;
    }

    /// <summary>What a field shows.</summary>
    public void Field(ReadOnlySpan<char> text, ReadOnlySpan<char> instruction)
    {
        if (isInTable) cellText.Append(text);
        if (isInTable || !isOpen) return;
        xml.Element("f"u8);
        var end = instruction.IndexOf(' ');
        xml.Attribute("k"u8, end < 0 ? instruction : instruction[..end]);
        Text(text);
        xml.End("f"u8);
    }

    /// <summary>What is no text.</summary>
    public void Object(ObjectKind kind, string key, string letters = "")
    {
        if (isInTable)
        {
            cellText.Append(Segment.ObjectLetter);
            known.Add(new ObjectSegment(kind, key) { Letters = letters });
        }
        else if (isOpen) WriteObject(kind, key, letters, -1);
    }

    private void WriteValue(string text, Origin origin, string? proposed, int cell)
    {
        xml.Element("v"u8);
        if (cell >= 0) xml.Attribute("c"u8, cell);
        xml.Attribute("e"u8, origin.Expression);
        if (origin.Format is { } format) xml.Attribute("f"u8, format);
        if (text != origin.Value) xml.Attribute("x"u8, origin.Value);
        if (origin.Place.Line >= 0) xml.Attribute("a"u8, PlaceText(origin.Place));
        if (proposed is not null) xml.Attribute("o"u8, proposed);
        Text(text);
        xml.End("v"u8);
    }

    private void WriteObject(ObjectKind kind, string key, string letters, int cell)
    {
        xml.Element("o"u8);
        if (cell >= 0) xml.Attribute("c"u8, cell);
        xml.Attribute("k"u8, kind.ToString());
        xml.Attribute("i"u8, key);
        if (letters.Length > 0) xml.Text(letters);
        xml.End("o"u8);
    }

    /// <summary>What was written into a slot.</summary>
    public void Slot(string name, string words)
    {
        xml.Element("slot"u8);
        xml.Attribute("name"u8, name);
        xml.Text(words);
        xml.End("slot"u8);
    }

    /// <summary>A part of the document, of which only that is known.</summary>
    public void Part(string name, uint checksum)
    {
        xml.Element("part"u8);
        xml.Attribute("name"u8, name);
        xml.Attribute("crc"u8, checksum);
        xml.End("part"u8);
    }

    /// <summary>Writes all of it.</summary>
    public void WriteTo(PooledBuffer target)
    {
        var whole = new Utf8XmlWriter(target);
        whole.Declaration();
        using (whole.Element("record"u8))
        {
            whole.Attribute("xmlns"u8, DocumentRecord.Namespace);
            whole.Attribute("program"u8, Program);
            whole.Attribute("hash"u8, HashOf(buffer.WrittenSpan));
            using (whole.Element("made"u8))
            {
                if (making.Manuscript.Length > 0) whole.Attribute("by"u8, making.Manuscript);
                if (making.Hash.Length > 0) whole.Attribute("hash"u8, making.Hash);
                foreach (var (name, value) in making.Parameters) Named(whole, "set"u8, name, value);
                foreach (var (name, hash) in making.Inputs) Named(whole, "input"u8, name, hash);
                foreach (var (name, text) in making.Sources) Named(whole, "source"u8, name, text);
            }
            whole.Raw(buffer.WrittenSpan);
        }
    }

    /// <summary>The hash by which it is known whether anybody has changed what was written.</summary>
    public static string HashOf(ReadOnlySpan<byte> written) => Convert.ToHexStringLower(SHA256.HashData(written).AsSpan(0, 16));

    /// <summary>A place as records name it: without the manuscript's own name, and never where on a machine it is.</summary>
    private string PlaceText(SourcePlace place)
    {
        var file = making.Names.GetValueOrDefault(place.File) ?? Path.GetFileName(place.File);
        return file == making.Manuscript ? string.Create(CultureInfo.InvariantCulture, $"{place.Line}:{place.Column}") : (place with { File = file }).ToString();
    }

    private static void Named(Utf8XmlWriter xml, ReadOnlySpan<byte> element, string name, string text)
    {
        using (xml.Element(element))
        {
            xml.Attribute("name"u8, name);
            xml.Text(text);
        }
    }

    private void WriteOrigin(SourcePlace? place, string? label)
    {
        if (place is not null) xml.Attribute("a"u8, PlaceText(place));
        if (label is not null) xml.Attribute("l"u8, label);
    }

    /// <summary>Text with its line ends as one character: what stands in documents as breaks.</summary>
    private void Text(ReadOnlySpan<char> text)
    {
        if (!text.ContainsAny('\r', '\v')) xml.Text(text);
        else xml.Text(text.ToString().ReplaceLineEndings("\n").Replace('\v', '\n'));
    }

    public void Dispose() => buffer.Dispose();
}
