// Writes src/Fennick/Layout/FontWidths.txt from fonts that have the metrics of the common families:
//   dotnet run tools/font-widths.cs > src/Fennick/Layout/FontWidths.txt
// A face is a line "family, family|style|units per em|ascent|descent|line gap" (metrics of hhea), then lines "first code point in hex: widths".
using System.Buffers.Binary;
using System.Globalization;

const string Folder = "/usr/share/fonts/truetype";
(string Families, string File)[] families =
[
    ("Calibri, Carlito", "crosextra/Carlito"),
    ("Cambria, Caladea", "crosextra/Caladea"),
    ("Arial, Liberation Sans, Helvetica", "liberation/LiberationSans"),
    ("Times New Roman, Liberation Serif", "liberation/LiberationSerif"),
    ("Courier New, Liberation Mono", "liberation/LiberationMono"),
];
(int First, int Last)[] ranges = [(0x20, 0x7E), (0xA0, 0x17F), (0x391, 0x3C9), (0x2010, 0x2026), (0x2030, 0x203A), (0x2070, 0x208E), (0x20AC, 0x20AC), (0x2190, 0x2193), (0x2202, 0x2265)];

Console.WriteLine("# Advance widths in font units. Made by tools/font-widths.cs.");
foreach (var (names, file) in families)
{
    foreach (var style in (string[])["Regular", "Bold", "Italic", "BoldItalic"])
    {
        var font = new Font(File.ReadAllBytes($"{Folder}/{file}-{style}.ttf"));
        Console.WriteLine($"{names}|{style}|{font.UnitsPerEm}|{font.Ascent}|{font.Descent}|{font.LineGap}");
        foreach (var (first, last) in ranges)
        {
            var widths = Enumerable.Range(first, last - first + 1).Select(c => font.Width(c)).Select(w => w.ToString(CultureInfo.InvariantCulture));
            Console.WriteLine($"{first:X}: {string.Join(' ', widths)}");
        }
    }
}

internal sealed class Font
{
    private readonly byte[] data;
    private readonly Dictionary<string, int> tables = [];
    private readonly int longMetrics;

    public Font(byte[] data)
    {
        this.data = data;
        for (var i = 0; i < U16(4); i++)
        {
            var entry = 12 + (16 * i);
            tables[System.Text.Encoding.ASCII.GetString(data, entry, 4)] = (int)BinaryPrimitives.ReadUInt32BigEndian(data.AsSpan(entry + 8));
        }
        longMetrics = U16(tables["hhea"] + 34);
    }

    public int UnitsPerEm => U16(tables["head"] + 18);
    public int Ascent => S16(tables["hhea"] + 4);
    public int Descent => -S16(tables["hhea"] + 6);
    public int LineGap => S16(tables["hhea"] + 8);

    // 0: the font lacks the character.
    public int Width(int codePoint)
    {
        var glyph = Glyph(codePoint);
        return glyph == 0 ? 0 : U16(tables["hmtx"] + (4 * Math.Min(glyph, longMetrics - 1)));
    }

    private int Glyph(int codePoint)
    {
        var cmap = tables["cmap"];
        for (var i = 0; i < U16(cmap + 2); i++)
        {
            var subtable = cmap + (int)BinaryPrimitives.ReadUInt32BigEndian(data.AsSpan(cmap + 8 + (8 * i)));
            if (U16(subtable) != 4) continue;
            var segments = U16(subtable + 6) / 2;
            var ends = subtable + 14;
            var starts = ends + (2 * segments) + 2;
            var deltas = starts + (2 * segments);
            var offsets = deltas + (2 * segments);
            for (var s = 0; s < segments; s++)
            {
                if (codePoint > U16(ends + (2 * s))) continue;
                var start = U16(starts + (2 * s));
                if (codePoint < start) return 0;
                var delta = U16(deltas + (2 * s));
                var offset = U16(offsets + (2 * s));
                if (offset == 0) return (codePoint + delta) & 0xFFFF;
                var glyph = U16(offsets + (2 * s) + offset + (2 * (codePoint - start)));
                return glyph == 0 ? 0 : (glyph + delta) & 0xFFFF;
            }
        }
        return 0;
    }

    private int U16(int offset) => BinaryPrimitives.ReadUInt16BigEndian(data.AsSpan(offset));

    private int S16(int offset) => BinaryPrimitives.ReadInt16BigEndian(data.AsSpan(offset));
}
