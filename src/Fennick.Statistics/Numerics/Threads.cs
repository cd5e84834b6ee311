namespace Fennick.Statistics.Numerics;

/// <summary>Shares rows between the machine's cores where they are many enough to pay for it.</summary>
internal static class Threads
{
    private const int RowsWorthSharing = 1 << 15;

    /// <summary>Calls the work for consecutive ranges of rows, each with the number of its part.</summary>
    public static void ForRows(int rows, int parts, Action<int, int, int> work)
    {
        if (parts == 1)
        {
            work(0, 0, rows);
            return;
        }
        Parallel.For(0, parts, part => work(part, (int)((long)rows * part / parts), (int)((long)rows * (part + 1) / parts)));
    }

    /// <summary>Calls the work for each of some columns.</summary>
    public static void ForEach(int columns, int rows, Action<int> work)
    {
        if (Parts(rows) == 1)
        {
            for (var c = 0; c < columns; c++) work(c);
            return;
        }
        try
        {
            Parallel.For(0, columns, work);
        }
        catch (AggregateException problem) when (problem.InnerExceptions[0] is AnalysisException first)
        {
            throw first;
        }
    }

    /// <summary>In how many parts rows are shared.</summary>
    public static int Parts(int rows) => rows >= RowsWorthSharing ? Math.Min(Environment.ProcessorCount, 8) : 1;
}
