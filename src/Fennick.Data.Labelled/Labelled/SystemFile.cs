using System.IO.Compression;
using System.Text;

namespace Fennick.Data.Labelled;

/// <summary>A system file, `.sav` or `.zsav`, as the manual of a free program describes the format.</summary>
internal sealed class SystemFile(BinarySource source, Encoding? forced)
{
    private const int Element = 8;
    private const int Segment = 255;
    private const int SegmentUsed = 252;
    private const double SystemMissing = -double.MaxValue;

    // The numbers of the formats of dates and times.
    private static readonly int[] Days = [20, 23, 24, 28, 29, 30, 38, 39];
    private static readonly int[] Moments = [22, 41];
    private static readonly DateTime Origin = new(1582, 10, 14);

    private readonly List<Plan> plans = [];
    private readonly Dictionary<string, string> longNames = new(StringComparer.OrdinalIgnoreCase);
    private readonly Dictionary<string, int> veryLong = new(StringComparer.OrdinalIgnoreCase);
    private readonly List<(List<(byte[] Value, byte[] Label)> Labels, int[] Places)> labelSets = [];
    private readonly List<(byte[] Name, byte[] Value, byte[] Label)> longLabels = [];
    private int compression;
    private double bias;
    private Encoding? told;

    /// <summary>What the dictionary says of a variable, or of a segment of a long one.</summary>
    private sealed class Plan
    {
        public required int Width { get; init; }

        /// <summary>Where it stands in the dictionary, in elements of eight bytes.</summary>
        public required int Place { get; init; }

        public required int Format { get; init; }

        public required byte[] Name { get; init; }

        public required byte[] Label { get; init; }

        public required double[] Missing { get; init; }

        public required bool HasRange { get; init; }

        public required byte[][] MissingTexts { get; init; }
    }

    /// <summary>Its variables with their values.</summary>
    public IReadOnlyList<LabelledVariable> Read()
    {
        var caseCount = ReadHeader();
        ReadDictionary();
        source.Encoding = forced ?? told ?? CodePagesEncodingProvider.Instance.GetEncoding(1252)!;
        var groups = Group();
        var variables = groups.Select(g => Variable(g[0], Width(g))).ToArray();
        var elements = Elements();
        var hasCases = caseCount >= 0;
        for (var row = 0L; !hasCases || row < caseCount; row++)
        {
            if (!elements.MoveNext())
            {
                if (hasCases) throw new EndOfStreamException("it ends too early");
                break;
            }
            for (var g = 0; g < groups.Count; g++)
            {
                if (variables[g].Numbers is { } numbers)
                {
                    if (g > 0) Next(elements);
                    numbers.Add(Number(groups[g][0], BitConverter.Int64BitsToDouble(Swap(BitConverter.ToInt64(elements.Current)))));
                    continue;
                }
                variables[g].Texts!.Add(Text(groups[g], elements, isFirst: g == 0));
            }
        }
        return variables;
    }

    private static void Next(IEnumerator<byte[]> elements)
    {
        if (!elements.MoveNext()) throw new EndOfStreamException("it ends too early");
    }

    private long Swap(long bits) => source.IsBigEndian ? System.Buffers.Binary.BinaryPrimitives.ReverseEndianness(bits) : bits;

    private int ReadHeader()
    {
        source.Bytes(4 + 60);
        var layout = source.Int32();
        if (layout is not (2 or 3))
        {
            source.IsBigEndian = true;
            source.Position -= 4;
            if (source.Int32() is not (2 or 3)) throw new InvalidDataException("its header is damaged");
        }
        source.Int32();
        compression = source.Int32();
        source.Int32();
        var cases = source.Int32();
        bias = source.Double();
        source.Bytes(9 + 8 + 64 + 3);
        return cases;
    }

    private void ReadDictionary()
    {
        var place = 0;
        while (true)
        {
            switch (source.Int32())
            {
                case 2:
                    ReadVariable(place++);
                    break;
                case 3:
                    var labels = new List<(byte[], byte[])>();
                    for (var left = source.Int32(); left > 0; left--)
                    {
                        var value = source.Bytes(Element);
                        var length = source.Byte();
                        labels.Add((value, source.Bytes(length)));
                        source.Bytes((Element - ((length + 1) % Element)) % Element);
                    }
                    if (source.Int32() != 4) throw new InvalidDataException("its labels are damaged");
                    int[] places = [.. Enumerable.Range(0, source.Int32()).Select(_ => source.Int32())];
                    labelSets.Add((labels, places));
                    break;
                case 6:
                    source.Bytes(source.Int32() * 80L);
                    break;
                case 7:
                    ReadExtension();
                    break;
                case 999:
                    source.Int32();
                    return;
                default: throw new InvalidDataException("its dictionary is damaged");
            }
        }
    }

