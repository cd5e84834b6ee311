using Fennick.Statistics.Comparisons;
using Fennick.Statistics.Summaries;
using Xunit;
using static Fennick.Statistics.Tests.Survey;

namespace Fennick.Statistics.Tests;

public sealed class SummaryTests
{
    private static readonly double[] A = [1.83, 0.50, 1.62, 2.48, 1.68, 1.88, 1.55, 3.06, 1.30];
    private static readonly double[] B = [0.878, 0.647, 0.598, 2.05, 1.06, 1.29, 1.06, 3.14, 1.29];

    [Fact]
    public void Descriptions_count_what_is_missing_and_follow_the_stated_rule()
    {
        var description = Description.Of(new double?[] { 4, null, 1, double.NaN, 3, 2 }, v => v);
        Assert.Equal((4, 2, 2.5, 1.0, 4.0), (description.Count, description.Missing, description.Median, description.Minimum, description.Maximum));
        Assert.Equal(1.75, description.Quantile(0.25));
        Assert.Equal(1, description.Quantile(0.25, QuantileRule.Inverse));
        AssertDigits(1 + (5.0 / 12), description.Quantile(0.25, QuantileRule.MedianUnbiased), 12, "type 8");
        Assert.Equal(["Amber", "Dusk", "Heath"], Description.By(Hives, h => h.HoneyKg, h => h.Strain).Select(d => d.Group));
        Assert.Contains("all 2 values are missing", Assert.Throws<AnalysisException>(() => Description.Of(new double?[] { null, null }, v => v)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Frequencies_and_shares_add_up()
    {
        var frequencies = Frequency.Of(new[] { "b", "a", null, "b", "b" }, v => v);
        Assert.Equal([new Frequency("a", 1, 0.25, 0.25), new Frequency("b", 3, 0.75, 1), new Frequency(null, 1, null, null)], frequencies);
        var table = CrossTabulation.Of(Hives, h => h.QueenAge, h => h.Treated);
        Assert.Equal(240, table.Total);
        Assert.Equal(1, table.Columns.Select((_, c) => table.RowShare(0, c)).Sum(), 12);
        Assert.Equal(1, table.Rows.Select((_, r) => table.ColumnShare(r, 1)).Sum(), 12);
        AssertDigits(table[1, 0] / 240.0, table.CellShare(1, 0), 12, "share");
    }

    [Fact]
    public void Fisher_and_Wilson()
    {
        // Fisher's tea: 3 of 4 right on both sides.
        var cups = Enumerable.Repeat((true, true), 3).Concat([(true, false), (false, true)]).Concat(Enumerable.Repeat((false, false), 3));
        var test = CrossTabulation.Of(cups, c => c.Item1, c => c.Item2).FisherTest();
        AssertDigits(34.0 / 70, test.PValue, 12, "p");
        Assert.Equal(9, test.Statistic, 12);
        var interval = new Proportion(8, 10).Interval();
        AssertDigits(0.4901625, interval.Low, 6, "low");
        AssertDigits(0.9433178, interval.High, 6, "high");
        Assert.Equal(0, new Proportion(0, 10).Interval().Low);
    }

    [Fact]
    public void Ranks_exact_and_approximate()
    {
        // Hollander & Wolfe's depression scores: V = 40, p = 0.0390625 by counting.
        var signed = RankTests.SignedRank(A, B);
        Assert.Equal((40.0, 20.0 / 512), (signed.Statistic, signed.PValue));
        // 3 against 3 without overlap: 2 of 20 arrangements are as far out.
        var sum = RankTests.RankSum([1, 2, 3], [4, 5, 6]);
        Assert.Equal((0.0, 0.1), (sum.Statistic, sum.PValue));
        Assert.InRange(RankTests.RankSum(A, B, exact: false).PValue / RankTests.RankSum(A, [.. B.Select((b, i) => b + (i * 1e-6))]).PValue, 0.8, 1.25);
        Assert.Contains("no pair differs", Assert.Throws<AnalysisException>(() => RankTests.SignedRank(A, A)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Pairs_and_intervals()
    {
        var paired = MeanTests.Paired(A, B);
        AssertDigits(A.Zip(B, (a, b) => a - b).Average(), paired.Difference, 12, "difference");
        Assert.InRange(paired.Difference, paired.Interval().Low, paired.Interval().High);
        var pearson = Correlation.Pearson(A, B);
        Assert.InRange(pearson.Coefficient, pearson.Interval().Low, pearson.Interval().High);
        Assert.Equal(1, Correlation.Spearman([1, 2, 3, 4], [1, 8, 27, 64]).Coefficient);
        Assert.Contains("the first variable is 1 in all 3 pairs", Assert.Throws<AnalysisException>(() => Correlation.Pearson([1, 1, 1], [1, 2, 3])).Message, StringComparison.Ordinal);
        Assert.Contains("nothing varies", Assert.Throws<AnalysisException>(() => MeanTests.Student([1, 1], [2, 2])).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Many_p_values_are_adjusted_in_their_order()
    {
        double[] p = [0.01, 0.04, 0.03, 0.005];
        Assert.Equal([0.03, 0.06, 0.06, 0.02], MultipleComparisons.Holm(p).Select(v => Math.Round(v, 12)));
        Assert.Equal([0.02, 0.04, 0.04, 0.02], MultipleComparisons.BenjaminiHochberg(p).Select(v => Math.Round(v, 12)));
        Assert.Contains("1.5 is not a p-value", Assert.Throws<AnalysisException>(() => MultipleComparisons.Holm([1.5])).Message, StringComparison.Ordinal);
    }
}
