using System.Collections.Immutable;
using Fennick.Formatting;

namespace Fennick.Charts;

/// <summary>How a chart shows its numbers.</summary>
/// <param name="Code">The number code of its values, in the chart and in its workbook.</param>
/// <param name="AxisCode">The number code along its axis.</param>
/// <param name="Labels">The words at its columns, by series; none if the code shows them.</param>
internal sealed record ChartNumbers(string Code, string AxisCode, ImmutableArray<ImmutableArray<string?>> Labels)
{
    /// <summary>What a chart's format comes to.</summary>
    /// <exception cref="ValueFormatException">The format is unknown, or not one for one of the values.</exception>
    public static ChartNumbers Of(Chart chart, Language language)
    {
        if (chart.ValueFormat == NumberCode.General) return new ChartNumbers(NumberCode.General, NumberCode.General, []);
        var texts = chart.Series.Select(s => s.Values.Select(v => v is { } value ? ValueFormatter.Format(value, chart.ValueFormat, language) : null).ToImmutableArray()).ToImmutableArray();
        var hasNegative = chart.Series.Any(s => s.Values.Any(v => v < 0));
        var code = NumberCode.Of(chart.ValueFormat, language, hasNegative);
        // A code shows a sign with a number that rounds to zero; Fennick does not.
        var isExact = code is not null && chart.Series.Zip(texts).All(s => s.First.Values.Zip(s.Second).All(v => v.First is null or 0 || v.Second is null || v.Second.AsSpan().IndexOfAnyInRange('1', '9') >= 0 || (v.First > 0 && !chart.ValueFormat.Contains("signed", StringComparison.Ordinal))));
        return new ChartNumbers(code ?? NumberCode.General, NumberCode.ForAxis(chart.ValueFormat, language, hasNegative), isExact ? [] : texts);
    }
}
