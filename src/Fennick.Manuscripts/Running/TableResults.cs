using System.Collections;
using System.Data;
using System.Runtime.CompilerServices;
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
        Columns columns => ListingTable.Of(columns),
        _ when IsFrame(value.GetType()) => OfFrame(value),
        double[,] matrix => ListingTable.Of(matrix),
        string => null,
        IEnumerable records => ListingTable.Find(records),
        _ => null,
    };

    /// <summary>Whether a type is that of data frames, without loading it for any other value.</summary>
    private static bool IsFrame(Type type) => type.FullName == "Microsoft.Data.Analysis.DataFrame";

    [MethodImpl(MethodImplOptions.NoInlining)]
    private static ListingTable? OfFrame(object value) => value is DataFrame frame ? ListingTable.Of(frame) : null;
}
