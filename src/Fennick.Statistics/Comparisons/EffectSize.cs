using Fennick.Statistics.Fits;
using Fennick.Statistics.Summaries;

namespace Fennick.Statistics.Comparisons;

/// <summary>How large an effect is, with a confidence interval.</summary>
/// <param name="Name">What the measure is called.</param>
/// <param name="Value">Its value.</param>
public sealed record EffectSize(string Name, double Value)
{
    private Func<double, Interval>? Limits { get; init; }

    /// <summary>The confidence interval; null for measures without one.</summary>
    /// <param name="level">Its level.</param>
    public Interval? Interval(double level = 0.95) => Limits?.Invoke(level);

    /// <summary>Cohen's d: the difference of two means over their common standard deviation.</summary>
    /// <exception cref="AnalysisException">A sample has fewer than two values, or nothing varies.</exception>
    /// <remarks>Hedges &amp; Olkin, Statistical Methods for Meta-Analysis, ch. 5; the interval is from the large-sample variance.</remarks>
    public static EffectSize CohenD(IReadOnlyList<double> first, IReadOnlyList<double> second) => Standardised("Cohen's d", first, second, _ => 1);

    /// <summary>Hedges' g: Cohen's d without its bias in small samples.</summary>
    /// <exception cref="AnalysisException">A sample has fewer than two values, or nothing varies.</exception>
    /// <remarks>Hedges (1981), Journal of Educational Statistics 6, with the exact correction.</remarks>
    public static EffectSize HedgesG(IReadOnlyList<double> first, IReadOnlyList<double> second) =>
        Standardised("Hedges' g", first, second, m => Math.Exp(MathNet.Numerics.SpecialFunctions.GammaLn(m / 2) - MathNet.Numerics.SpecialFunctions.GammaLn((m - 1) / 2)) / Math.Sqrt(m / 2));

    /// <summary>η²: the share of the variation of values that lies between groups.</summary>
    /// <exception cref="AnalysisException">There are fewer than two groups, or nothing varies.</exception>
    public static EffectSize EtaSquared(params IReadOnlyList<double>[] groups)
    {
        ArgumentNullException.ThrowIfNull(groups);
        var test = MeanTests.OneWay(groups);
        var between = test.Statistic * test.DegreesOfFreedom;
        return new EffectSize("η²", between / (between + test.DenominatorDegreesOfFreedom!.Value));
    }

    /// <summary>Cramér's V of a table of counts.</summary>
    /// <exception cref="AnalysisException">A variable has one level only.</exception>
    public static EffectSize CramerV(CrossTabulation table)
    {
        ArgumentNullException.ThrowIfNull(table);
        return new EffectSize("Cramér's V", Math.Sqrt(table.ChiSquaredTest().Statistic / table.Total / (Math.Min(table.Rows.Length, table.Columns.Length) - 1)));
    }

    /// <summary>The odds ratio of a 2 × 2 table: the odds of the second column in the second row over those in the first.</summary>
    /// <exception cref="AnalysisException">The table is not 2 × 2, or a count is zero.</exception>
    /// <remarks>Woolf (1955), Annals of Human Genetics 19: the interval is on the logarithmic scale.</remarks>
    public static EffectSize OddsRatio(CrossTabulation table)
    {
        var (a, b, c, d) = Counts(table);
        return Ratio("odds ratio", Math.Log(d) + Math.Log(a) - Math.Log(c) - Math.Log(b), Math.Sqrt((1 / a) + (1 / b) + (1 / c) + (1 / d)));
    }

    /// <summary>The risk ratio of a 2 × 2 table: the share of the second column in the second row over that in the first.</summary>
    /// <exception cref="AnalysisException">The table is not 2 × 2, or a count is zero.</exception>
    /// <remarks>Katz and others (1978), Biometrics 34: the interval is on the logarithmic scale.</remarks>
    public static EffectSize RiskRatio(CrossTabulation table)
    {
        var (a, b, c, d) = Counts(table);
        return Ratio("risk ratio", Math.Log(d / (c + d)) - Math.Log(b / (a + b)), Math.Sqrt((1 / d) - (1 / (c + d)) + (1 / b) - (1 / (a + b))));
    }

    private static EffectSize Ratio(string name, double log, double error) => new(name, Math.Exp(log))
    {
        Limits = level => Fits.Interval.Around(log, error, double.PositiveInfinity, level) is var around ? new Interval(Math.Exp(around.Low), Math.Exp(around.High)) : default,
    };

    private static EffectSize Standardised(string name, IReadOnlyList<double> first, IReadOnlyList<double> second, Func<double, double> correction)
    {
        var (a, b) = (Sample.Of(first, 2, "the first sample"), Sample.Of(second, 2, "the second sample"));
        double degrees = a.Length + b.Length - 2;
        var deviation = Math.Sqrt((Sample.Squares(a) + Sample.Squares(b)) / degrees);
        if (!(deviation > 0)) throw new AnalysisException("nothing varies within the samples");
        var value = (Sample.Mean(a) - Sample.Mean(b)) / deviation * correction(degrees);
        double n = a.Length, m = b.Length;
        var error = Math.Sqrt(((n + m) / (n * m)) + (value * value / (2 * (n + m))));
        return new EffectSize(name, value) { Limits = level => Fits.Interval.Around(value, error, double.PositiveInfinity, level) };
    }

    private static (double A, double B, double C, double D) Counts(CrossTabulation table)
    {
        ArgumentNullException.ThrowIfNull(table);
        if (table.Rows.Length != 2 || table.Columns.Length != 2) throw new AnalysisException($"the measure is of 2 × 2 tables; this one is {table.Rows.Length} × {table.Columns.Length}");
        if (table[0, 0] == 0 || table[0, 1] == 0 || table[1, 0] == 0 || table[1, 1] == 0) throw new AnalysisException("a count of the table is zero, so that the ratio has no finite value or interval; use Fisher's exact test");
        return (table[0, 0], table[0, 1], table[1, 0], table[1, 1]);
    }
}
