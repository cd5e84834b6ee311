using System.Collections.Immutable;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Summaries;

/// <summary>How often the levels of two variables occur together.</summary>
public sealed class CrossTabulation
{
    private readonly int[,] counts;

    private CrossTabulation(ImmutableArray<string> rows, ImmutableArray<string> columns, int[,] counts, int missing)
    {
        Rows = rows;
        Columns = columns;
        this.counts = counts;
        Missing = missing;
    }

    /// <summary>The levels of the first variable, in order.</summary>
    public ImmutableArray<string> Rows { get; }

    /// <summary>The levels of the second variable, in order.</summary>
    public ImmutableArray<string> Columns { get; }

    /// <summary>The records left out because either is missing.</summary>
    public int Missing { get; }

    /// <summary>The count of a cell.</summary>
    public int this[int row, int column] => counts[row, column];

    /// <summary>The count of all cells.</summary>
    public int Total => Rows.Select((_, r) => RowTotal(r)).Sum();

    /// <summary>The table of two variables of records.</summary>
    /// <exception cref="AnalysisException">No record has both.</exception>
    public static CrossTabulation Of<T>(IEnumerable<T> records, Func<T, object?> row, Func<T, object?> column)
    {
        var pairs = records.Select(r => (Row: row(r), Column: column(r))).ToArray();
        var complete = pairs.Where(p => p.Row is not null && p.Column is not null).Select(p => (Row: p.Row!, Column: p.Column!)).ToArray();
        if (complete.Length == 0) throw new AnalysisException($"none of the {Variables.ModelData.CountRows(pairs.Length)} has both variables");
        ImmutableArray<object> rows = [.. Variables.NaturalOrder.Of(complete.Select(p => p.Row))], columns = [.. Variables.NaturalOrder.Of(complete.Select(p => p.Column))];
        var counts = new int[rows.Length, columns.Length];
        foreach (var (r, c) in complete) counts[rows.IndexOf(r), columns.IndexOf(c)]++;
        return new CrossTabulation([.. rows.Select(Frequency.TextOf)], [.. columns.Select(Frequency.TextOf)], counts, pairs.Length - complete.Length);
    }

    /// <summary>The count of a row.</summary>
    public int RowTotal(int row) => Columns.Select((_, c) => counts[row, c]).Sum();

    /// <summary>The count of a column.</summary>
    public int ColumnTotal(int column) => Rows.Select((_, r) => counts[r, column]).Sum();

    /// <summary>A cell's share of its row.</summary>
    public double RowShare(int row, int column) => counts[row, column] / (double)RowTotal(row);

    /// <summary>A cell's share of its column.</summary>
    public double ColumnShare(int row, int column) => counts[row, column] / (double)ColumnTotal(column);

    /// <summary>A cell's share of all.</summary>
    public double CellShare(int row, int column) => counts[row, column] / (double)Total;

    /// <summary>The count that independence would give.</summary>
    public double Expected(int row, int column) => RowTotal(row) * (double)ColumnTotal(column) / Total;

    /// <summary>Pearson's χ² test of independence, without a continuity correction.</summary>
    /// <exception cref="AnalysisException">A variable has one level only.</exception>
    public TestResult ChiSquaredTest()
    {
        if (Rows.Length < 2 || Columns.Length < 2) throw new AnalysisException($"a variable has only the level `{(Rows.Length < 2 ? Rows : Columns)[0]}`; there is nothing to compare");
        var statistic = 0.0;
        for (var r = 0; r < Rows.Length; r++)
            for (var c = 0; c < Columns.Length; c++) statistic += Math.Pow(counts[r, c] - Expected(r, c), 2) / Expected(r, c);
        var degrees = (Rows.Length - 1) * (Columns.Length - 1);
        return new TestResult("χ² test of independence", statistic, degrees, null, Tails.ChiSquaredUpper(statistic, degrees));
    }

    /// <summary>Fisher's exact test of a 2 × 2 table, two-sided: the probability of all tables that are no likelier. The statistic is the odds ratio of the sample.</summary>
    /// <exception cref="AnalysisException">The table is not 2 × 2.</exception>
    /// <remarks>Agresti, Categorical Data Analysis, 3rd ed., §3.5.</remarks>
    public TestResult FisherTest()
    {
        if (Rows.Length != 2 || Columns.Length != 2) throw new AnalysisException($"Fisher's exact test is for 2 × 2 tables; this one is {Rows.Length} × {Columns.Length}");
        var (first, second, column) = (RowTotal(0), RowTotal(1), ColumnTotal(0));
        double LogProbability(int a) => Tails.LogChoose(first, a) + Tails.LogChoose(second, column - a) - Tails.LogChoose(first + second, column);
        var observed = LogProbability(counts[0, 0]);
        var p = Enumerable.Range(Math.Max(0, column - second), Math.Min(first, column) - Math.Max(0, column - second) + 1).Select(LogProbability).Where(l => l <= observed + 1e-7).Sum(Math.Exp);
        return new TestResult("Fisher's exact test", counts[0, 0] * (double)counts[1, 1] / (counts[0, 1] * (double)counts[1, 0]), 1, null, Math.Min(1, p));
    }
}
