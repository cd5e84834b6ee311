using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Fits;

/// <summary>The wild cluster bootstrap of one coefficient, with the hypothesis imposed.</summary>
/// <remarks>
/// Cameron, Gelbach &amp; Miller (2008), Review of Economics and Statistics 90; computed from sums over the clusters alone, after Roodman, MacKinnon, Nielsen &amp; Webb (2019), Stata Journal 19.
/// </remarks>
internal static class WildBootstrap
{
    private const int MostEnumerated = 12;

    /// <summary>The share of draws whose t statistic is at least as far from zero as that of the sample.</summary>
    /// <param name="fit">A fit by least squares whose errors are clustered by one grouping.</param>
    /// <param name="place">The coefficient.</param>
    /// <param name="draws">How many draws; with few clusters all their signs are counted instead.</param>
    /// <param name="seed">Where the random numbers begin.</param>
    public static TestResult Test(RegressionFit fit, int place, int draws, int seed)
    {
        var (basis, scores) = (fit.Basis, fit.Basis.Scores);
        var clusters = basis.Data.ClustersOf(fit.StandardErrors.Groups);
        var (rows, combination) = (scores.Rows(), basis.Combinations[place]);
        var (coordinates, n, k) = (basis.Factorisation.AllCoordinates(combination), rows.Length, rows[0].Length);
        // What each row's response adds to the coefficient.
        double[] weights = [.. rows.Select(r => Vectors.Dot(r, coordinates))];
        var squares = Vectors.Dot(weights, weights);
        // For each cluster: what its residuals add to the coefficient and to the coordinates, and its part of the leverage.
        var own = new double[clusters.Count];
        var toCoordinates = Enumerable.Range(0, clusters.Count).Select(_ => new double[k]).ToArray();
        var leverage = Enumerable.Range(0, clusters.Count).Select(_ => new double[k]).ToArray();
        for (var i = 0; i < n; i++)
        {
            var g = clusters.Codes[i];
            var restricted = scores.Residuals[i] + (basis.Coefficients[place] * weights[i] / squares);
            own[g] += weights[i] * restricted;
            Vectors.AddScaled(toCoordinates[g], restricted, rows[i]);
            Vectors.AddScaled(leverage[g], weights[i], rows[i]);
        }
        var signs = new double[clusters.Count];
        Array.Fill(signs, 1);
        // With all signs the same it is the sample itself.
        var observed = Math.Abs(Statistic());
        var (atLeast, total) = (0, 0);
        if (clusters.Count <= MostEnumerated)
        {
            for (total = 0; total < 1 << clusters.Count; total++)
            {
                for (var g = 0; g < signs.Length; g++) signs[g] = (total >> g & 1) == 0 ? 1 : -1;
                Count();
            }
        }
        else
        {
            var random = new Random(seed);
            (atLeast, total) = (1, draws + 1);
            for (var draw = 0; draw < draws; draw++)
            {
                for (var g = 0; g < signs.Length; g++) signs[g] = random.Next(2) == 0 ? 1 : -1;
                Count();
            }
        }
        return new TestResult($"wild cluster bootstrap of {fit.Terms[place].Name}{(clusters.Count <= MostEnumerated ? $" ({total} arrangements of signs)" : $" ({draws} draws, seed {seed})")}", fit.Terms[place].Statistic, clusters.Count - 1, null, (double)atLeast / total);

        // Statistics that differ by rounding alone are the same.
        void Count() => atLeast += Math.Abs(Statistic()) >= observed * (1 - 1e-10) ? 1 : 0;

        double Statistic()
        {
            var (estimate, sums) = (0.0, new double[k]);
            for (var g = 0; g < signs.Length; g++)
            {
                estimate += signs[g] * own[g];
                Vectors.AddScaled(sums, signs[g], toCoordinates[g]);
            }
            var variance = 0.0;
            for (var g = 0; g < signs.Length; g++)
            {
                var score = (signs[g] * own[g]) - Vectors.Dot(leverage[g], sums);
                variance += score * score;
            }
            return estimate / Math.Sqrt(variance);
        }
    }
}
