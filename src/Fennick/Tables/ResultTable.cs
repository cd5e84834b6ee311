using System.Collections.Immutable;
using System.Globalization;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Statistics.Fits;

namespace Fennick.Tables;

/// <summary>A table of results: what all kinds of them share. Immutable: each call gives another table.</summary>
/// <typeparam name="TSelf">The kind itself.</typeparam>
public abstract record ResultTable<TSelf> : ITableSource
    where TSelf : ResultTable<TSelf>
{
    private const string PValueFormat = "p-value 3";

    private protected ResultTable()
    {
    }

    private protected Labels Names { get; init; } = Tables.Labels.None;

    private ImmutableArray<string> OwnLabels { get; init; } = [];

    private ImmutableArray<string> ExtraNotes { get; init; } = [];

    private bool ExplainsItself { get; init; } = true;

    private protected ImmutableArray<(string Sign, double Level)> SignLevels { get; private init; } = StarsAt(0.05, 0.01, 0.001);

    /// <summary>With other words for a variable, a level (<c>Strain=Dusk</c>), a term or a statistic.</summary>
    public TSelf Label(string name, string words) => (TSelf)(this with { Names = Names.With(name, words), OwnLabels = OwnLabels.Add(name) });

    /// <summary>With labels from elsewhere; what the table was told itself goes before.</summary>
    public TSelf Labels(Labels labels) => (TSelf)(this with { Names = Names.Or(labels) });

    /// <summary>With one more sentence in the note.</summary>
    public TSelf Note(string note) => (TSelf)(this with { ExtraNotes = ExtraNotes.Add(note) });

    /// <summary>Without the sentences by which the table explains itself.</summary>
    public TSelf WithoutNote() => (TSelf)(this with { ExplainsItself = false });

    /// <summary>With one star at the largest of these levels, two at the next, and so on; without any sign if there is no level.</summary>
    /// <exception cref="ArgumentOutOfRangeException">A level is not between 0 and 1.</exception>
    public TSelf Signs(params double[] levels) => (TSelf)(this with { SignLevels = StarsAt(levels) });

    /// <summary>With other signs: <c>.Signs(("†", 0.1), ("*", 0.05))</c>.</summary>
    /// <exception cref="ArgumentOutOfRangeException">A level is not between 0 and 1.</exception>
    public TSelf Signs(params (string Sign, double Level)[] signs) => (TSelf)(this with { SignLevels = Checked([.. signs]) });

    /// <inheritdoc/>
    public abstract Table ToTable();

    /// <summary>The table as aligned plain text, for the terminal.</summary>
    public sealed override string ToString() => ToTable().ToString();

    /// <summary>The table with the notes that were asked for, and a warning for each label of something that is not in it.</summary>
    private protected Table Finish(Table table, IEnumerable<RichText> notes, IEnumerable<string> known) => table with
    {
        Notes = [.. ExplainsItself ? notes : [], .. ExtraNotes.Select(n => (RichText)n), .. table.Notes],
        Warnings = [.. table.Warnings, .. UnknownLabels(known)],
    };

    private protected static TableCell PValue(double value) => new(new RichText([new ValueInline(value, PValueFormat)]));

    private protected static TableCell Text(string words, Alignment? alignment = null) => new(Content: words) { Alignment = alignment };

    private protected static TableCell Number(double? value, string format) => new(new RichText([new ValueInline(value, value is null ? null : format)]));

    /// <summary>"[low, high]" in the middle of its cell.</summary>
    private protected static TableCell IntervalCell(Interval interval, string format) =>
        new(new RichText([new TextInline("["), new ValueInline(interval.Low, format), new TextInline(", "), new ValueInline(interval.High, format), new TextInline("]")])) { Alignment = Alignment.Centre };

    /// <summary>"95% interval" for 0.95.</summary>
    private protected static string IntervalName(double level) => string.Create(CultureInfo.InvariantCulture, $"{level * 100:0.#}% interval");

    private protected static string Capital(string words) => words.Length == 0 ? words : char.ToUpperInvariant(words[0]) + words[1..];

    /// <summary>The sign of a p-value: that of the smallest level above it.</summary>
    private protected RichText? SignOf(double pValue) => SignLevels.Where(s => pValue < s.Level).OrderBy(s => s.Level).Select(s => (RichText)s.Sign).FirstOrDefault();

    /// <summary>"* p &lt; 0.05, ** p &lt; 0.01."</summary>
    private protected IEnumerable<RichText> SignsNote()
    {
        if (SignLevels.IsEmpty) yield break;
        var inlines = new List<Inline>();
        foreach (var (sign, level) in SignLevels)
        {
            if (inlines.Count > 0) inlines.Add(new TextInline(", "));
            inlines.Add(new TextInline($"{sign}\u00A0p\u00A0<\u00A0"));
            inlines.Add(new ValueInline(level, null));
        }
        inlines.Add(new TextInline("."));
        yield return new RichText([.. inlines]);
    }

    /// <summary>Decimals that show two significant digits of the smallest standard error, but two or three of them.</summary>
    private protected static int SensibleDecimals(IEnumerable<double> errors) => Math.Clamp(errors.Select(NeededDecimals).DefaultIfEmpty(2).Max(), 2, 3);

    /// <summary>The common decimals, or more in a row whose errors would show as zero with them.</summary>
    private protected static string RowDecimals(int common, IEnumerable<double> errors) =>
        Decimals(errors.Select(NeededDecimals).DefaultIfEmpty(0).Max() is var needed && needed > common + 1 ? needed : common);

    private static int NeededDecimals(double error) => double.IsFinite(error) && error > 0 ? Math.Clamp(1 - (int)Math.Floor(Math.Log10(error)), 0, 8) : 0;

    private protected static string Decimals(int count) => count == 0 ? "#,0" : $"#,0.{new string('0', count)}";

    private IEnumerable<string> UnknownLabels(IEnumerable<string> known)
    {
        var names = known.ToHashSet(StringComparer.Ordinal);
        return OwnLabels.Where(l => !names.Contains(l)).Select(l => $"the label of `{l}` names nothing in the table{(Nearest.Suggest(l, names) is { } hint ? $"; {hint}" : "")}");
    }

    private static ImmutableArray<(string Sign, double Level)> StarsAt(params double[] levels) =>
        Checked([.. levels.OrderDescending().Select((level, i) => (new string('*', i + 1), level))]);

    private static ImmutableArray<(string Sign, double Level)> Checked(ImmutableArray<(string Sign, double Level)> signs) => signs.All(s => s.Level is > 0 and < 1)
        ? signs : throw new ArgumentOutOfRangeException(nameof(signs), "A level of significance lies between 0 and 1.");
}
