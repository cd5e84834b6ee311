using Fennick.Tables;
using Microsoft.Data.Analysis;

namespace Fennick.Data;

/// <summary>Listings of data frames.</summary>
public static class ListingOfFrames
{
    extension(ListingTable)
    {
        /// <summary>The rows of a data frame.</summary>
        public static ListingTable Of(DataFrame frame)
        {
            ArgumentNullException.ThrowIfNull(frame);
            return ListingTable.Of([.. frame.Columns.Select(column => (column.Name, ColumnsOfFrames.ValuesOf(column)))]);
        }
    }
}
