using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Formatting;

namespace Fennick.Charts;

/// <summary>A series of a chart.</summary>
/// <param name="Name">Its name, as a legend shows it.</param>
/// <param name="Values">One value for each category; null where there is none.</param>
public sealed record ChartSeries(string Name, ImmutableArray<double?> Values);

/// <summary>A native chart: the word processor draws it from the data it carries, and colleagues can edit both.</summary>
public sealed record Chart
{
    /// <summary>The words along the category axis.</summary>
    public required ImmutableArray<string> Categories { get; init; }

    /// <summary>The series, each as long as the categories.</summary>
    public required ImmutableArray<ChartSeries> Series { get; init; }

    /// <summary>What the categories are; empty for no title.</summary>
    public string CategoryTitle { get; init; } = "";

    /// <summary>What the values are, with their unit; empty for no title.</summary>
    public string ValueTitle { get; init; } = "";

    /// <summary>The format of the axis and the value labels, such as <c>0.0</c> or <c>percent 1</c>.</summary>
    public string ValueFormat { get; init; } = NumberCode.General;

    /// <summary>Whether each column carries its value.</summary>
    public bool ShowsValues { get; init; }

    /// <summary>Whether it is drawn without axes, as small charts in cells are.</summary>
    public bool HidesAxes { get; init; }

    /// <summary>A column chart with a column for each record.</summary>
    /// <example><c>Chart.Columns(strains, s => s.Name, s => s.Mean).Axes("Strain", "Honey per hive (kg)")</c></example>
    /// <exception cref="ReportException">There are no records, or a value is infinite.</exception>
    public static Chart Columns<T>(IEnumerable<T> records, Func<T, object?> category, Func<T, double?> value)
    {
        ArgumentNullException.ThrowIfNull(category);
        ArgumentNullException.ThrowIfNull(value);
        var rows = records.ToArray();
        if (rows.Length == 0) throw new ReportException(Diagnostic.Error(null, "the chart has no data", "check the records it is made from"));
        var values = rows.Select(value).Select(v => v is { } number && double.IsNaN(number) ? null : v).ToImmutableArray();
        if (values.Any(v => v is { } number && double.IsInfinity(number)))
            throw new ReportException(Diagnostic.Error(null, "the chart has an infinite value", "leave such records out or give them another value"));
        return new Chart
        {
            Categories = [.. rows.Select(r => ValueFormatter.Format(category(r), null, Language.Current))],
            Series = [new ChartSeries("", values)],
        };
    }

    /// <summary>The same chart with axis titles.</summary>
    /// <param name="category">What the categories are.</param>
    /// <param name="value">What the values are, with their unit.</param>
    public Chart Axes(string category, string value) => this with { CategoryTitle = category, ValueTitle = value };

    /// <summary>The same chart with a number format for its values, in labels, along the axis and in its workbook.</summary>
    /// <param name="format">Any format of a sentence, such as <c>0.0</c>, <c>N1</c>, <c>percent 1</c> or <c>number 1 | unit kg</c>.</param>
    /// <exception cref="ReportException">The format is unknown, or not one for one of the values.</exception>
    public Chart Format(string format)
    {
        ArgumentNullException.ThrowIfNull(format);
        var formatted = this with { ValueFormat = format };
        try
        {
            if (!OwnFormat.MayBe(format, Language.Current)) _ = ChartNumbers.Of(formatted, Language.Current);
            return formatted;
        }
        catch (ValueFormatException problem)
        {
            throw new ReportException([Diagnostic.Error(null, problem.Message, problem.Suggestion)], problem);
        }
    }

    /// <summary>The same chart with its values written at the columns.</summary>
    public Chart WithValues() => this with { ShowsValues = true };

    /// <summary>What the chart shows, in words, for readers who cannot see it.</summary>
    internal string Describe(Language language)
    {
        var pairs = Categories.Zip(Series[0].Values, (c, v) => $"{c} {ValueFormatter.Format(v, v is null || ValueFormat == NumberCode.General ? null : ValueFormat, language)}");
        var what = string.Join(", ", new[] { ValueTitle, CategoryTitle }.Where(t => t.Length > 0));
        return what.Length == 0 ? string.Join("; ", pairs) : $"{what}: {string.Join("; ", pairs)}";
    }
}
