using System.Collections.Immutable;
using System.Linq.Expressions;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Statistics;
using Fennick.Statistics.Comparisons;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Summaries;
using Fennick.Statistics.Variables;

namespace Fennick.Tables;

/// <summary>Variables and what describes them: numbers by their statistics, factors by the share of each level; or groups side by side, with a test of their difference.</summary>
/// <example><c>DescriptiveTable.Of(hives, h => new { h.HoneyKg, h.Mites, h.Strain }).By("Treated", h => h.Treated)</c></example>
public sealed record DescriptiveTable : ResultTable<DescriptiveTable>
{
    private readonly ImmutableArray<Variable> variables;
    private readonly int rows;
    private readonly Type recordType;
    private readonly Func<Delegate, string?[]> groupOf;
    private ImmutableArray<Statistic> chosen = [];
    private (string Name, ImmutableArray<string?> Values)? groups;
    private bool hasTest = true;

    private ImmutableArray<Statistic> Shown => chosen.IsEmpty ? [Statistic.Count, Statistic.Mean, Statistic.StandardDeviation, Statistic.Minimum, Statistic.Median, Statistic.Maximum] : chosen;

    private DescriptiveTable(ImmutableArray<Variable> variables, int rows, Type recordType, Func<Delegate, string?[]> groupOf)
    {
        this.variables = variables;
        this.rows = rows;
        this.recordType = recordType;
        this.groupOf = groupOf;
    }

    /// <summary>A table of variables of records.</summary>
    /// <exception cref="AnalysisException">There are no records, or a variable is neither a number nor a factor.</exception>
    public static DescriptiveTable Of<T>(IEnumerable<T> records, Expression<Func<T, object?>> variables)
    {
        T[] all = [.. records];
        if (all.Length == 0) throw new AnalysisException("there is nothing to describe: there are no rows");
        return new DescriptiveTable([.. Variable.Read(all, variables)], all.Length, typeof(T),
            group => group is Func<T, object?> typed ? [.. all.Select(r => TextOf(typed(r)))] : throw new ReportException(Diagnostic.Error(null, $"the groups are no function of a `{typeof(T).Name}`", $"write `.By(\"name\", ({typeof(T).Name} r) => r.…)`")));
    }

    /// <summary>With other statistics: as columns, or with groups as rows under each variable, instead of mean and standard deviation in one cell.</summary>
    public DescriptiveTable Statistics(params Statistic[] shown) => this with { chosen = [.. shown] };

    /// <summary>With a column for each group, and the p-value of the test that they do not differ: Welch's t for two groups, one-way F for more, χ² for factors.</summary>
    /// <param name="name">What the groups are called, above their columns.</param>
    /// <param name="group">The group of a record; records without one are left out.</param>
    /// <exception cref="ReportException">The function is of another type of records.</exception>
    public DescriptiveTable By<T>(string name, Func<T, object?> group)
    {
        ArgumentNullException.ThrowIfNull(group);
        return this with { groups = (name, [.. groupOf(group)]) };
    }

    /// <summary>Without the test of groups.</summary>
    public DescriptiveTable WithoutTest() => this with { hasTest = false };

    /// <inheritdoc/>
    public override Table ToTable()
    {
        var labelled = this with { Names = Names.Or(Tables.Labels.Of(recordType)) };
        return groups is { } by ? labelled.Grouped(by.Name, by.Values) : labelled.Whole();
    }

    private IEnumerable<string> Known() => variables.Select(v => v.Name)
        .Concat(variables.OfType<FactorVariable>().SelectMany(f => f.Levels.Select(l => $"{f.Name}={l}"))).Concat(Shown.Select(s => s.Name)).Concat(["All", "p"]);

    private Table Whole()
    {
        var body = new List<TableRow>();
        foreach (var variable in variables)
        {
            if (variable is NumericVariable numeric)
            {
                var description = Describe(numeric, Enumerable.Range(0, rows));
                var formats = FormatsOf(numeric);
                body.Add(new TableRow([Names[variable.Name], .. Shown.Select(s => StatisticCell(s, description, rows, formats))]));
                continue;
            }
            var factor = (FactorVariable)variable;
            var counts = Counts(factor, Enumerable.Range(0, rows));
            body.Add(TableRow.Heading(Names[factor.Name], Shown.Length + 1));
            foreach (var (level, count) in counts)
                body.Add(new TableRow([Names.Level(factor.Name, level, factor.Levels), .. Shown.Select(s => s == Statistic.Count ? Number(count, "#,0") : s == Statistic.Mean ? Share(count, counts.Values.Sum()) : "")]) { Level = 1 });
        }
        var hasFactors = variables.Any(v => v is FactorVariable);
        var table = new Table
        {
            Columns = [new(Alignment.Left), .. Shown.Select(s => new TableColumn(s.IsCount ? Alignment.Right : Alignment.Decimal))],
            HeaderRows = [new TableRow(["", .. Shown.Select(s => Text(Names.Word(s.Name)))])],
            Rows = [.. body],
        };
        return Finish(table, [.. hasFactors && Shown.Contains(Statistic.Mean) ? [ShareNote(variables.OfType<FactorVariable>())] : Array.Empty<RichText>(), .. UndefinedNote()], Known());
    }

