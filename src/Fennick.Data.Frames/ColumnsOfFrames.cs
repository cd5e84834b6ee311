using Fennick.Statistics;
using Microsoft.Data.Analysis;

namespace Fennick.Data;

/// <summary>Columns of data frames.</summary>
public static class ColumnsOfFrames
{
    extension(Columns)
    {
        /// <summary>The columns of a data frame: numbers as they are, text and yes/no as factors.</summary>
        /// <exception cref="AnalysisException">A column is of a type that is neither.</exception>
        public static Columns Of(DataFrame frame)
        {
            ArgumentNullException.ThrowIfNull(frame);
            return Columns.Of(frame.Columns.Select(column => (column.Name, ValuesOf(column), column.DataType)));
        }
    }

    internal static IEnumerable<object?> ValuesOf(DataFrameColumn column) => Enumerable.Range(0, (int)column.Length).Select(r => column[r]);
}
