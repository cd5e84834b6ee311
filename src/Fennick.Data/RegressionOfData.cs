using System.Data.Common;
using Fennick.Statistics;
using Fennick.Statistics.Fits;

namespace Fennick.Data;

/// <summary>Regressions of database queries by column names.</summary>
public static class RegressionOfData
{
    extension(Regression)
    {
        /// <summary>Ordinary least squares of the columns of a database query.</summary>
        /// <exception cref="AnalysisException">A column is unknown, or the data do not allow a fit.</exception>
        public static LinearFit LeastSquares(DbDataReader reader, string response, params string[] terms) => Regression.LeastSquares(Columns.Of(reader), response, terms);
    }
}
