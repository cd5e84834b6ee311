
namespace Fennick.Statistics.Fits;

/// <summary>Brings together fits of data whose missing values were imputed several times.</summary>
public static class Imputations
{
    /// <summary>The mean of the estimates, with errors that hold both what each fit says and how much they differ.</summary>
    /// <param name="fits">A fit of each imputed data set: the same model of the same rows.</param>
    /// <returns>A model whose terms have degrees of freedom of their own.</returns>
    /// <exception cref="AnalysisException">There are fewer than two fits, or they differ in estimator, terms, response or the number of rows.</exception>
    /// <remarks>Rubin, Multiple Imputation for Nonresponse in Surveys, ch. 3; degrees of freedom Barnard &amp; Rubin (1999), Biometrika 86, where the fits have finite ones.</remarks>
    public static ModelResult Pool(IReadOnlyList<IModelResult> fits)
    {
        ArgumentNullException.ThrowIfNull(fits);
        if (fits.Count < 2) throw new AnalysisException($"there is {fits.Count} fit; imputations need two or more");
        var (first, m, k) = (fits[0], fits.Count, fits[0].Terms.Length);
        foreach (var (i, fit) in fits.Index())
        {
            if (fit.Estimator != first.Estimator || fit.Response != first.Response) throw new AnalysisException($"fit {i + 1} is {fit.Estimator} of `{fit.Response}`, the first {first.Estimator} of `{first.Response}`; imputations are of one model");
            if (!fit.Terms.Select(t => t.Name).SequenceEqual(first.Terms.Select(t => t.Name))) throw new AnalysisException($"fit {i + 1} has the terms {string.Join(", ", fit.Terms.Select(t => $"`{t.Name}`"))}, the first {string.Join(", ", first.Terms.Select(t => $"`{t.Name}`"))}; imputations are of one model");
            if (fit.Observations != first.Observations) throw new AnalysisException($"fit {i + 1} is of {fit.Observations} rows, the first of {first.Observations}; imputed data have the same rows");
        }
        double[] means = [.. Enumerable.Range(0, k).Select(c => fits.Average(f => f.Terms[c].Estimate))];
        var (total, within) = (new double[k, k], new double[k, k]);
        foreach (var covariance in fits.Select(f => f.Covariance()))
            for (var a = 0; a < k; a++)
                for (var b = 0; b < k; b++) within[a, b] += covariance[a, b] / m;
        for (var a = 0; a < k; a++)
            for (var b = 0; b < k; b++) total[a, b] = within[a, b] + ((1 + (1.0 / m)) * fits.Sum(f => (f.Terms[a].Estimate - means[a]) * (f.Terms[b].Estimate - means[b])) / (m - 1));
        double Degrees(int c)
        {
            var lost = (total[c, c] - within[c, c]) / total[c, c];
            var plain = lost > 0 ? (m - 1) / (lost * lost) : double.PositiveInfinity;
            var complete = fits.Min(f => f.Terms[c].DegreesOfFreedom);
            if (double.IsPositiveInfinity(complete)) return plain;
            var observed = (complete + 1) / (complete + 3) * complete * (1 - lost);
            return 1 / ((1 / plain) + (1 / observed));
        }
        var largest = Enumerable.Range(0, k).Max(c => (total[c, c] - within[c, c]) / total[c, c]);
        return new ModelResult(first.Estimator, first.Response, first.Observations, first.Terms.Select((t, c) => new TermEstimate(t.Term, means[c], Math.Sqrt(total[c, c]), Degrees(c))))
        {
            ErrorKind = first.ErrorKind,
            ErrorGroups = first.ErrorGroups,
            ClusterCounts = first.ClusterCounts,
            Statistics = [new("Imputations", m, "#,0"), new("Largest share of missing information", largest)],
            Notes = [$"Estimates of {m} imputed data sets, pooled by Rubin's rules."],
            Warnings = [.. fits.SelectMany(f => f.Warnings).Distinct()],
            Converged = fits.All(f => f.Converged),
            Weights = first.Weights,
            AbsorbedGroupings = first.AbsorbedGroupings,
            RecordType = first.RecordType,
        }.WithCovariance(total);
    }
}
