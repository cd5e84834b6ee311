using Fennick.Documents;
using Fennick.Formatting;

namespace Fennick.Charts;

/// <summary>The words of names, dates and numbers in a chart, once the language is known.</summary>
internal static class ChartWords
{
    /// <summary>The words of a name.</summary>
    /// <exception cref="ValueFormatException">The format is not one for it.</exception>
    public static string Of(object? name, string? format, Language language) => name switch
    {
        RowName row => row.Words.ToPlainText(language),
        RichText rich => rich.ToPlainText(language),
        string or Bin => ValueFormatter.Format(name, null, language),
        _ => ValueFormatter.Format(name, format, language),
    };

    /// <summary>The chart with the words of its axes in a language.</summary>
    public static Chart In(this Chart chart, Language language) => chart with
    {
        BaseAxis = chart.BaseAxis.In(language),
        ValueAxis = chart.ValueAxis.In(language),
        SecondAxis = chart.SecondAxis.In(language),
    };

    private static ChartAxis In(this ChartAxis axis, Language language) => axis.Words is null ? axis : axis with { Title = axis.Words.ToPlainText(language), Words = null };
}
