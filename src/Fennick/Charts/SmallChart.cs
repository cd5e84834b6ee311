using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Tables;

namespace Fennick.Charts;

/// <summary>A short series drawn in a cell or a line, without axes. The small charts of one column of a table share a scale.</summary>
/// <example><c>Table.Of(valleys).Column("Valley", v => v.Name).Column("2021–2025", v => SmallChart.Line(v.Means)).Column("Survived", v => SmallChart.Bar(v.Survived, "percent"))</c></example>
public sealed record SmallChart : Inline
{
    private const string Heights = "▁▂▃▄▅▆▇█";
    private const string Widths = "▏▎▍▌▋▊▉█";
    private const int MostBlocks = 8;

    private SmallChart(SmallMark mark, ImmutableArray<double?> values) => (Mark, Values) = (mark, values);

    /// <summary>What it is drawn with.</summary>
    public SmallMark Mark { get; }

    /// <summary>Its values, in their order; null where there is a gap.</summary>
    public ImmutableArray<double?> Values { get; }

    /// <summary>The format of its numbers; null for sensible digits.</summary>
    public string? Format { get; private init; }

    /// <summary>How wide it is.</summary>
    public Length Width { get; private init; } = Length.FromPoints(64);

    /// <summary>How high it is.</summary>
    public Length Height { get; private init; } = Length.FromPoints(10);

    /// <summary>The numbers at its foot and top, or at the ends of its bar; those of its column, or its own, if null.</summary>
    public (double Low, double High)? Limits { get; private init; }

    /// <summary>What it shows, for readers who cannot see it; made from the values if null.</summary>
    public string? AlternativeText { get; private init; }

    /// <summary>A line with its end marked.</summary>
    /// <param name="values">Its values from the left; null and what is not finite are gaps.</param>
    /// <param name="format">The format of the numbers in its words for readers who cannot see it.</param>
    public static SmallChart Line(IEnumerable<double?> values, string? format = null) => Of(SmallMark.Line, values, format);

    /// <inheritdoc cref="Line(IEnumerable{double?}, string?)"/>
    public static SmallChart Line(IEnumerable<double> values, string? format = null) => Line(values?.Cast<double?>()!, format);

    /// <summary>Columns from zero.</summary>
    /// <param name="values">Their values from the left; null and what is not finite are gaps.</param>
    /// <param name="format">The format of the numbers in its words for readers who cannot see it.</param>
    public static SmallChart Columns(IEnumerable<double?> values, string? format = null) => Of(SmallMark.Columns, values, format);

    /// <inheritdoc cref="Columns(IEnumerable{double?}, string?)"/>
    public static SmallChart Columns(IEnumerable<double> values, string? format = null) => Columns(values?.Cast<double?>()!, format);

    /// <summary>A bar from zero, with its number before it.</summary>
    /// <param name="value">The number; an em dash stands there without one.</param>
    /// <param name="format">The number's format; give one, so that the numbers of a column have the same decimals.</param>
    public static SmallChart Bar(double? value, string? format = null) => Of(SmallMark.Bar, [value], format);

    /// <summary>With a scale of its own in place of its column's. Values beyond it are drawn at its ends.</summary>
    /// <exception cref="ReportException">The numbers are no range.</exception>
    public SmallChart Scale(double low, double high) => low < high && double.IsFinite(low) && double.IsFinite(high) ? this with { Limits = (low, high) }
        : throw new ReportException(Diagnostic.Error(null, $"a scale cannot run from {low} to {high}", "give a smaller and a larger number"));

    /// <summary>In another size.</summary>
    /// <exception cref="ReportException">A side is not longer than nothing.</exception>
    public SmallChart Size(Length width, Length height) => width.Points > 0 && height.Points > 0 ? this with { Width = width, Height = height }
        : throw new ReportException(Diagnostic.Error(null, $"a small chart cannot be {width} wide and {height} high", "give it a width and a height"));

