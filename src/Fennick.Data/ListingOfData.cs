using System.Data.Common;
using Fennick.Tables;

namespace Fennick.Data;

/// <summary>Listings of database queries.</summary>
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
    }
}
