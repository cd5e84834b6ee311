using System.Data.Common;
using Fennick.Tables;
using Microsoft.Data.Analysis;

namespace Fennick.Data;

/// <summary>Listings of data frames and database queries.</summary>
public static class ListingOfData
{
    extension(ListingTable)
    {
        /// <summary>The rows of a data frame.</summary>
        public static ListingTable Of(DataFrame frame)
        {
            ArgumentNullException.ThrowIfNull(frame);
            return ListingTable.Of([.. frame.Columns.Select(column => (column.Name, Enumerable.Range(0, (int)column.Length).Select(r => column[r])))]);
        }

        /// <summary>The rows of a database query, read to its end; NULL shows as missing.</summary>
        public static ListingTable Of(DbDataReader reader)
        {
            ArgumentNullException.ThrowIfNull(reader);
            return ListingTable.Of([.. QueryColumns.Read(reader)]);
        }
    }
}
