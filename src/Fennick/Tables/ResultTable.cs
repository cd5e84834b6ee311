using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Statistics.Fits;

namespace Fennick.Tables;

/// <summary>A table of results: what all kinds of them share. Immutable: each call gives another table.</summary>
/// <typeparam name="TSelf">The kind itself.</typeparam>
public abstract partial record ResultTable<TSelf> : ITableSource
    where TSelf : ResultTable<TSelf>
{
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

    /// <summary>With one star below the largest of these levels, two below the next, and so on (a p-value of exactly 0.05 is not below 0.05); without any sign if there is no level.</summary>
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

    /// <summary>A p-value in a column of such. One below a level of significance that would read as the level itself gets as many decimals as show that it is below.</summary>
    private protected TableCell PValue(double value)
    {
        var decimals = 3;
        if (value >= 0.001)
            while (decimals < 8 && SignLevels.Any(s => value < s.Level && Math.Round(value, decimals, MidpointRounding.AwayFromZero) == s.Level)) decimals++;
        return new(new RichText([new ValueInline(value, $"p-value bare {decimals}")]));
    }

    private protected static TableCell Text(string words, Alignment? alignment = null) => new(Content: words) { Alignment = alignment };

    private protected static TableCell Number(double? value, string format) => new(new RichText([new ValueInline(value, value is null ? null : format)]));

    /// <summary>"[low, high]" in the middle of its cell.</summary>
    private protected static TableCell IntervalCell(Interval interval, string format) =>
        new(new RichText([new TextInline("["), new ValueInline(interval.Low, format), new TextInline(", "), new ValueInline(interval.High, format), new TextInline("]")])) { Alignment = Alignment.Centre };

    private protected static TableCell Text(RichText words, Alignment? alignment = null) => new(words) { Alignment = alignment };

    /// <summary>"95% interval" for 0.95.</summary>
    private protected static RichText IntervalName(double level) => Sentence($"{Share(level)}% interval");

    /// <summary>95 for 0.95.</summary>
    private protected static RichText Share(double level) => new([new ValueInline(level * 100, "0.#")]);

    /// <summary>A name that Fennick gives to what it does, such as that of an estimator.</summary>
    private protected static RichText Named(string name) => name.Contains('{', StringComparison.Ordinal) ? (RichText)name : new([new PhraseInline(name, [])]);

    /// <summary>What the errors of a model are called, to tell kinds of them apart.</summary>
    private protected static string ErrorsName(IModelResult fit) => $"{fit.ErrorKind} {string.Join(" and ", fit.ErrorGroups)}";

    /// <summary>What models of others say of themselves.</summary>
    private protected static IEnumerable<RichText> OwnNotes(IEnumerable<IModelResult> fits) => fits.SelectMany(f => f.Notes).Distinct().Select(n => (RichText)n);

    /// <summary>"least squares, weighted by Weight".</summary>
    private protected static RichText EstimatorOf(IModelResult fit, Labels labels)
    {
        var estimator = Named(fit.Estimator);
        if (fit.Weights is { } weights) estimator = Sentence($"{estimator}, weighted by {labels[weights]}");
        return fit.Offset is { } offset ? Sentence($"{estimator} with the offset {labels[offset]}") : estimator;
    }

    /// <summary>A kind of standard errors: "clustered by Apiary and Season".</summary>
    private protected static RichText Kind(IModelResult fit, Labels labels)
    {
        string Own(string name) => labels.Has(name) ? labels[name] : name;
        return fit.ErrorGroups switch
        {
            [] => Named(fit.ErrorKind),
            [var only] when fit.ErrorKind != StandardErrors.ClusteredKind => Sentence($"{Named(fit.ErrorKind)} by {Own(only)}"),
            [var only] => Sentence($"clustered by {Own(only)}"),
            [var first, var second, ..] => Sentence($"clustered by {Own(first)} and {Own(second)}"),
        };
    }

    /// <summary>Alternatives: "classical or clustered".</summary>
    private protected static RichText Listed(IReadOnlyList<RichText> parts) => parts.Aggregate((all, next) => Sentence($"{all} or {next}"));

    /// <summary>The same words at the beginning of a sentence.</summary>
    private protected static RichText Opening(RichText words) => words.Inlines switch
    {
        [PhraseInline phrase, .. var rest] => new([phrase with { IsFirst = true }, .. rest]),
        [TextInline text, .. var rest] => new([text with { Text = Capital(text.Text) }, .. rest]),
        _ => words,
    };

    /// <summary>Words in the report's language, with texts, numbers and other words in them: <c>Sentence($"{count} rows without a group are left out.")</c>. Counts are grouped as the language does it.</summary>
    private protected static RichText Sentence(FormattableString words)
    {
        ImmutableArray<RichText> among = [.. words.GetArguments().Select(value => value switch { RichText rich => rich, string text => text, _ => new RichText([new ValueInline(value, "#,0")]) })];
        return new RichText([new PhraseInline(words.Format, among)]);
    }

    /// <summary>"1 row with a missing value is left out.", and the same of rows where a transformation is not defined.</summary>
    private protected static IEnumerable<RichText> LeftOut(int[] missing, int[] undefined)
    {
        RichText Range(int[] counts) => counts.Min() == counts.Max() ? new RichText([new ValueInline(counts[0], "#,0")]) : Sentence($"{counts.Min()} to {counts.Max()}");
        if (missing.Max() > 0) yield return missing.All(m => m == 1) ? Sentence($"1 row with a missing value is left out.") : Sentence($"{Range(missing)} rows with missing values are left out.");
        if (undefined.Max() > 0) yield return undefined.All(m => m == 1) ? Sentence($"1 row where a transformed variable is not defined is left out.") : Sentence($"{Range(undefined)} rows where a transformed variable is not defined are left out.");
    }

    private protected static string Capital(string words) => words.Length == 0 ? words : char.ToUpperInvariant(words[0]) + words[1..];

    /// <summary>The sign of a p-value: that of the smallest level above it. A p-value that is a level exactly has not reached it.</summary>
    private protected RichText? SignOf(double pValue) => SignLevels.Where(s => pValue < s.Level).OrderBy(s => s.Level).Select(s => (RichText)s.Sign).FirstOrDefault();

    /// <summary>"* p &lt; 0.05, ** p &lt; 0.01."; a p-value that is a level exactly has not reached it.</summary>
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

    /// <summary>
    /// The format of an estimate and its error: the usual decimals where they show two significant digits of the error, else as many as do; in units of a power of ten where that would be more
    /// than six, or where the numbers have more than ten digits before the point.
    /// </summary>
    private protected static string EstimateFormat(double estimate, double error, int usual)
    {
        const int mostDecimals = 6, mostDigits = 10;
        bool IsUsable(double number) => double.IsFinite(number) && number != 0;
        // Without an error the estimate itself must show two digits.
        var smallest = IsUsable(error) ? error : Math.Abs(estimate);
        if (!IsUsable(smallest)) return FixedDecimals(usual);
        var needed = Math.Max(usual, 1 - ShortestDecimal.Rounded(smallest, 1).Exponent);
        var magnitude = ShortestDecimal.Rounded(IsUsable(estimate) ? Math.Max(Math.Abs(estimate), smallest) : smallest, 1).Exponent;
        if (needed <= mostDecimals && magnitude < mostDigits) return FixedDecimals(needed);
        var decimals = Math.Max(2, 1 - ShortestDecimal.Rounded(smallest, 1).Exponent + magnitude);
        return decimals <= mostDecimals ? $"power-of-ten {magnitude} {decimals}" : FixedDecimals(Math.Min(8, needed));
    }

    private protected static string FixedDecimals(int count) => count == 0 ? "#,0" : $"#,0.{new string('0', count)}";

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
