// Writes src/Fennick/Layout/FontWidths.txt from fonts that have the metrics of the common families:
//   dotnet run tools/font-widths.cs > src/Fennick/Layout/FontWidths.txt
// A face is a line "family, family|style|units per em|ascent|descent|line gap" (metrics of hhea), then lines "first code point in hex: widths", and
// one "+ letters=units" of what ligatures add to the widths of their letters (GSUB, feature liga).
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
        var ligatures = font.Ligatures().Where(l => l.Width != l.Letters.Sum(c => font.Width(c))).Select(l => $"{l.Letters}={l.Width - l.Letters.Sum(c => font.Width(c))}").Order(StringComparer.Ordinal).ToArray();
        if (ligatures.Length > 0) Console.WriteLine($"+ {string.Join(' ', ligatures)}");
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

    // Sequences of small letters that one glyph stands for, with the width of that.
    public IEnumerable<(string Letters, int Width)> Ligatures()
    {
        if (!tables.TryGetValue("GSUB", out var gsub)) yield break;
        var letters = Enumerable.Range('a', 26).ToDictionary(Glyph, c => (char)c);
        var (features, lookups) = (gsub + U16(gsub + 6), gsub + U16(gsub + 8));
        var chosen = new SortedSet<int>();
        for (var f = 0; f < U16(features); f++)
        {
            var record = features + 2 + (6 * f);
            if (System.Text.Encoding.ASCII.GetString(data, record, 4) != "liga") continue;
            var feature = features + U16(record + 4);
            for (var i = 0; i < U16(feature + 2); i++) chosen.Add(U16(feature + 4 + (2 * i)));
        }
        var seen = new HashSet<string>();
        foreach (var index in chosen)
        {
            var lookup = lookups + U16(lookups + 2 + (2 * index));
            for (var s = 0; s < U16(lookup + 4); s++)
            {
                var table = lookup + U16(lookup + 6 + (2 * s));
                var type = U16(lookup);
                if (type == 7) (type, table) = (U16(table + 2), table + (U16(table + 4) << 16) + U16(table + 6));
                if (type != 4) continue;
                foreach (var (first, set) in Covered(table + U16(table + 2)).Select((glyph, i) => (glyph, table + U16(table + 6 + (2 * i)))))
                {
                    for (var l = 0; l < U16(set); l++)
                    {
                        var ligature = set + U16(set + 2 + (2 * l));
                        int[] glyphs = [first, .. Enumerable.Range(0, U16(ligature + 2) - 1).Select(i => U16(ligature + 4 + (2 * i)))];
                        if (!glyphs.All(letters.ContainsKey)) continue;
                        var word = string.Concat(glyphs.Select(g => letters[g]));
                        if (seen.Add(word)) yield return (word, U16(tables["hmtx"] + (4 * Math.Min(U16(ligature), longMetrics - 1))));
                    }
                }
            }
        }
    }

    private IEnumerable<int> Covered(int coverage)
    {
        for (var i = 0; i < U16(coverage + 2); i++)
        {
            if (U16(coverage) == 1)
            {
                yield return U16(coverage + 4 + (2 * i));
                continue;
            }
            var range = coverage + 4 + (6 * i);
            for (var g = U16(range); g <= U16(range + 2); g++) yield return g;
        }
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
