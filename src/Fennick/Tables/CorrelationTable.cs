using System.Collections.Immutable;
using System.Linq.Expressions;
using Fennick.Statistics;
using Fennick.Statistics.Comparisons;
using Fennick.Statistics.Variables;

namespace Fennick.Tables;

/// <summary>The correlations of variables with each other, as a triangle.</summary>
/// <example><c>CorrelationTable.Of(hives, h => new { h.HoneyKg, h.ForageHa, h.Mites })</c></example>
public sealed record CorrelationTable : ResultTable<CorrelationTable>
{
    private readonly ImmutableArray<NumericVariable> variables;
    private readonly Type recordType;
    private bool byRanks;
    private string format = "0.00";

    private CorrelationTable(ImmutableArray<NumericVariable> variables, Type recordType)
    {
        this.variables = variables;
        this.recordType = recordType;
    }

    /// <summary>The correlations of variables of records, each of the pairs that are complete.</summary>
    /// <exception cref="AnalysisException">There are fewer than two variables, or one is a factor.</exception>
    public static CorrelationTable Of<T>(IEnumerable<T> records, Expression<Func<T, object?>> variables)
    {
        var read = Variable.Read<T>([.. records], variables);
        if (read.FirstOrDefault(v => v is not NumericVariable) is { } factor) throw new AnalysisException($"`{factor.Name}` is a factor; correlations are of numbers");
        return read.Count > 1 ? new([.. read.Cast<NumericVariable>()], typeof(T)) : throw new AnalysisException("a correlation needs two variables");
    }

    /// <summary>Spearman's ρ instead of Pearson's r.</summary>
    public CorrelationTable Spearman() => this with { byRanks = true };

    /// <summary>In a .NET format other than <c>0.00</c>.</summary>
    public CorrelationTable Format(string numbers) => this with { format = numbers };

    /// <inheritdoc/>
    public override Table ToTable()
    {
        var names = Names.Or(Tables.Labels.Of(recordType));
        var pairs = new List<int>();
        var rows = variables.Select((variable, r) => new TableRow([$"{r + 1}. {names[variable.Name]}", .. variables.Take(variables.Length - 1).Select((other, c) => c < r ? Cell(variable, other) : c == r ? Text("1", Alignment.Decimal) : TableCell.Empty)]));
        TableRow[] body = [.. rows];
        var table = new Table
        {
            Columns = [new(Alignment.Left), .. Enumerable.Repeat(new TableColumn(Alignment.Decimal) { WidthGroup = 1 }, variables.Length - 1)],
            HeaderRows = [new TableRow(["", .. Enumerable.Range(1, variables.Length - 1).Select(i => Text($"{i}"))])],
            Rows = [.. body],
        };
        var n = pairs.Min() == pairs.Max() ? Sentence($"n = {pairs[0]}") : Sentence($"n between {pairs.Min()} and {pairs.Max()}, of the rows where both are known");
        return Finish(table, [Sentence($"{Named(byRanks ? "Spearman's ρ" : "Pearson's r")}; {n}."), .. SignsNote()], variables.Select(v => v.Name));

        TableCell Cell(NumericVariable a, NumericVariable b)
        {
            var correlation = byRanks ? Correlation.Spearman(a.Values, b.Values) : Correlation.Pearson(a.Values, b.Values);
            pairs.Add(correlation.Pairs);
            return Number(correlation.Coefficient, format) with { Sign = SignOf(correlation.PValue) };
        }
    }
}
