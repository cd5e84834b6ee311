using System.Collections.Immutable;
using Fennick.Statistics;
using Fennick.Statistics.Summaries;

namespace Fennick.Tables;

/// <summary>How often each level of a variable occurs.</summary>
/// <example><c>FrequencyTable.Of(hives, h => h.Strain)</c></example>
public sealed record FrequencyTable : ResultTable<FrequencyTable>
{
    private readonly ImmutableArray<Frequency> frequencies;
    private bool sorted;

    private FrequencyTable(ImmutableArray<Frequency> frequencies) => this.frequencies = frequencies;

    /// <summary>The frequencies of a variable of records, in the order of its levels.</summary>
    /// <exception cref="AnalysisException">There are no records.</exception>
    public static FrequencyTable Of<T>(IEnumerable<T> records, Func<T, object?> variable)
    {
        var frequencies = Frequency.Of(records, variable);
        return frequencies.Count > 0 ? new([.. frequencies]) : throw new AnalysisException("there is nothing to count: there are no rows");
    }

    /// <summary>With the most frequent level first.</summary>
    public FrequencyTable Sorted() => this with { sorted = true };

    /// <inheritdoc/>
    public override Table ToTable()
    {
        var present = frequencies.Where(f => f.Level is not null).ToArray();
        if (sorted) present = [.. present.OrderByDescending(f => f.Count)];
        var total = present.Sum(f => f.Count);
        var rows = new List<TableRow>();
        var cumulative = 0;
        foreach (var frequency in present)
        {
            cumulative += frequency.Count;
            rows.Add(new TableRow([Names.Level(frequency.Level!, present.Select(f => f.Level!)), Number(frequency.Count, "#,0"), Number(frequency.Share, "P1"), Number(cumulative / (double)total, "P1")]));
        }
        rows.Add(new TableRow([Names.Word("All"), Number(total, "#,0"), total > 0 ? Number(1, "P1") : "—", ""]) { Kind = RowKind.Total });
        if (frequencies.FirstOrDefault(f => f.Level is null) is { } missing) rows.Add(new TableRow([Names.Word("Missing"), Number(missing.Count, "#,0"), "", ""]));
        string[] heads = ["Level", "Count", "Share", "Cumulative"];
        var table = new Table
        {
            Columns = [new(Alignment.Left), new(Alignment.Right), new(Alignment.Right), new(Alignment.Right)],
            HeaderRows = [new TableRow([.. heads.Select(h => Text(Names.Word(h)))])],
            Rows = [.. rows],
        };
        return Finish(table, [], heads.Concat(["All", "Missing"]).Concat(present.Select(f => f.Level!)));
    }
}