    private void ReadVariable(int place)
    {
        var width = source.Int32();
        var hasLabel = source.Int32() == 1;
        var missing = source.Int32();
        source.Int32();
        var format = (source.Int32() >> 16) & 0xFF;
        var name = source.Bytes(Element);
        byte[] label = [];
        if (hasLabel)
        {
            var length = source.Int32();
            label = source.Bytes(length);
            source.Bytes((4 - (length % 4)) % 4);
        }
        byte[][] codes = [.. Enumerable.Range(0, Math.Abs(missing)).Select(_ => source.Bytes(Element))];
        if (width < 0) return;
        plans.Add(new Plan
        {
            Width = width,
            Place = place,
            Format = format,
            Name = name,
            Label = label,
            HasRange = missing < 0,
            Missing = width > 0 ? [] : [.. codes.Select(c => BitConverter.Int64BitsToDouble(Swap(BitConverter.ToInt64(c))))],
            MissingTexts = width > 0 ? codes : [],
        });
    }

    private void ReadExtension()
    {
        var (kind, size, count) = (source.Int32(), source.Int32(), source.Int32());
        if (size < 0 || count < 0) throw new InvalidDataException("its dictionary is damaged");
        var bytes = source.Bytes((long)size * count);
        switch (kind)
        {
            case 3 when count >= 8:
                told ??= PageOf(System.Buffers.Binary.BinaryPrimitives.ReadInt32LittleEndian(source.IsBigEndian ? [.. bytes.AsSpan(28, 4).ToArray().Reverse()] : bytes.AsSpan(28, 4)));
                break;
            case 13:
                foreach (var pair in Latin(bytes).Split('\t', StringSplitOptions.RemoveEmptyEntries).Select(p => p.Split('=', 2)).Where(p => p.Length == 2)) longNames[pair[0]] = pair[1];
                break;
            case 14:
                foreach (var pair in Latin(bytes).Split('\t', StringSplitOptions.RemoveEmptyEntries).Select(p => p.TrimEnd('\0').Split('=', 2)).Where(p => p.Length == 2))
                    if (int.TryParse(pair[1].TrimEnd('\0'), out var width)) veryLong[pair[0].Trim('\0')] = width;
                break;
            case 20:
                told = Named(Latin(bytes)) ?? told;
                break;
            case 21:
                ReadLongLabels(bytes);
                break;
        }
    }

    private void ReadLongLabels(byte[] bytes)
    {
        var part = new BinarySource(new MemoryStream(bytes)) { IsBigEndian = source.IsBigEndian };
        while (part.Position < bytes.Length)
        {
            var name = part.Bytes(part.Int32());
            part.Int32();
            for (var left = part.Int32(); left > 0; left--)
            {
                var value = part.Bytes(part.Int32());
                longLabels.Add((name, value, part.Bytes(part.Int32())));
            }
        }
    }

    private static string Latin(byte[] bytes) => Encoding.Latin1.GetString(bytes);

    private static Encoding? PageOf(int page) => page switch { 2 or 3 => Encoding.Latin1, 65001 => Encoding.UTF8, > 99 and < 65000 => CodePagesEncodingProvider.Instance.GetEncoding(page), _ => null };

    private static Encoding? Named(string name)
    {
        try
        {
            return Encoding.GetEncoding(name);
        }
        catch (ArgumentException)
        {
            try
            {
                return CodePagesEncodingProvider.Instance.GetEncoding(name);
            }
            catch (ArgumentException)
            {
                return null;
            }
        }
    }

    /// <summary>The variables, each with the segments of a long text.</summary>
    private List<List<Plan>> Group()
    {
        var groups = new List<List<Plan>>();
        for (var i = 0; i < plans.Count; i++)
        {
            var segments = veryLong.TryGetValue(Short(plans[i]), out var width) ? (width + SegmentUsed - 1) / SegmentUsed : 1;
            groups.Add(plans.GetRange(i, Math.Min(segments, plans.Count - i)));
            i += segments - 1;
        }
        return groups;
    }

    private static string Short(Plan plan) => Latin(plan.Name).TrimEnd();

    private int Width(List<Plan> group) => group.Count > 1 ? veryLong[Short(group[0])] : group[0].Width;

