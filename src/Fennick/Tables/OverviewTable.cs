using System.Collections.Immutable;
using System.Globalization;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Statistics.Variables;

namespace Fennick.Tables;

/// <summary>What a data set holds: for each variable its type, how much is missing, how many different values there are and between what, and which cells look doubtful.</summary>
/// <example><c>OverviewTable.Of(hives)</c></example>
public sealed record OverviewTable : ResultTable<OverviewTable>
{
    private const int LevelsShown = 4;
    private const int CellsShown = 3;

    // Beyond these many widths of the middle half from it, a value is far out (Tukey, Exploratory Data Analysis, 1977, §2D).
    private const double FarOut = 3;

    private static readonly string[] Heads = ["Variable", "Type", "Missing", "Different", "Values", "Doubtful"];
    private static readonly double[] Codes = [-9, -99, -999, -9999, 99, 999, 9999, 99999];
    private static readonly HashSet<string> NoValues = new(StringComparer.OrdinalIgnoreCase) { "", "-", "--", ".", "?", "n/a", "n.a.", "na", "nan", "none", "null", "unknown", "missing", "#n/a" };

    private readonly ImmutableArray<(string Name, object?[] Values)> variables;
    private readonly Labels given;
    private readonly int rows;
    private DateTime today;

    private OverviewTable(ImmutableArray<(string, object?[])> variables, int rows, Labels given)
    {
        this.variables = variables;
        this.rows = rows;
        this.given = given;
        today = DateTime.MaxValue;
    }

    /// <summary>Of records, by their public properties.</summary>
    public static OverviewTable Of<T>(IEnumerable<T> records)
    {
        object?[] all = [.. records.Cast<object?>()];
        var listing = ListingTable.Of(all.Cast<T>()).Content();
        return new([.. listing.Columns], all.Length, listing.Labels);
    }

    /// <summary>Of named columns, such as those of a file or of a data frame.</summary>
    /// <param name="columns">The columns.</param>
    /// <param name="labels">What they are called; their names as words if null.</param>
    public static OverviewTable Of(IColumnSource columns, Labels? labels = null)
    {
        ArgumentNullException.ThrowIfNull(columns);
        var all = columns.Names.Select(columns.Column).ToArray();
        return new([.. all.Select(v => (v.Name, ValuesOf(v)))], all.Length == 0 ? 0 : all[0].Count, labels ?? Tables.Labels.None);
    }

    /// <summary>With dates after this day as doubtful, such as the report's own date.</summary>
    public OverviewTable AsOf(DateOnly day) => this with { today = day.ToDateTime(TimeOnly.MaxValue) };

    /// <inheritdoc/>
    public override Table ToTable()
    {
        var labels = Names.Or(given);
        var doubtsOf = variables.Select(v => Doubts(v.Values).ToArray()).ToArray();
        var hasDoubts = doubtsOf.Any(d => d.Length > 0);
        string[] heads = hasDoubts ? Heads : Heads[..^1];
        Alignment[] sides = [Alignment.Left, Alignment.Left, Alignment.Right, Alignment.Right, Alignment.Left, Alignment.Left];
        var table = new Table
        {
            Columns = [.. sides.Take(heads.Length).Select(s => new TableColumn(s))],
            HeaderRows = [new TableRow([.. heads.Select((h, i) => Text(labels.Word(h), sides[i]))])],
            Rows = [.. variables.Select((v, i) => new TableRow([.. Cells(v.Name, v.Values, doubtsOf[i], labels).Take(heads.Length)]))],
            StubColumns = 1,
        };
        var same = rows - Enumerable.Range(0, rows).Select(r => string.Join('\u001F', variables.Select(v => Shown(v.Values[r])))).Distinct(StringComparer.Ordinal).Count();
        return Finish(table, [Sentence($"{rows} rows."), .. same > 0 ? new[] { same == 1 ? Sentence($"1 row is the same as another.") : Sentence($"{same} rows are the same as others.") } : []], Heads.Concat(variables.Select(v => v.Name)));
    }

    private static object?[] ValuesOf(Variable variable) => variable switch
    {
        NumericVariable numeric => [.. numeric.Values.Select(v => double.IsNaN(v) ? null : (object)v)],
        FactorVariable factor => [.. factor.Codes.Select(c => c < 0 ? null : (object)factor.Levels[c])],
        _ => throw new InvalidOperationException($"a variable of type {variable.GetType()} is not known"),
    };

    private static IEnumerable<TableCell> Cells(string name, object?[] values, RichText[] doubts, Labels labels)
    {
        var present = values.Where(v => !IsMissing(v)).Select(v => v!).ToArray();
        yield return Text(labels[name]);
        yield return Text(labels.Word(TypeOf(present)));
        yield return Number(values.Length - present.Length, "#,0");
        var distinct = NaturalOrder.Of(present).ToArray();
        yield return Number(distinct.Length, "#,0");
        yield return Text(present.Length == 0 ? "" : IsMeasured(present[0])
            ? distinct.Length == 1 ? Value(distinct[0]) : Sentence($"{Value(distinct[0])} to {Value(distinct[^1])}")
            : RichText.Join(", ", [.. distinct.Take(distinct.Length > LevelsShown + 1 ? LevelsShown : distinct.Length).Select(d => d is bool flag ? labels.Word(flag ? "yes" : "no") : labels.Level(name, Shown(d), [Shown(d)])), .. distinct.Length > LevelsShown + 1 ? [(RichText)"…"] : Array.Empty<RichText>()]));
        yield return Text(RichText.Join("; ", doubts));
    }

