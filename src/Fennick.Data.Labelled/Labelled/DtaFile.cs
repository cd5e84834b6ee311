using System.Text;

namespace Fennick.Data.Labelled;

/// <summary>A file of the format `.dta`, releases 113 to 119, as its publisher describes it.</summary>
internal sealed class DtaFile(BinarySource source, Encoding? forced)
{
    private const int TextFrom = 32768;

    private static readonly DateTime Origin = new(1960, 1, 1);

    private int release;
    private int variableCount;
    private long rowCount;

    private sealed record Plan(int Type, string Name, string Format, string LabelSet, string Label);

    private bool IsTagged => release >= 117;

    private int LongName => release >= 118 ? 129 : 33;

    /// <summary>Its variables with their values.</summary>
    public IReadOnlyList<LabelledVariable> Read()
    {
        ReadHeader();
        source.Encoding = forced ?? (release >= 118 ? Encoding.UTF8 : CodePagesEncodingProvider.Instance.GetEncoding(1252)!);
        var plans = ReadPlans();
        var values = plans.Select(p => IsText(p.Type) || p.Type == TextFrom ? null : new List<double>()).ToArray();
        var texts = plans.Select(p => IsText(p.Type) || p.Type == TextFrom ? new List<string>() : null).ToArray();
        var references = new List<(int Column, int Row, ulong Key)>();
        Expect("<data>");
        // A header that promises more than there is must not be believed.
        var width = plans.Sum(p => p.Type switch { TextFrom => 8L, 65526 => 8, 65527 or 65528 => 4, 65529 => 2, 65530 => 1, _ => p.Type });
        if (rowCount > 0 && (width == 0 || rowCount > (source.Stream.Length - source.Position) / width)) throw new EndOfStreamException("it ends too early");
        for (var row = 0; row < rowCount; row++)
        {
            for (var c = 0; c < plans.Length; c++)
            {
                if (plans[c].Type == TextFrom)
                {
                    references.Add((c, row, Reference()));
                    texts[c]!.Add("");
                }
                else if (texts[c] is { } column) column.Add(source.Text(plans[c].Type));
                else values[c]!.Add(Number(plans[c].Type));
            }
        }
        Expect("</data>");
        ReadLongTexts(references, texts);
        var sets = ReadLabelSets();
        return [.. plans.Select((p, c) => Variable(p, values[c], texts[c], sets))];
    }

    private static bool IsText(int type) => type is > 0 and <= 2045;

    private static LabelledVariable Variable(Plan plan, List<double>? numbers, List<string>? texts, Dictionary<string, SortedDictionary<double, string>> sets)
    {
        var format = plan.Format.TrimStart('%', '-', '0');
        var isDay = format.StartsWith("td", StringComparison.Ordinal) || format.StartsWith('d');
        var isMoment = format.StartsWith("tc", StringComparison.OrdinalIgnoreCase);
        return new LabelledVariable(plan.Name, plan.Label.Trim())
        {
            Numbers = numbers,
            Texts = texts,
            ValueLabels = numbers is not null && sets.TryGetValue(plan.LabelSet, out var set) ? set : [],
            Meaning = isDay ? NumberMeaning.Day : isMoment ? NumberMeaning.Moment : NumberMeaning.Number,
            Origin = Origin,
            UnitsPerDay = isMoment ? TimeSpan.MillisecondsPerDay : 1,
        };
    }

    private void ReadHeader()
    {
        var first = source.Byte();
        if (first != '<')
        {
            release = first;
            source.IsBigEndian = source.Byte() == 1;
            source.Bytes(2);
            variableCount = source.UInt16();
            rowCount = source.Int32();
            source.Bytes(81 + 18);
            return;
        }
        source.Position = 0;
        Expect("<stata_dta><header><release>");
        release = int.Parse(source.Text(3), System.Globalization.CultureInfo.InvariantCulture);
        if (release is < 117 or > 119) throw new InvalidDataException($"release {release} of the format is not known");
        Expect("</release><byteorder>");
        source.IsBigEndian = source.Text(3) == "MSF";
        Expect("</byteorder><K>");
        variableCount = release == 119 ? source.Int32() : source.UInt16();
        Expect("</K><N>");
        rowCount = release == 117 ? source.Int32() : source.Int64();
        Expect("</N><label>");
        source.Bytes(release == 117 ? source.Byte() : source.UInt16());
        Expect("</label><timestamp>");
        source.Bytes(source.Byte());
        Expect("</timestamp></header><map>");
        source.Bytes(14 * 8);
        Expect("</map>");
    }

    private Plan[] ReadPlans()
    {
        if (variableCount is < 0 or > 120_000 || rowCount < 0) throw new InvalidDataException("its header is damaged");
        Expect("<variable_types>");
        var types = Each(() => IsTagged ? source.UInt16() : OldType(source.Byte()));
        Expect("</variable_types><varnames>");
        var names = Each(() => source.Text(LongName));
        Expect("</varnames><sortlist>");
        source.Bytes((variableCount + 1L) * (release == 119 ? 4 : 2));
        Expect("</sortlist><formats>");
        var formats = Each(() => source.Text(release >= 118 ? 57 : release == 113 ? 12 : 49));
        Expect("</formats><value_label_names>");
        var sets = Each(() => source.Text(LongName));
        Expect("</value_label_names><variable_labels>");
        var labels = Each(() => source.Text(release >= 118 ? 321 : 81));
        Expect("</variable_labels>");
        SkipCharacteristics();
        return [.. types.Select((type, i) => new Plan(type, names[i], formats[i], sets[i], labels[i]))];

        T[] Each<T>(Func<T> one) => [.. Enumerable.Range(0, variableCount).Select(_ => one())];
    }

