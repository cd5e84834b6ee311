using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Survival;

/// <summary>Tests that groups survive alike.</summary>
public static class SurvivalTests
{
    /// <summary>The log-rank test, stratified if wished.</summary>
    /// <param name="records">The records; those in which something is missing are left out.</param>
    /// <param name="time">The time until the event, or until observation ended.</param>
    /// <param name="occurred">Whether the event occurred.</param>
    /// <param name="group">The group.</param>
    /// <param name="stratum">Groups are compared within strata; null for one.</param>
    /// <exception cref="AnalysisException">There are fewer than two groups, or no event that tells them apart.</exception>
    /// <remarks>Kalbfleisch &amp; Prentice, The Statistical Analysis of Failure Time Data, 2nd ed., §1.5; the variance is hypergeometric.</remarks>
    public static TestResult LogRank<T>(IEnumerable<T> records, Func<T, double?> time, Func<T, bool?> occurred, Func<T, object?> group, Func<T, object?>? stratum = null)
    {
        ArgumentNullException.ThrowIfNull(records);
        ArgumentNullException.ThrowIfNull(time);
        ArgumentNullException.ThrowIfNull(occurred);
        ArgumentNullException.ThrowIfNull(group);
        var complete = records.Select(r => (Time: time(r), Occurred: occurred(r), Group: group(r), Stratum: stratum is null ? "" : stratum(r)))
            .Where(r => r.Time is { } t && !double.IsNaN(t) && r.Occurred is not null && r.Group is not null && r.Stratum is not null).ToList();
        if (complete.Count(r => !(r.Time >= 0) || double.IsInfinity(r.Time!.Value)) is > 0 and var wrong) throw new AnalysisException($"the time is negative or not finite in {ModelData.CountRows(wrong)}");
        object[] groups = [.. complete.Select(r => r.Group!).Distinct()];
        if (groups.Length < 2) throw new AnalysisException(groups.Length == 0 ? "no row is complete" : "there is one group; at least two are needed");
        if (complete.All(r => r.Occurred == false)) throw new AnalysisException($"the event occurred in none of the {ModelData.CountRows(complete.Count)}; there is nothing to compare");
        var places = groups.Index().ToDictionary(g => g.Item, g => g.Index);
        var k = groups.Length - 1;
        var (difference, variance) = (new double[k], new double[k, k]);
        foreach (var own in complete.GroupBy(r => r.Stratum!))
        {
            var atRisk = new double[groups.Length];
            foreach (var row in own) atRisk[places[row.Group!]]++;
            foreach (var at in own.GroupBy(r => r.Time!.Value).OrderBy(g => g.Key))
            {
                var events = new double[groups.Length];
                foreach (var row in at.Where(r => r.Occurred == true)) events[places[row.Group!]]++;
                var (n, d) = (atRisk.Sum(), events.Sum());
                for (var i = 0; i < k && d > 0; i++)
                {
                    difference[i] += events[i] - (d * atRisk[i] / n);
                    if (n > 1) for (var j = 0; j < k; j++) variance[i, j] += d * (n - d) / (n - 1) * atRisk[i] / n * ((i == j ? 1 : 0) - (atRisk[j] / n));
                }
                foreach (var row in at) atRisk[places[row.Group!]]--;
            }
        }
        var lower = Cholesky.Factor(variance, 1e-12) ?? throw new AnalysisException("no event occurred while more than one of the groups was under observation, so that they cannot be compared");
        var solved = Cholesky.SolveLower(lower, difference);
        var statistic = Vectors.Dot(solved, solved);
        return new TestResult("log-rank test", statistic, k, null, Tails.ChiSquaredUpper(statistic, k));
    }
}
