using System.Runtime.CompilerServices;
using Fennick.Data.Reading;
using Fennick.Diagnostics;
using Fennick.Statistics.Variables;
using Fennick.Tables;

namespace Fennick.Data;

/// <summary>Looks at data, and checks them.</summary>
public static class Data
{
    /// <summary>What records hold: for each member its type, how much is missing, how many different values there are and between what, and which cells look doubtful. It prints itself as text, and is a table for the report.</summary>
    public static OverviewTable Overview<T>(IEnumerable<T> records) => OverviewTable.Of(records);

    /// <summary>The same of columns, such as <c>Csv.Columns("hives.csv")</c>.</summary>
    public static OverviewTable Overview(IColumnSource columns) => OverviewTable.Of(columns, (columns as Columns)?.Labels);

    /// <summary>Checks records as one reads them: <c>Csv.Read&lt;Hive&gt;("hives.csv").Require(h => h.HoneyKg is null or > 0)</c>.</summary>
    /// <param name="records">The records.</param>
    /// <param name="condition">What holds for each.</param>
    /// <param name="said">The condition as it is written; the compiler gives it.</param>
    /// <returns>The same records.</returns>
    /// <exception cref="ReportException">It does not hold for some: the first of them are shown, with their lines where they come straight from a file, or else with their numbers.</exception>
    public static IReadOnlyList<T> Require<T>(this IEnumerable<T> records, Func<T, bool> condition, [CallerArgumentExpression(nameof(condition))] string said = "")
    {
        ArgumentNullException.ThrowIfNull(records);
        ArgumentNullException.ThrowIfNull(condition);
        return Requirement.Check(records as IReadOnlyList<T> ?? [.. records], condition, said);
    }
}