    private Table Grouped(string name, ImmutableArray<string?> values)
    {
        string[] levels = [.. values.OfType<string>().Distinct().Order(NaturalOrder.Comparer)];
        if (levels.Length == 0) throw new AnalysisException($"no row has a group `{name}`");
        int[][] members = [.. levels.Select(l => Enumerable.Range(0, rows).Where(r => values[r] == l).ToArray())];
        int[] all = [.. Enumerable.Range(0, rows).Where(r => values[r] is not null)];
        var tests = new HashSet<string>();
        var withTest = hasTest && levels.Length > 1;
        var columns = levels.Length + (withTest ? 3 : 2);
        var body = new List<TableRow>();
        foreach (var variable in variables)
        {
            var p = withTest ? Test(variable, members, tests) : null;
            TableCell[] test = withTest ? [p is { } value ? PValue(value) : "—"] : [];
            TableRow Heading() => new([Text(Names[variable.Name]) with { ColumnSpan = columns - test.Length }, .. test]) { Kind = RowKind.Heading };
            TableRow Under(RichText words, IEnumerable<TableCell> cells) => new([words, .. cells, .. test.Select(_ => TableCell.Empty)]) { Level = 1 };
            if (variable is NumericVariable numeric)
            {
                var formats = FormatsOf(numeric);
                var described = members.Append(all).Select(m => (Description: Describe(numeric, m), Count: m.Length)).ToArray();
                if (chosen.IsEmpty)
                {
                    body.Add(new TableRow([Names[variable.Name], .. described.Select(d => MeanCell(d.Description, formats)), .. test]));
                    continue;
                }
                body.Add(Heading());
                body.AddRange(chosen.Select(s => Under(Names.Word(s.Name), described.Select(d => StatisticCell(s, d.Description, d.Count, formats)))));
                continue;
            }
            var factor = (FactorVariable)variable;
            var counts = members.Append(all).Select(m => Counts(factor, m)).ToArray();
            body.Add(Heading());
            body.AddRange(counts[^1].Keys.Select(level => Under(Names.Level(factor.Name, level, factor.Levels), counts.Select(c => ShareCell(c.GetValueOrDefault(level), c.Values.Sum())))));
        }
        TableCell Head(RichText words, int count) => new(new RichText([.. words.Inlines, new BreakInline(), new TextInline("n = "), new ValueInline(count, "#,0")])) { Alignment = Alignment.Centre };
        var heads = levels.Select((l, i) => Head(Names.Level(name, l, levels), members[i].Length)).Append(Head(Names.Word("All"), all.Length));
        var table = new Table
        {
            Columns = [new(Alignment.Left), .. Enumerable.Repeat(new TableColumn(Alignment.Decimal) { WidthGroup = 1 }, levels.Length + 1), .. withTest ? [new TableColumn(Alignment.Decimal)] : Array.Empty<TableColumn>()],
            HeaderRows = [new TableRow(["", .. heads, .. withTest ? [Text(Names.Word("p"))] : Array.Empty<TableCell>()])],
            Rows = [.. body],
        }.SpanOver(Names[name], 1, levels.Length);
        var hasMeans = variables.Any(v => v is NumericVariable) && chosen.IsEmpty;
        var hasShares = variables.Any(v => v is FactorVariable);
        RichText[] parts = [.. hasMeans && hasShares ? [Sentence($"mean (standard deviation) and count (share)")] : hasMeans ? [Sentence($"mean (standard deviation)")] : hasShares ? [Sentence($"count (share)")] : Array.Empty<RichText>(), .. tests.Count > 0 ? [Sentence($"p by {RichText.Join(", ", tests.Select(Named))}")] : Array.Empty<RichText>()];
        var without = rows - all.Length;
        return Finish(table, [.. parts.Length > 0 ? [RichText.Join("", [Opening(RichText.Join("; ", parts)), "."])] : Array.Empty<RichText>(), .. UndefinedNote(), .. without == 1 ? [Sentence($"1 row without a group is left out.")] : without > 1 ? [Sentence($"{without} rows without a group are left out.")] : Array.Empty<RichText>()],
            Known().Append(name).Concat(levels.Select(l => $"{name}={l}")));
    }

    private IEnumerable<RichText> UndefinedNote() => variables.OfType<NumericVariable>().Where(v => v.RowsOutsideDomain.Length > 0)
        .Select(v => v.RowsOutsideDomain.Length == 1 ? Sentence($"{Names[v.Name]} is not defined in 1 row.") : Sentence($"{Names[v.Name]} is not defined in {v.RowsOutsideDomain.Length} rows."));

    private static TableCell StatisticCell(Statistic statistic, Description? description, int rowCount, (string Values, string Extremes) formats)
    {
        if (description is null) return Number(statistic == Statistic.Count ? 0 : statistic == Statistic.Missing ? rowCount : null, "#,0");
        var format = statistic.IsCount ? "#,0" : statistic == Statistic.Skewness ? "0.00" : statistic == Statistic.Minimum || statistic == Statistic.Maximum ? formats.Extremes : formats.Values;
        return Number(statistic.Value(description), format);
    }

