using System.Collections;
using System.Data;
using Fennick.Data;
using Fennick.Tables;
using Microsoft.Data.Analysis;

namespace Fennick.Manuscripts.Running;

/// <summary>What a <c>table</c> step may give.</summary>
internal static class TableResults
{
    /// <summary>The table of a step's result; null if it cannot become one.</summary>
    public static ITableSource? Find(object value) => value switch
    {
        ITableSource source => source,
        DataTable table => ListingTable.Of(table),
        DataFrame frame => ListingTable.Of(frame),
        double[,] matrix => ListingTable.Of(matrix),
        string => null,
        IEnumerable records => ListingTable.Find(records),
        _ => null,
    };
}