    private LabelledVariable Variable(Plan plan, int width)
    {
        // Long names stand in the encoding of the file.
        var name = longNames.TryGetValue(Short(plan), out var given) ? source.TextOf(Encoding.Latin1.GetBytes(given)) : source.TextOf(plan.Name).TrimEnd();
        var variable = new LabelledVariable(name, source.TextOf(plan.Label).Trim())
        {
            Numbers = width == 0 ? [] : null,
            Texts = width == 0 ? null : [],
            Meaning = width > 0 ? NumberMeaning.Number : Days.Contains(plan.Format) ? NumberMeaning.Day : Moments.Contains(plan.Format) ? NumberMeaning.Moment : NumberMeaning.Number,
            Origin = Origin,
            UnitsPerDay = 86400,
        };
        foreach (var (labels, _) in labelSets.Where(s => s.Places.Contains(plan.Place + 1)))
        {
            foreach (var (value, label) in labels)
            {
                var words = source.TextOf(label).TrimEnd();
                if (width == 0) variable.ValueLabels[BitConverter.Int64BitsToDouble(Swap(BitConverter.ToInt64(value)))] = words;
                else variable.TextLabels[source.TextOf(value).TrimEnd()] = words;
            }
        }
        foreach (var (owner, value, label) in longLabels.Where(l => source.TextOf(l.Name).TrimEnd() == name)) variable.TextLabels[source.TextOf(value).TrimEnd()] = source.TextOf(label).TrimEnd();
        return variable;
    }

    private static double Number(Plan plan, double value)
    {
        if (value == SystemMissing || double.IsNaN(value)) return double.NaN;
        var codes = plan.HasRange ? plan.Missing.AsSpan(2) : plan.Missing;
        return codes.Contains(value) || (plan.HasRange && value >= plan.Missing[0] && value <= plan.Missing[1]) ? double.NaN : value;
    }

    private string Text(List<Plan> group, IEnumerator<byte[]> elements, bool isFirst)
    {
        var all = new List<byte>();
        foreach (var plan in group)
        {
            var start = all.Count;
            for (var left = plan.Width; left > 0; left -= Element)
            {
                if (!isFirst) Next(elements);
                isFirst = false;
                all.AddRange(elements.Current);
            }
            // Of a segment all but the last bytes belong to the text.
            var used = group.Count > 1 && plan.Width == Segment ? Segment : plan.Width;
            all.RemoveRange(start + used, all.Count - start - used);
        }
        var bytes = all.ToArray();
        var first = group[0];
        if (first.MissingTexts.Any(m => Trimmed(m).SequenceEqual(Trimmed(bytes)))) return "";
        return source.Encoding.GetString(bytes).TrimEnd(' ', '\0');

        static ReadOnlySpan<byte> Trimmed(ReadOnlySpan<byte> text) => text.TrimEnd(" \0"u8);
    }

    /// <summary>The data, eight bytes after eight.</summary>
    private IEnumerator<byte[]> Elements()
    {
        return compression switch
        {
            0 => Plain(source.Stream),
            1 => Unpacked(source.Stream),
            2 => Unpacked(Inflated()),
            _ => throw new InvalidDataException("it is compressed in a way that is not known"),
        };
    }

    private static IEnumerator<byte[]> Plain(Stream data)
    {
        while (Take(data) is { } element) yield return element;
    }

    private IEnumerator<byte[]> Unpacked(Stream data)
    {
        while (Take(data) is { } codes)
        {
            foreach (var code in codes)
            {
                switch (code)
                {
                    case 0: break;
                    case 252: yield break;
                    case 253:
                        yield return Take(data) ?? throw new EndOfStreamException("it ends too early");
                        break;
                    case 254:
                        yield return [.. "        "u8];
                        break;
                    case 255:
                        yield return BitConverter.GetBytes(Swap(BitConverter.DoubleToInt64Bits(SystemMissing)));
                        break;
                    default:
                        yield return BitConverter.GetBytes(Swap(BitConverter.DoubleToInt64Bits(code - bias)));
                        break;
                }
            }
        }
    }

    private static byte[]? Take(Stream data)
    {
        var element = new byte[Element];
        var read = data.ReadAtLeast(element, Element, throwOnEndOfStream: false);
        return read == Element ? element : read == 0 ? null : throw new EndOfStreamException("it ends too early");
    }

    private MemoryStream Inflated()
    {
        source.Int64();
        var (trailer, length) = (source.Int64(), source.Int64());
        if (trailer < 0 || trailer + length > source.Stream.Length) throw new InvalidDataException("its blocks are damaged");
        source.Position = trailer + 16;
        source.Int32();
        var blocks = Enumerable.Range(0, source.Int32()).Select(_ => (source.Int64(), At: source.Int64(), source.Int32(), Size: source.Int32())).ToArray();
        var all = new MemoryStream();
        foreach (var block in blocks)
        {
            source.Position = block.At;
            using var inflate = new ZLibStream(new MemoryStream(source.Bytes(block.Size)), CompressionMode.Decompress);
            inflate.CopyTo(all);
        }
        all.Position = 0;
        return all;
    }
}