    /// <summary>With words of its own for readers who cannot see it.</summary>
    public SmallChart Describe(string words) => this with { AlternativeText = words };

    /// <summary>Whether there is anything to draw.</summary>
    internal bool IsEmpty => Values.All(v => v is null);

    /// <summary>The least and greatest number that it needs room for.</summary>
    internal (double Low, double High) Range
    {
        get
        {
            var values = Values.OfType<double>();
            if (Mark != SmallMark.Line) values = values.Append(0);
            return values.Any() ? (values.Min(), values.Max()) : (0, 0);
        }
    }

    /// <summary>The number of a bar, as it stands before it.</summary>
    internal ValueInline Number => new(Values[0], Values[0] is null ? null : Format);

    /// <summary>How far up its scale a value lies, from 0 to 1.</summary>
    internal double Share(double value)
    {
        var (low, high) = Limits ?? Range;
        return high > low ? Math.Clamp((value - low) / (high - low), 0, 1) : 0.5;
    }

    /// <summary>The table with one scale for the small charts of each column.</summary>
    internal static Table OnCommonScales(Table table)
    {
        var ranges = new Dictionary<int, (double Low, double High)>();
        foreach (var row in table.Rows)
        {
            foreach (var (column, cell) in row.Cells.Index())
            {
                // Most tables have none: nothing is made for a cell without one.
                foreach (var inline in cell.Content.Inlines)
                    if (inline is SmallChart { IsEmpty: false, Limits: null } small) ranges[column] = ranges.TryGetValue(column, out var known) ? (Math.Min(known.Low, small.Range.Low), Math.Max(known.High, small.Range.High)) : small.Range;
            }
        }
        return ranges.Count == 0 ? table : table with { Rows = table.Rows.Select(row => row with { Cells = [.. row.Cells.Select((cell, column) => ranges.TryGetValue(column, out var range) ? Scaled(cell, range) : cell)] }) };
    }

    /// <summary>The values as blocks of different heights, where nothing can be drawn.</summary>
    internal string Blocks(Language language)
    {
        if (Mark != SmallMark.Bar) return string.Concat(Values.Select(v => v is { } value ? Heights[(int)Math.Round(Share(value) * (Heights.Length - 1))] : '\u00A0'));
        if (Values[0] is not { } number) return ValueFormatter.Format(null, null, language);
        var eighths = (int)Math.Round(Math.Abs(Share(number) - Share(0)) * MostBlocks * Widths.Length);
        var bar = new string(Widths[^1], eighths / Widths.Length) + (eighths % Widths.Length is > 0 and var rest ? Widths[rest - 1] : "");
        return $"{ValueFormatter.Format(number, Format, language)} {bar.PadRight(MostBlocks)}";
    }

    /// <summary>What it shows, for readers who cannot see it. A bar's number stands beside it.</summary>
    internal string Description(Language language)
    {
        if (AlternativeText is { } own) return own;
        if (Mark == SmallMark.Bar) return Accessibility.Decorative;
        var numbers = ChartNumbers.Of(Format, [.. Values.OfType<double>()], language);
        return $"{Phrases.Find(Mark == SmallMark.Line ? "Line chart" : "Column chart", language)}: {string.Join("; ", Values.Select(v => v is { } value ? numbers.Text(value, language) : language.Numbers.Missing))}.";
    }

    private static SmallChart Of(SmallMark mark, IEnumerable<double?> values, string? format)
    {
        ArgumentNullException.ThrowIfNull(values);
        return new SmallChart(mark, [.. values.Select(v => v is { } number && double.IsFinite(number) ? v : null)]) { Format = format };
    }

    private static TableCell Scaled(TableCell cell, (double Low, double High) range) => cell with
    {
        Content = new RichText([.. cell.Content.Inlines.Select(i => i is SmallChart { Limits: null } small ? small with { Limits = range } : i)]),
    };
}
