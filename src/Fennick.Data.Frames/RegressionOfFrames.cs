using Fennick.Statistics;
using Fennick.Statistics.Fits;
using Microsoft.Data.Analysis;

namespace Fennick.Data;

/// <summary>Regressions of data frames by column names.</summary>
public static class RegressionOfFrames
{
    extension(Regression)
    {
        /// <summary>Ordinary least squares of the columns of a data frame.</summary>
        /// <exception cref="AnalysisException">A column is unknown, or the data do not allow a fit.</exception>
        public static LinearFit LeastSquares(DataFrame frame, string response, params string[] terms) => Regression.LeastSquares(Columns.Of(frame), response, terms);
    }
}