    private static double? Test(Variable variable, int[][] members, HashSet<string> used)
    {
        try
        {
            if (variable is NumericVariable numeric)
            {
                double[][] samples = [.. members.Select(m => m.Select(r => numeric.Values[r]).Where(v => !double.IsNaN(v)).ToArray())];
                if (samples is [var first, var second])
                {
                    var difference = MeanTests.Welch(first, second);
                    used.Add(difference.Name);
                    return difference.PValue;
                }
                return Used(MeanTests.OneWay(samples));
            }
            var factor = (FactorVariable)variable;
            var pairs = members.SelectMany((m, g) => m.Where(r => factor.Codes[r] >= 0).Select(r => (Group: g, Level: factor.Codes[r])));
            return Used(CrossTabulation.Of(pairs, p => p.Group, p => p.Level).ChiSquaredTest());
        }
        catch (AnalysisException)
        {
            // Groups too small, or without variation, allow no test; its place shows a dash.
            return null;
        }

        double Used(TestResult test)
        {
            used.Add(test.Name);
            return test.PValue;
        }
    }

    private static TableCell MeanCell(Description? description, (string Values, string Extremes) formats) => description is null ? "—"
        : new TableCell(new RichText([new ValueInline(description.Mean, formats.Values), new TextInline(" ("), new ValueInline(description.StandardDeviation, description.StandardDeviation is null ? null : formats.Values), new TextInline(")")])) { Alignment = Alignment.Centre };

    private static TableCell ShareCell(int count, int total) => total == 0 ? "—"
        : new TableCell(new RichText([new ValueInline(count, "#,0"), new TextInline(" ("), new ValueInline(count / (double)total, "P1"), new TextInline(")")])) { Alignment = Alignment.Centre };

    private static TableCell Share(int count, int total) => Number(count / (double)total, "P1");

    private static Description? Describe(NumericVariable variable, IEnumerable<int> members)
    {
        int[] present = [.. members];
        return present.All(variable.IsMissing) ? null : Description.Of(present, r => variable.IsMissing(r) ? null : variable.Values[r]);
    }

    private static SortedDictionary<string, int> Counts(FactorVariable factor, IEnumerable<int> members)
    {
        var order = factor.Levels.Select((level, i) => (level, i)).ToDictionary(p => p.level, p => p.i);
        var counts = new SortedDictionary<string, int>(Comparer<string>.Create((a, b) => order[a].CompareTo(order[b])));
        foreach (var row in members)
            if (factor.Codes[row] >= 0) counts[factor.Levels[factor.Codes[row]]] = counts.GetValueOrDefault(factor.Levels[factor.Codes[row]]) + 1;
        return counts;
    }

    private static RichText ShareNote(IEnumerable<FactorVariable> factors) => factors.Sum(f => f.Codes.Count(c => c < 0)) switch
    {
        0 => Sentence($"For categories: count and share."),
        1 => Sentence($"For categories: count and share of those that are known (1 is missing)."),
        var missing => Sentence($"For categories: count and share of those that are known ({missing} are missing)."),
    };

    /// <summary>
    /// Formats for a variable's statistics, and for its extremes, which have the decimals of the values themselves. The others have one decimal more than the values, and as many as show two
    /// significant digits of the standard deviation; units of a power of ten where that would be more than six, or where the values have more than ten digits before the point.
    /// </summary>
    private static (string Values, string Extremes) FormatsOf(NumericVariable variable)
    {
        const int mostDecimals = 6, mostDigits = 10;
        double[] present = [.. variable.Values.Where(double.IsFinite)];
        if (present.Length == 0) return ("0", "0");
        var description = Description.Of(present, v => v);
        var own = present.Max(v => (int)(ShortestDecimal.Of(v)?.Scale ?? 0));
        if (description.StandardDeviation is not (> 0 and var spread)) return (FixedDecimals(Math.Min(own, mostDecimals)), FixedDecimals(Math.Min(own, mostDecimals)));
        var size = ShortestDecimal.Rounded(spread, 1).Exponent;
        var two = Math.Max(0, 1 - size);
        // A large spread needs no decimals beyond those that the values have.
        var decimals = size >= 2 ? Math.Min(own, 1) : own >= two ? Math.Min(own + 1, two + 1) : two;
        var magnitude = ShortestDecimal.Rounded(present.Max(Math.Abs) is > 0 and var largest ? largest : spread, 1).Exponent;
        if (decimals > mostDecimals || magnitude >= mostDigits)
        {
            var format = $"power-of-ten {magnitude} {Math.Clamp(1 - size + magnitude, 2, 8)}";
            return (format, format);
        }
        return (FixedDecimals(decimals), FixedDecimals(Math.Min(own, decimals)));
    }

    private static string? TextOf(object? value) => value switch
    {
        null => null,
        bool flag => flag ? "yes" : "no",
        _ => ValueFormatter.Format(value, null, Language.Default),
    };
}
