using Fennick.Formatting;

namespace Fennick.Charts;

/// <summary>How a chart shows the numbers along one axis.</summary>
/// <param name="Format">The format of words; never null.</param>
/// <param name="Code">The number code of its values, in the chart and in its workbook.</param>
/// <param name="IsExact">Whether the code shows every value as the format does.</param>
internal sealed record ChartNumbers(string Format, string Code, bool IsExact)
{
    /// <summary>What a format comes to for values.</summary>
    /// <exception cref="ValueFormatException">The format is unknown, or not one for one of the values.</exception>
    public static ChartNumbers Of(string? format, IReadOnlyCollection<double> values, Language language)
    {
        var chosen = format ?? ValueFormatter.ColumnFormat(values.Select(v => (object?)v));
        // A code shows a sign with a number that rounds to zero; Fennick does not.
        var texts = values.Select(v => (Value: v, Text: ValueFormatter.Format(v, chosen, language))).ToArray();
        var code = NumberCode.Of(chosen, language, values.Any(v => v < 0));
        var isExact = code is not null && texts.All(t => t.Value == 0 || t.Text.AsSpan().IndexOfAnyInRange('1', '9') >= 0 || (t.Value > 0 && !chosen.Contains("signed", StringComparison.Ordinal)));
        return new ChartNumbers(chosen, code ?? NumberCode.General, isExact);
    }

    /// <summary>The text of a value.</summary>
    public string Text(double value, Language language) => ValueFormatter.Format(value, Format, language);

    /// <summary>The format and the number code of the ticks of an axis.</summary>
    public static (string? Format, string Code) OfTicks(string? format, Ticks ticks, Language language)
    {
        if (format is not null) return (NumberCode.Of(format, language, ticks.Minimum < 0) is null ? null : format, NumberCode.ForAxis(format, language, ticks.Minimum < 0));
        var digits = Math.Min(12, Ticks.Decimals(ticks.Step));
        var grouped = Math.Max(Math.Abs(ticks.Minimum), Math.Abs(ticks.Maximum)) >= 10_000 ? "#,0" : "0";
        var own = digits == 0 ? grouped : $"{grouped}.{new string('0', digits)}";
        return (own, NumberCode.Of(own, language, ticks.Minimum < 0)!);
    }
}