    private static int OldType(byte type) => type switch { 251 => 65530, 252 => 65529, 253 => 65528, 254 => 65527, 255 => 65526, _ => type };

    private void SkipCharacteristics()
    {
        if (!IsTagged)
        {
            while (true)
            {
                var kind = source.Byte();
                var length = source.Int32();
                if (kind == 0 && length == 0) return;
                source.Bytes(length);
            }
        }
        Expect("<characteristics>");
        while (Tag() == "<ch>")
        {
            source.Bytes(source.Int32());
            Expect("</ch>");
        }
        Expect("</characteristics>");
    }

    private double Number(int type)
    {
        switch (type)
        {
            case 65530:
                var tiny = (sbyte)source.Byte();
                return tiny > 100 ? double.NaN : tiny;
            case 65529:
                var small = (short)source.UInt16();
                return small > 32740 ? double.NaN : small;
            case 65528:
                var whole = source.Int32();
                return whole > 2147483620 ? double.NaN : whole;
            case 65527:
                var single = source.Single();
                // What was 24.7 as a short number is meant as 24.7.
                return !float.IsFinite(single) || single > 1.701e38f ? double.NaN : double.Parse(single.ToString(System.Globalization.CultureInfo.InvariantCulture), System.Globalization.CultureInfo.InvariantCulture);
            case 65526:
                var value = source.Double();
                return !double.IsFinite(value) || value >= 8.98846567431158e307 ? double.NaN : value;
            default: throw new InvalidDataException($"a variable is of type {type}, which is not known");
        }
    }

    // A long text is told by the variable and the row that has it first.
    private ulong Reference()
    {
        var (bytes, rest) = release == 117 ? (4, 4) : release == 118 ? (2, 6) : (3, 5);
        var variable = source.Unsigned(bytes);
        return (variable << 44) ^ source.Unsigned(rest);
    }

    private void ReadLongTexts(List<(int Column, int Row, ulong Key)> references, List<string>?[] texts)
    {
        if (!IsTagged) return;
        Expect("<strls>");
        var all = new Dictionary<ulong, string>();
        while (source.Text(3) == "GSO")
        {
            var key = source.Unsigned(4) << 44;
            key ^= source.Unsigned(release == 117 ? 4 : 8);
            var isBinary = source.Byte() == 129;
            var bytes = source.Bytes(source.Int32());
            all[key] = isBinary ? "" : source.TextOf(bytes);
        }
        source.Position -= 3;
        Expect("</strls>");
        foreach (var (column, row, key) in references)
            if (all.TryGetValue(key, out var text)) texts[column]![row] = text;
    }

    private Dictionary<string, SortedDictionary<double, string>> ReadLabelSets()
    {
        var sets = new Dictionary<string, SortedDictionary<double, string>>(StringComparer.Ordinal);
        Expect("<value_labels>");
        while (IsTagged ? Tag() == "<lbl>" : source.Position < source.Stream.Length)
        {
            var size = source.Int32();
            var name = source.Text(LongName);
            source.Bytes(3);
            var table = new BinarySource(new MemoryStream(source.Bytes(size))) { IsBigEndian = source.IsBigEndian, Encoding = source.Encoding };
            var (count, length) = (table.Int32(), table.Int32());
            if (count < 0 || (count * 8L) + length + 8 > size) throw new InvalidDataException("its labels are damaged");
            int[] offsets = [.. Enumerable.Range(0, count).Select(_ => table.Int32())];
            int[] codes = [.. Enumerable.Range(0, count).Select(_ => table.Int32())];
            var words = table.Bytes(length);
            // Labels of missing codes belong to no value.
            sets[name] = new(codes.Zip(offsets).Where(l => l.First <= 2147483620 && l.Second >= 0 && l.Second < length).GroupBy(l => (double)l.First).ToDictionary(g => g.Key, g => source.TextOf(words.AsSpan(g.First().Second))));
            Expect("</lbl>");
        }
        return sets;
    }

    private void Expect(string tag)
    {
        if (!IsTagged && release != 0) return;
        var found = Encoding.Latin1.GetString(source.Bytes(tag.Length));
        if (found != tag) throw new InvalidDataException($"`{tag}` is missing");
    }

    /// <summary>The next tag; it is taken only if it opens something.</summary>
    private string Tag()
    {
        var start = source.Position;
        var tag = new StringBuilder();
        do tag.Append((char)source.Byte());
        while (tag[^1] != '>' && tag.Length < 64);
        if (tag.ToString().StartsWith("</", StringComparison.Ordinal)) source.Position = start;
        return tag.ToString();
    }
}
