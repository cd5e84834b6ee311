using System.Buffers.Binary;
using System.Text;

namespace Fennick.Layout;

/// <summary>Reads the widths of a font from its own file (ISO/IEC 14496-22): its family, its face, how wide its characters are and how high its lines.</summary>
internal sealed class FontFile : IFaceMeasures
{
    private const int Largest = 64 * 1024 * 1024;
    private const int MostGlyphs = 0xFFFF;
    private const uint Collection = 0x74746366;
    private readonly Dictionary<int, ushort> widths = [];
    private int unitsPerEm;
    private (int Ascent, int Descent, int Gap) line;
    private ushort usual;

    private FontFile(FontFace face) => Face = face;

    /// <summary>Which face it is.</summary>
    public FontFace Face { get; }

    /// <summary>The face in a file; null if it holds none that can be read.</summary>
    public static FontFile? Read(string path)
    {
        try
        {
            var file = new FileInfo(path);
            return file.Length > Largest ? null : Read(File.ReadAllBytes(path));
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException or ArgumentOutOfRangeException or IndexOutOfRangeException)
        {
            return null;
        }
    }

    public double Width(ReadOnlySpan<char> text, double points)
    {
        long units = 0;
        foreach (var rune in text.EnumerateRunes()) units += widths.TryGetValue(rune.Value, out var width) ? width : usual;
        return units * points / unitsPerEm;
    }

    public double WithLigatures(ReadOnlySpan<char> text, double points) => Width(text, points);

    public double LineHeight(double points) => (line.Ascent + line.Descent + line.Gap) * points / unitsPerEm;

    public LineMetrics Line(double points) => LineMetrics.Of(line.Ascent, line.Descent, line.Gap, unitsPerEm, points);

    private static FontFile? Read(ReadOnlySpan<byte> bytes)
    {
        // Of a collection the first face is read.
        var start = BinaryPrimitives.ReadUInt32BigEndian(bytes) == Collection ? (int)BinaryPrimitives.ReadUInt32BigEndian(bytes[12..]) : 0;
        var names = Table(bytes, start, "name");
        var head = Table(bytes, start, "head");
        var metrics = Table(bytes, start, "hhea");
        var advances = Table(bytes, start, "hmtx");
        var map = Table(bytes, start, "cmap");
        if (names.IsEmpty || head.IsEmpty || metrics.IsEmpty || advances.IsEmpty || map.IsEmpty || Family(names) is not { } family) return null;
        var style = BinaryPrimitives.ReadUInt16BigEndian(head[44..]);
        var font = new FontFile(new FontFace(family, (style & 1) != 0, (style & 2) != 0))
        {
            unitsPerEm = Math.Max((ushort)1, BinaryPrimitives.ReadUInt16BigEndian(head[18..])),
            line = LinesOf(metrics, Table(bytes, start, "OS/2")),
        };
        var count = BinaryPrimitives.ReadUInt16BigEndian(metrics[34..]);
        if (count == 0 || !font.ReadMap(map, advances, count)) return null;
        font.usual = font.widths.GetValueOrDefault('n', (ushort)(font.unitsPerEm / 2));
        if (font.widths.TryGetValue(' ', out var space)) font.widths['\u00A0'] = font.widths['\u202F'] = space;
        return font;
    }

    /// <summary>How high its lines are: by its horizontal header, by the metrics of another system where that is empty, and by its typographic ones where it asks for them.</summary>
    private static (int Ascent, int Descent, int Gap) LinesOf(ReadOnlySpan<byte> header, ReadOnlySpan<byte> system)
    {
        static int Signed(ReadOnlySpan<byte> table, int at) => BinaryPrimitives.ReadInt16BigEndian(table[at..]);
        var own = (Signed(header, 4), -Signed(header, 6), Signed(header, 8));
        if (system.Length < 78) return own;
        var (asksForTypographic, typographic) = ((BinaryPrimitives.ReadUInt16BigEndian(system[62..]) & (1 << 7)) != 0, (Signed(system, 68), -Signed(system, 70), Signed(system, 72)));
        if (asksForTypographic && typographic.Item1 >= 0 && typographic.Item2 >= 0) return typographic;
        return own is (0, 0, _) ? (BinaryPrimitives.ReadUInt16BigEndian(system[74..]), BinaryPrimitives.ReadUInt16BigEndian(system[76..]), 0) : own;
    }

