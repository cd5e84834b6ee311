using System.Collections.Immutable;
using Fennick.Documents;
using Fennick.Statistics.Fits;
using MathNet.Numerics.Distributions;

namespace Fennick.Charts;

/// <summary>The residuals of a least-squares fit in four panels: against the fitted values, against normal quantiles, their size, and their leverage.</summary>
/// <remarks>Standardised residuals are e / (s √(1 − h)); normal quantiles are at (i − 3/8) / (n + 1/4): Blom, Statistical Estimates and Transformed Beta-Variables, 1958.</remarks>
public static class ResidualCharts
{
    /// <summary>The four panels of a fit.</summary>
    /// <param name="fit">The fit.</param>
    public static ChartPanels Of(LinearFit fit)
    {
        ArgumentNullException.ThrowIfNull(fit);
        var (fitted, residuals, leverage) = (fit.Fitted, fit.Residuals, fit.Leverage());
        var standardised = residuals.Zip(leverage, (e, h) => h < 1 - 1e-10 ? e / (fit.ResidualStandardError * Math.Sqrt(1 - h)) : (double?)null).ToArray();
        var sorted = standardised.OfType<double>().Order().ToArray();
        var quantiles = sorted.Select((_, i) => Normal.InvCDF(0, 1, (i + 0.625) / (sorted.Length + 0.25))).ToArray();
        var ends = new[] { quantiles[0], quantiles[^1] };
        return ChartPanels.Of(
            (null, Cloud(fitted, [.. residuals.Select(r => (double?)r)]).ReferenceLine(0).Titled("Fitted value", "Residual")),
            (null, Cloud(quantiles, [.. sorted.Select(s => (double?)s)]).Over(Chart.Lines(ends, q => q, q => q)).Titled("Normal quantile", "Standardised residual")),
            (null, Cloud(fitted, [.. standardised.Select(s => s is { } value ? Math.Sqrt(Math.Abs(value)) : (double?)null)]).Titled("Fitted value", "Root of the absolute standardised residual")),
            (null, Cloud(leverage, standardised).ReferenceLine(0).Titled("Leverage", "Standardised residual"))) with
        { PerRow = 2 };
    }

    private static Chart Cloud(IReadOnlyList<double> x, IReadOnlyList<double?> y) => Chart.Points(x.Zip(y), p => p.First, p => p.Second) is var chart ? chart with { Layers = [.. chart.Layers.Select(l => l with { IsFaint = true })] } : chart;

    private static Chart Titled(this Chart chart, string across, string up) => chart with
    {
        BaseAxis = chart.BaseAxis with { Words = Word(across) },
        ValueAxis = chart.ValueAxis with { Words = Word(up) },
    };

    private static RichText Word(string english) => new(ImmutableArray.Create<Inline>(new PhraseInline(english, [])));
}
