using System.Buffers;
using System.Collections.Concurrent;
using System.Globalization;

namespace Fennick.Layout;

/// <summary>Text measures from tables of advance widths for the families that many machines have, and from the files of other fonts where they are at hand; else a family is taken as the nearest that is known.</summary>
internal sealed class FontWidths : ITextMeasures
{
    private const string FallbackFamily = "Arial";
    private static readonly SearchValues<char> LigatureStarts = SearchValues.Create("ft");
    private static readonly Lazy<Dictionary<string, string[]>> Sections = new(ReadSections);
    private static readonly ConcurrentDictionary<FontFace, IFaceMeasures> Faces = new();
    private static readonly Lazy<FontFolder> Installed = new(() => new FontFolder(FontFolder.OfMachine));

    private readonly FontFolder? own;

    private FontWidths(FontFolder? own) => this.own = own;

    /// <summary>The fonts that are installed.</summary>
    public static FontWidths Instance { get; } = new(null);

    /// <summary>The fonts in a folder, and those that are installed.</summary>
    public static FontWidths Beside(string? folder) => folder is null || !Directory.Exists(folder) ? Instance : new FontWidths(new FontFolder([folder], deep: false));

    /// <summary>Whether a family's own widths are known.</summary>
    public bool Knows(string family) => Sections.Value.ContainsKey(Key(family, "Regular")) || own?.Find(new FontFace(family)) is not null || Installed.Value.Find(new FontFace(family)) is not null;

    public IFaceMeasures Face(FontFace face) => own is null || Sections.Value.ContainsKey(Key(face.Family, "Regular")) || own.Find(face) is not { } measures ? Faces.GetOrAdd(face, static f =>
    {
        var style = (f.Bold, f.Italic) switch { (true, true) => "BoldItalic", (true, false) => "Bold", (false, true) => "Italic", _ => "Regular" };
        return Sections.Value.GetValueOrDefault(Key(f.Family, style)) is { } known ? FaceWidths.Parse(known) : Installed.Value.Find(f) ?? (IFaceMeasures)FaceWidths.Parse(Sections.Value[Key(FallbackFamily, style)]);
    }) : measures;

    private static string Key(string family, string style) => $"{family.ToUpperInvariant()}|{style}";

    private static Dictionary<string, string[]> ReadSections()
    {
        using var stream = typeof(FontWidths).Assembly.GetManifestResourceStream("Fennick.Layout.FontWidths.txt")
            ?? throw new InvalidOperationException("The font widths are missing from the assembly.");
        using var reader = new StreamReader(stream);
        var sections = new Dictionary<string, string[]>();
        var section = new List<string>();
        while (reader.ReadLine() is { } line)
        {
            if (line.StartsWith('#')) continue;
            if (line.Contains('|')) Store();
            section.Add(line);
        }
        Store();
        return sections;

        void Store()
        {
            if (section.Count == 0) return;
            var head = section[0].Split('|');
            foreach (var family in head[0].Split(", ")) sections[Key(family, head[1])] = [.. section];
            section.Clear();
        }
    }

    private sealed class FaceWidths : IFaceMeasures
    {
        private const int TableSize = 0x2300;
        private readonly ushort[] widths = new ushort[TableSize];
        private (string Letters, int Units)[] ligatures = [];
        private int unitsPerEm;
        private (int Ascent, int Descent, int Gap) line;
        private ushort fallback;

        public double Width(ReadOnlySpan<char> text, double points)
        {
            long units = 0;
            foreach (var c in text) units += c < TableSize && widths[c] != 0 ? widths[c] : Unlisted(c);
            return units * points / unitsPerEm;
        }

        public double WithLigatures(ReadOnlySpan<char> text, double points) => Width(text, points) + (ligatures.Length == 0 ? 0 : Ligatures(text) * points / unitsPerEm);

        /// <summary>What ligatures add to the widths of their letters: the longest counts, from the left.</summary>
        private int Ligatures(ReadOnlySpan<char> text)
        {
            var added = 0;
            for (var i = text.IndexOfAny(LigatureStarts); i >= 0 && i < text.Length; i++)
            {
                foreach (var (letters, units) in ligatures)
                {
                    if (!text[i..].StartsWith(letters, StringComparison.Ordinal)) continue;
                    added += units;
                    i += letters.Length - 1;
                    break;
                }
            }
            return added;
        }

        public double LineHeight(double points) => (line.Ascent + line.Descent + line.Gap) * points / unitsPerEm;

        public LineMetrics Line(double points) => LineMetrics.Of(line.Ascent, line.Descent, line.Gap, unitsPerEm, points);

        public static FaceWidths Parse(string[] lines)
        {
            var head = lines[0].Split('|');
            int Number(int i) => int.Parse(head[i], CultureInfo.InvariantCulture);
            var face = new FaceWidths { unitsPerEm = Number(2), line = (Number(3), Number(4), Number(5)) };
            foreach (var line in lines.AsSpan(1))
            {
                if (line.StartsWith('+'))
                {
                    face.ligatures = [.. line[2..].Split(' ').Select(l => l.Split('=')).Select(l => (l[0], int.Parse(l[1], CultureInfo.InvariantCulture))).OrderByDescending(l => l.Item1.Length)];
                    continue;
                }
                var colon = line.IndexOf(':');
                var first = int.Parse(line.AsSpan(0, colon), NumberStyles.HexNumber, CultureInfo.InvariantCulture);
                foreach (var width in line.AsSpan(colon + 2).Split(' '))
                    face.widths[first++] = ushort.Parse(line.AsSpan(colon + 2)[width], CultureInfo.InvariantCulture);
            }
            face.widths['\u00A0'] = face.widths['\u202F'] = face.widths[' '];
            face.fallback = face.widths['n'];
            return face;
        }

        private int Unlisted(char c) => c switch
        {
            _ when char.IsLowSurrogate(c) || char.GetUnicodeCategory(c) == UnicodeCategory.NonSpacingMark => 0,
            >= '\u2E80' => unitsPerEm,
            _ => fallback,
        };
    }
}