    private static ReadOnlySpan<byte> Table(ReadOnlySpan<byte> bytes, int start, string name)
    {
        var count = BinaryPrimitives.ReadUInt16BigEndian(bytes[(start + 4)..]);
        for (var i = 0; i < count; i++)
        {
            var entry = bytes.Slice(start + 12 + (16 * i), 16);
            if (Encoding.ASCII.GetString(entry[..4]) != name) continue;
            return bytes.Slice((int)BinaryPrimitives.ReadUInt32BigEndian(entry[8..]), (int)BinaryPrimitives.ReadUInt32BigEndian(entry[12..]));
        }
        return default;
    }

    /// <summary>The family by which documents name it: the first name of a family in the names for Unicode.</summary>
    private static string? Family(ReadOnlySpan<byte> names)
    {
        const int FamilyName = 1;
        var (count, texts) = (BinaryPrimitives.ReadUInt16BigEndian(names[2..]), BinaryPrimitives.ReadUInt16BigEndian(names[4..]));
        for (var i = 0; i < count; i++)
        {
            var entry = names.Slice(6 + (12 * i), 12);
            if (BinaryPrimitives.ReadUInt16BigEndian(entry[6..]) != FamilyName || BinaryPrimitives.ReadUInt16BigEndian(entry) is not (0 or 3)) continue;
            return Encoding.BigEndianUnicode.GetString(names.Slice(texts + BinaryPrimitives.ReadUInt16BigEndian(entry[10..]), BinaryPrimitives.ReadUInt16BigEndian(entry[8..])));
        }
        return null;
    }

    /// <summary>Reads which glyph each character has, and how wide that is (formats 4 and 12).</summary>
    private bool ReadMap(ReadOnlySpan<byte> map, ReadOnlySpan<byte> advances, int advanceCount)
    {
        var count = BinaryPrimitives.ReadUInt16BigEndian(map[2..]);
        for (var i = 0; i < count; i++)
        {
            var table = map[(int)BinaryPrimitives.ReadUInt32BigEndian(map[(8 + (8 * i))..])..];
            var format = BinaryPrimitives.ReadUInt16BigEndian(table);
            if (format == 4) ReadSegments(table, advances, advanceCount);
            else if (format == 12) ReadGroups(table, advances, advanceCount);
        }
        return widths.Count > 0;
    }

    private void ReadSegments(ReadOnlySpan<byte> table, ReadOnlySpan<byte> advances, int advanceCount)
    {
        var segments = BinaryPrimitives.ReadUInt16BigEndian(table[6..]) / 2;
        for (var s = 0; s < segments; s++)
        {
            int end = Value(table, 14 + (2 * s)), first = Value(table, 16 + (2 * (segments + s))), delta = Value(table, 16 + (2 * ((2 * segments) + s)));
            var offsetAt = 16 + (2 * ((3 * segments) + s));
            int offset = Value(table, offsetAt);
            for (var c = first; c <= end && c != 0xFFFF; c++)
            {
                var glyph = offset == 0 ? c + delta : Value(table, offsetAt + offset + (2 * (c - first))) is var listed && listed == 0 ? 0 : listed + delta;
                Add(c, glyph & 0xFFFF, advances, advanceCount);
            }
        }
    }

    private void ReadGroups(ReadOnlySpan<byte> table, ReadOnlySpan<byte> advances, int advanceCount)
    {
        var groups = BinaryPrimitives.ReadUInt32BigEndian(table[12..]);
        for (var g = 0; g < groups; g++)
        {
            var group = table.Slice(16 + (12 * g), 12);
            var (first, last, glyph) = (BinaryPrimitives.ReadUInt32BigEndian(group), BinaryPrimitives.ReadUInt32BigEndian(group[4..]), BinaryPrimitives.ReadUInt32BigEndian(group[8..]));
            for (var c = first; c <= last && c - first <= MostGlyphs && widths.Count <= MostGlyphs; c++) Add((int)c, (int)(glyph + c - first), advances, advanceCount);
        }
    }

    private void Add(int character, int glyph, ReadOnlySpan<byte> advances, int advanceCount)
    {
        if (glyph != 0) widths[character] = Value(advances, 4 * Math.Min(glyph, advanceCount - 1));
    }

    private static ushort Value(ReadOnlySpan<byte> bytes, int at) => BinaryPrimitives.ReadUInt16BigEndian(bytes[at..]);
}