    private static bool IsMissing(object? value) => value is null or double.NaN or float.NaN;

    private static bool IsMeasured(object value) => ValueFormatter.IsNumber(value) || value is DateOnly or DateTime or DateTimeOffset or TimeOnly or TimeSpan;

    private static string TypeOf(object[] present) => present.Length == 0 ? "Unknown" : present[0] switch
    {
        bool => "Yes or no",
        DateOnly => "Date",
        DateTime or DateTimeOffset => "Date and time",
        var first when ValueFormatter.IsNumber(first) => present.All(v => Convert.ToDouble(v, CultureInfo.InvariantCulture) is var number && number == Math.Floor(number)) ? "Whole number" : "Number",
        var first when first.GetType().IsEnum => "Level",
        _ => "Text",
    };

    private static string Shown(object? value) => Convert.ToString(value, CultureInfo.InvariantCulture) ?? "";

    // Years and other small numbers stand without marks between thousands.
    private static RichText Value(object value) => ValueFormatter.IsNumber(value)
        ? new([new ValueInline(value, Math.Abs(Convert.ToDouble(value, CultureInfo.InvariantCulture)) is >= 10_000 and < 1e15 ? "#,0.###" : "0.####")])
        : new([new ValueInline(value, null)]);

    private IEnumerable<RichText> Doubts(object?[] values)
    {
        var present = values.Where(v => !IsMissing(v)).Select(v => v!).ToArray();
        if (values.Length == 0) yield break;
        if (present.Length == 0)
        {
            yield return Named("no value at all");
            yield break;
        }
        if (present.Length > 1 && present.All(present[0].Equals)) yield return Named("always the same");
        var found = ValueFormatter.IsNumber(present[0]) ? DoubtsOfNumbers([.. present.Select(v => Convert.ToDouble(v, CultureInfo.InvariantCulture))])
            : present[0] is string ? DoubtsOfTexts([.. present.Select(Shown)])
            : present.Where(v => v is DateOnly d ? d.ToDateTime(default) > today : v is DateTime t && t > today).ToArray() is { Length: > 0 } late ? [Sentence($"after the report's date: {Some([.. late.Select(Value)])}")] : [];
        foreach (var doubt in found) yield return doubt;
    }

    private static IEnumerable<RichText> DoubtsOfNumbers(double[] numbers)
    {
        var sorted = numbers.Order().ToArray();
        double At(double share) => sorted[(int)Math.Round(share * (sorted.Length - 1))];
        var (low, high) = (At(0.25), At(0.75));
        var width = FarOut * (high - low);
        // Numbers that stand for no value are far from all others, or the only ones below zero.
        var codes = sorted.Distinct().Where(v => Codes.Contains(v) && (v is > 0 ? width > 0 && v > high + width : sorted.All(o => o >= 0 || Codes.Contains(o)) && sorted[^1] > 0)).ToArray();
        if (codes.Length > 0) yield return Sentence($"may mean missing: {Some([.. codes.Select(c => Value(c))])}");
        var far = width > 0 ? sorted.Where(v => (v < low - width || v > high + width) && !codes.Contains(v)).ToArray() : [];
        if (far.Length > 0) yield return Sentence($"{far.Length} far from the rest: {Some([.. far.OrderByDescending(v => Math.Abs(v - ((low + high) / 2))).Select(v => Value(v))])}");
    }

    private static IEnumerable<RichText> DoubtsOfTexts(string[] texts)
    {
        var distinct = texts.Distinct(StringComparer.Ordinal).ToArray();
        var none = distinct.Where(t => NoValues.Contains(t.Trim())).ToArray();
        if (none.Length > 0) yield return Sentence($"may mean missing: {Some([.. none.Select(Quoted)])}");
        var spaced = texts.Count(t => t.Length > 0 && t != t.Trim());
        if (spaced > 0) yield return spaced == 1 ? Named("1 with spaces at an end") : Sentence($"{spaced} with spaces at an end");
        var alike = distinct.GroupBy(t => string.Join(' ', t.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)).ToUpperInvariant()).Where(g => g.Count() > 1).ToArray();
        if (alike.Length > 0) yield return Sentence($"alike but for case or spaces: {Some([.. alike.Select(g => RichText.Join(", ", [.. g.Take(CellsShown).Select(Quoted)]))])}");
        var numbers = distinct.Except(none).Where(t => double.TryParse(t, NumberStyles.Float, CultureInfo.InvariantCulture, out _)).ToArray();
        if (numbers.Length > 0 && numbers.Length < distinct.Length) yield return Sentence($"numbers among texts: {Some([.. numbers.Select(Quoted)])}");
        else if (numbers.Length > 0 && !numbers.Any(n => n.Trim() is ['0', >= '0' and <= '9', ..])) yield return Named("numbers as texts");
    }

    private static RichText Quoted(string text) => $"“{text}”";

    private static RichText Some(RichText[] cells) => RichText.Join(", ", [.. cells.Take(CellsShown), .. cells.Length > CellsShown ? [(RichText)"…"] : Array.Empty<RichText>()]);
}
