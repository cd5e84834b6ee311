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
    private ImmutableArray<Statistic> statistics = [Statistic.Count, Statistic.Mean, Statistic.StandardDeviation, Statistic.Minimum, Statistic.Median, Statistic.Maximum];
    private (string Name, ImmutableArray<string?> Values)? groups;
    private bool hasTest = true;

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

    /// <summary>With other statistics as columns; only without groups.</summary>
    public DescriptiveTable Statistics(params Statistic[] shown) => this with { statistics = [.. shown] };

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
        .Concat(variables.OfType<FactorVariable>().SelectMany(f => f.Levels.Select(l => $"{f.Name}={l}"))).Concat(statistics.Select(s => s.Name)).Concat(["All", "p"]);

    private Table Whole()
    {
        var body = new List<TableRow>();
        foreach (var variable in variables)
        {
            if (variable is NumericVariable numeric)
            {
                var description = Describe(numeric, Enumerable.Range(0, rows));
                var format = FormatOf(numeric);
                body.Add(new TableRow([Names[variable.Name], .. statistics.Select(s => Number(description is null ? (s == Statistic.Count ? 0 : s == Statistic.Missing ? rows : null) : s.Value(description), s.IsCount ? "#,0" : format))]));
                continue;
            }
            var factor = (FactorVariable)variable;
            var counts = Counts(factor, Enumerable.Range(0, rows));
            body.Add(TableRow.Heading(Names[factor.Name], statistics.Length + 1));
            foreach (var (level, count) in counts)
                body.Add(new TableRow([Names.Level(factor.Name, level), .. statistics.Select(s => s == Statistic.Count ? Number(count, "#,0") : s == Statistic.Mean ? Share(count, counts.Values.Sum()) : "")]) { Level = 1 });
        }
        var hasFactors = variables.Any(v => v is FactorVariable);
        var table = new Table
        {
            Columns = [new(Alignment.Left), .. statistics.Select(s => new TableColumn(s.IsCount ? Alignment.Right : Alignment.Decimal))],
            HeaderRows = [new TableRow(["", .. statistics.Select(s => Text(Names.Word(s.Name)))])],
            Rows = [.. body],
        };
        return Finish(table, hasFactors && statistics.Contains(Statistic.Mean) ? [$"Of levels: count and share{MissingOf(variables.OfType<FactorVariable>())}."] : [], Known());
    }

    private Table Grouped(string name, ImmutableArray<string?> values)
    {
        string[] levels = [.. values.OfType<string>().Distinct().Order(StringComparer.Ordinal)];
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
            if (variable is NumericVariable numeric)
            {
                var format = FormatOf(numeric);
                body.Add(new TableRow([Names[variable.Name], .. members.Append(all).Select(m => MeanCell(Describe(numeric, m), format)), .. test]));
                continue;
            }
            var factor = (FactorVariable)variable;
            var counts = members.Append(all).Select(m => Counts(factor, m)).ToArray();
            body.Add(new TableRow([Text(Names[factor.Name]) with { ColumnSpan = columns - test.Length }, .. test]) { Kind = RowKind.Heading });
            foreach (var level in counts[^1].Keys)
            {
                body.Add(new TableRow([Names.Level(factor.Name, level), .. counts.Select(c => ShareCell(c.GetValueOrDefault(level), c.Values.Sum())), .. test.Select(_ => TableCell.Empty)]) { Level = 1 });
            }
        }
        TableCell Head(string words, int count) => new(new RichText([new TextInline(words), new BreakInline(), new TextInline("n = "), new ValueInline(count, "#,0")])) { Alignment = Alignment.Centre };
        var heads = levels.Select((l, i) => Head(Names.Level(name, l), members[i].Length)).Append(Head(Names.Word("All"), all.Length));
        var table = new Table
        {
            Columns = [new(Alignment.Left), .. Enumerable.Repeat(new TableColumn(Alignment.Decimal) { WidthGroup = 1 }, levels.Length + 1), .. withTest ? [new TableColumn(Alignment.Decimal)] : Array.Empty<TableColumn>()],
            HeaderRows = [new TableRow(["", .. heads, .. withTest ? [Text(Names.Word("p"))] : Array.Empty<TableCell>()])],
            Rows = [.. body],
        }.SpanOver(Names[name], 1, levels.Length);
        var parts = new List<string>();
        if (variables.Any(v => v is NumericVariable)) parts.Add("mean (standard deviation)");
        if (variables.Any(v => v is FactorVariable)) parts.Add("count (share)");
        var note = $"{Capital(parts[0])}{(parts.Count > 1 ? $" and {parts[1]}" : "")}{(tests.Count > 0 ? $"; p by {string.Join(", ", tests)}" : "")}.";
        return Finish(table, [note, .. rows > all.Length ? [$"{rows - all.Length} rows without a group are left out."] : Array.Empty<RichText>()], Known().Append(name).Concat(levels.Select(l => $"{name}={l}")));
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

    private static TableCell MeanCell(Description? description, string format) => description is null ? "—"
        : new TableCell(new RichText([new ValueInline(description.Mean, format), new TextInline(" ("), new ValueInline(description.StandardDeviation, description.StandardDeviation is null ? null : format), new TextInline(")")])) { Alignment = Alignment.Centre };

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

    private static string MissingOf(IEnumerable<FactorVariable> factors)
    {
        var missing = factors.Select(f => f.Codes.Count(c => c < 0)).Sum();
        return missing == 0 ? "" : $" of those that are known ({missing} are missing)";
    }

    /// <summary>Decimals that suit a variable's own values: one more than they have, so that a mean says more than a single value.</summary>
    private static string FormatOf(NumericVariable variable)
    {
        var present = variable.Values.Where(v => !double.IsNaN(v)).Select(v => (object?)v).ToArray();
        if (present.Length == 0) return "0";
        var own = ValueFormatter.ColumnFormat(present);
        var decimals = own.Contains('.') ? own.Length - own.IndexOf('.') - 1 : 0;
        var largest = variable.Values.Where(double.IsFinite).Select(Math.Abs).DefaultIfEmpty(0).Max();
        return Decimals(Math.Min(decimals + (decimals == 0 && largest >= 1000 ? 0 : 1), largest >= 1000 ? 1 : largest >= 100 ? 2 : 4));
    }

    private static string? TextOf(object? value) => value switch
    {
        null => null,
        bool flag => flag ? "yes" : "no",
        _ => ValueFormatter.Format(value, null, Language.Default),
    };
}
