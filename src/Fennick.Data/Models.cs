using Fennick.Data.Reading;
using Fennick.Diagnostics;
using Fennick.Statistics.Fits;

namespace Fennick.Data;

/// <summary>Models that other programs fitted, from the tables of coefficients that they write.</summary>
public static class Models
{
    /// <summary>
    /// Reads models from a table with a row for each coefficient, and, if there is one, a table with a row for each model. Columns are called as the trade calls them; case, <c>_</c>, <c>.</c> and spaces do not count:
    /// <c>model</c>, <c>term</c>, <c>estimate</c> (or <c>coef</c>), <c>std_error</c> (<c>se</c>), <c>statistic</c> (<c>t</c>, <c>z</c>), <c>p_value</c> (<c>p</c>), <c>conf_low</c> and <c>conf_high</c>
    /// with <c>conf_level</c> (0.95 if there is none), <c>df</c>; of the model <c>model</c>, <c>estimator</c>, <c>response</c>, <c>errors</c>, <c>nobs</c> (<c>n</c>), <c>r_squared</c>, <c>adj_r_squared</c>, <c>aic</c>, <c>bic</c>,
    /// <c>log_lik</c>, <c>note</c>, and any other number under its own name.
    /// </summary>
    /// <param name="coefficients">A file of character-separated values or, if its name ends in <c>.json</c>, <c>.jsonl</c> or <c>.ndjson</c>, of JSON.</param>
    /// <param name="fits">A file of what the models have as a whole; none if null.</param>
    /// <returns>The models with their names, in the order of the file, as <c>RegressionTable.Of</c> and <c>EstimatesChart.Of</c> take them.</returns>
    /// <exception cref="ReportException">A file cannot be read, a column is missing, the numbers of a coefficient contradict each other, or the two files do not speak of the same models.</exception>
    /// <example><code>RegressionTable.Of(Models.Read("models.csv", "fits.csv"))</code></example>
    public static (string Name, IModelResult Fit)[] Read(string coefficients, string? fits = null) => ModelRows.Read(coefficients, fits);
}
