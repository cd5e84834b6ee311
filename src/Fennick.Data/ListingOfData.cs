using System.Data.Common;
using Fennick.Statistics.Variables;
using Fennick.Tables;

namespace Fennick.Data;

/// <summary>Listings of database queries and of columns that were read.</summary>
public static class ListingOfData
{
    extension(ListingTable)
    {
        /// <summary>The rows of a database query, read to its end; NULL shows as missing.</summary>
        public static ListingTable Of(DbDataReader reader)
        {
            ArgumentNullException.ThrowIfNull(reader);
            return ListingTable.Of([.. QueryColumns.Read(reader)]);
        }

        /// <summary>Columns that were read from a file, a row each; labels of the file head them.</summary>
        /// <example><code>ListingTable.Of(Csv.Columns("data/valleys.csv"))</code></example>
        public static ListingTable Of(Columns columns)
        {
            ArgumentNullException.ThrowIfNull(columns);
            return ListingTable.Of([.. columns.Names.Select(n => (n, ValuesOf(columns.Column(n))))]).Labels(columns.Labels);
        }
    }

    private static IEnumerable<object?> ValuesOf(Variable variable) => variable is FactorVariable factor
        ? factor.Codes.Select(c => c < 0 ? null : (object)factor.Levels[c])
        : ((NumericVariable)variable).Values.Select(v => double.IsNaN(v) ? null : (object)v);
}
