using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Formatting;

namespace Fennick.Charts;

/// <summary>
/// A chart: marks over each other on common axes, apart from any file format. In a document it is drawn by the word processor from the data that it carries, and colleagues can edit both. Each kind is
/// one call; what is not said is chosen for good looks.
/// </summary>
/// <example><c>Chart.Columns(strains, s => s.Name, s => s.Mean).Axes("Strain", "Honey per hive (kg)")</c></example>
public sealed record Chart
{
    /// <summary>What is drawn, the first layer lowest.</summary>
    public required ImmutableArray<ChartLayer> Layers { get; init; }

    /// <summary>The axis of names, dates or numbers by which the values are compared.</summary>
    public ChartAxis BaseAxis { get; init; } = new();

    /// <summary>The axis of what is measured.</summary>
    public ChartAxis ValueAxis { get; init; } = new();

    /// <summary>The axis of layers that measure something else, at the other side.</summary>
    public ChartAxis SecondAxis { get; init; } = new();

    /// <summary>How columns and areas of several series stand to each other.</summary>
    public Stacking Stacking { get; init; }

    /// <summary>Whether the names stand down the side and the values run across; null if the room for the names decides.</summary>
    public bool? LiesOnSide { get; init; }

    /// <summary>A line above the chart, for those who want one beside the caption.</summary>
    public string Subtitle { get; init; } = "";

    /// <summary>Whether each value is written at its mark.</summary>
    public bool ShowsValues { get; init; }

    /// <summary>Where the names of the series stand.</summary>
    public SeriesLabels Labels { get; init; }

    /// <summary>Lines and spans across it.</summary>
    public ImmutableArray<ReferenceMark> References { get; init; } = [];

    /// <summary>Words at points of it.</summary>
    public ImmutableArray<ChartNote> Notes { get; init; } = [];

    /// <summary>The names or series that stand out, while the others are muted; none for all alike.</summary>
    public ImmutableArray<object> Highlighted { get; init; } = [];

    /// <summary>Colours of its own as <c>#RRGGBB</c>, one for each series; those of the house if empty.</summary>
    public ImmutableArray<string> Palette { get; init; } = [];

    /// <summary>The share of the radius that is left free in the middle of slices: 0 for a pie.</summary>
    public double Hole { get; init; }

    /// <summary>What a reader must know of its data, such as values that could not be drawn.</summary>
    internal ImmutableArray<Diagnostic> Remarks { get; init; } = [];

    /// <summary>Columns for comparing groups: beside each other if there are several series.</summary>
    /// <param name="records">One record a column.</param>
    /// <param name="category">The group's name; names keep the order of the records.</param>
    /// <param name="value">The value; null leaves a gap.</param>
    /// <param name="series">The series, if there are several.</param>
    /// <param name="lower">The lower limit of the value, for error bars.</param>
    /// <param name="upper">The upper limit of the value.</param>
    /// <exception cref="ReportException">There are no records, or a series has two values for a category.</exception>
    public static Chart Columns<T>(IEnumerable<T> records, Func<T, object?> category, Func<T, double?> value, Func<T, object?>? series = null, Func<T, double?>? lower = null, Func<T, double?>? upper = null) =>
        ChartRows.Read(records, category, value, series, lower, upper).With(ChartMark.Columns);

    /// <summary>Bars with the names down the side, which have room there.</summary>
    /// <inheritdoc cref="Columns"/>
    public static Chart Bars<T>(IEnumerable<T> records, Func<T, object?> category, Func<T, double?> value, Func<T, object?>? series = null, Func<T, double?>? lower = null, Func<T, double?>? upper = null) =>
        Columns(records, category, value, series, lower, upper) with { LiesOnSide = true };

    /// <summary>Dots on a common scale with the names down the side; unlike bars they need not start at zero.</summary>
    /// <inheritdoc cref="Columns"/>
    public static Chart Dots<T>(IEnumerable<T> records, Func<T, object?> category, Func<T, double?> value, Func<T, object?>? series = null, Func<T, double?>? lower = null, Func<T, double?>? upper = null) =>
        ChartRows.Read(records, category, value, series, lower, upper).With(ChartMark.Points) with { LiesOnSide = true };

    /// <summary>Estimates with their intervals, a row each.</summary>
    /// <param name="records">One record an estimate.</param>
    /// <param name="name">What was estimated.</param>
    /// <param name="estimate">The estimate.</param>
    /// <param name="lower">The lower limit of its interval.</param>
    /// <param name="upper">The upper limit of its interval.</param>
    /// <param name="series">The model or group, if there are several: they stand side by side in one row.</param>
    /// <exception cref="ReportException">There are no records, or a series has two estimates of one name.</exception>
    public static Chart Intervals<T>(IEnumerable<T> records, Func<T, object?> name, Func<T, double?> estimate, Func<T, double?> lower, Func<T, double?> upper, Func<T, object?>? series = null) =>
        Dots(records, name, estimate, series, lower, upper);

    /// <summary>Lines for change over time, or along any number.</summary>
    /// <param name="records">One record a point.</param>
    /// <param name="at">The date, the number, or the name in the order of the records; dates and numbers are sorted.</param>
    /// <param name="value">The value; null leaves a gap.</param>
    /// <param name="series">The series, if there are several.</param>
    /// <param name="lower">The lower limit of the value, for a band.</param>
    /// <param name="upper">The upper limit of the value.</param>
    /// <exception cref="ReportException">There are no records, or a series has two values at one place.</exception>
    public static Chart Lines<T>(IEnumerable<T> records, Func<T, object?> at, Func<T, double?> value, Func<T, object?>? series = null, Func<T, double?>? lower = null, Func<T, double?>? upper = null) =>
        ChartRows.Read(records, at, value, series, lower, upper, isAlongBase: true).With(ChartMark.Lines);

    /// <summary>Lines that keep each value until the next, such as prices or stocks.</summary>
    /// <inheritdoc cref="Lines"/>
    public static Chart Steps<T>(IEnumerable<T> records, Func<T, object?> at, Func<T, double?> value, Func<T, object?>? series = null) =>
        ChartRows.Read(records, at, value, series, isAlongBase: true).With(ChartMark.Steps);

    /// <summary>Areas for amounts over time, on top of each other if there are several series.</summary>
    /// <inheritdoc cref="Lines"/>
    public static Chart Areas<T>(IEnumerable<T> records, Func<T, object?> at, Func<T, double?> value, Func<T, object?>? series = null) =>
        ChartRows.Read(records, at, value, series, isAlongBase: true).With(ChartMark.Areas) is var chart && chart.Layers[0].Series.Length > 1 ? chart.Stacked() : chart;

    /// <summary>Points for the relation of two numbers.</summary>
    /// <param name="records">One record a point.</param>
    /// <param name="x">The number or date across.</param>
    /// <param name="y">The number upward.</param>
    /// <param name="group">The group, if there are several: each has a colour and a mark.</param>
    /// <param name="size">What the area of a point stands for.</param>
    /// <exception cref="ReportException">There are no records.</exception>
    public static Chart Points<T>(IEnumerable<T> records, Func<T, object?> x, Func<T, double?> y, Func<T, object?>? group = null, Func<T, double?>? size = null) =>
        ChartRows.Read(records, x, y, group, size: size, isAlongBase: true, allowsDoubles: true).With(ChartMark.Points) with { LiesOnSide = false };

    /// <summary>A histogram: how many values lie in each of equally wide bins.</summary>
    /// <param name="records">One record a value.</param>
    /// <param name="value">The value; null is left out.</param>
    /// <param name="bins">About how many bins; null for the rule of Freedman and Diaconis, 2 · IQR · n^(−1/3), but 5 to 30. Edges are round numbers.</param>
    /// <param name="width">The width of a bin; instead of a number of bins.</param>
    /// <param name="from">An edge of a bin; a multiple of the width if null.</param>
    /// <exception cref="ReportException">There are no values, or the width is not above zero.</exception>
    public static Chart Histogram<T>(IEnumerable<T> records, Func<T, double?> value, int? bins = null, double? width = null, double? from = null) => Distributions.Histogram(records, value, bins, width, from);

    /// <summary>The share of values up to each value.</summary>
    /// <param name="records">One record a value.</param>
    /// <param name="value">The value; null is left out.</param>
    /// <param name="group">The group, if there are several.</param>
    /// <exception cref="ReportException">There are no values.</exception>
    public static Chart Cumulative<T>(IEnumerable<T> records, Func<T, double?> value, Func<T, object?>? group = null) => Distributions.Cumulative(records, value, group);

    /// <summary>Boxes from the lower to the upper quartile with the median, whiskers to the last value within 1.5 times that distance, and every value beyond.</summary>
    /// <param name="records">One record a value.</param>
    /// <param name="category">The group's name.</param>
    /// <param name="value">The value; null is left out.</param>
    /// <exception cref="ReportException">There are no values.</exception>
    /// <remarks>Tukey, Exploratory Data Analysis, 1977; quartiles by the seventh rule of Hyndman and Fan, 1996.</remarks>
    public static Chart Boxes<T>(IEnumerable<T> records, Func<T, object?> category, Func<T, double?> value) => Distributions.Boxes(records, category, value);

    /// <summary>Every value as a small dot, a row for each group, with a stroke at the median.</summary>
    /// <inheritdoc cref="Boxes"/>
    public static Chart Strips<T>(IEnumerable<T> records, Func<T, object?> category, Func<T, double?> value) => Distributions.Strips(records, category, value);

    /// <summary>The density of each group's values on both sides of its row, with a stroke at the median. Word processors have no such chart: it is a picture.</summary>
    /// <inheritdoc cref="Boxes"/>
    public static Chart Violins<T>(IEnumerable<T> records, Func<T, object?> category, Func<T, double?> value) => Distributions.Violins(records, category, value);

    /// <summary>The density of values, by a Gaussian kernel with the bandwidth 0.9 · min(s, IQR/1.34) · n^(−1/5).</summary>
    /// <param name="records">One record a value.</param>
    /// <param name="value">The value; null is left out.</param>
    /// <param name="group">The group, if there are several.</param>
    /// <exception cref="ReportException">There are fewer than two different values in a group.</exception>
    /// <remarks>Silverman, Density Estimation, 1986, equation 3.31.</remarks>
    public static Chart Density<T>(IEnumerable<T> records, Func<T, double?> value, Func<T, object?>? group = null) => Distributions.Density(records, value, group);

    /// <summary>Two values of each unit joined by a line: before and after.</summary>
    /// <param name="records">One record a unit.</param>
    /// <param name="name">The unit.</param>
    /// <param name="before">The first value.</param>
    /// <param name="after">The second value.</param>
    /// <param name="beforeName">What the first is, such as a year.</param>
    /// <param name="afterName">What the second is.</param>
    /// <exception cref="ReportException">There are no records, or two of one name.</exception>
    public static Chart Slopes<T>(IEnumerable<T> records, Func<T, object?> name, Func<T, double?> before, Func<T, double?> after, object beforeName, object afterName) =>
        Pairs.Slopes(records, name, before, after, beforeName, afterName);

    /// <summary>From one value to another in a row for each unit: two dots and the line between.</summary>
    /// <param name="records">One record a unit.</param>
    /// <param name="name">The unit.</param>
    /// <param name="from">The first value.</param>
    /// <param name="to">The second value.</param>
    /// <param name="fromName">What the first is.</param>
    /// <param name="toName">What the second is.</param>
    /// <exception cref="ReportException">There are no records, or two of one name.</exception>
    public static Chart Ranges<T>(IEnumerable<T> records, Func<T, object?> name, Func<T, double?> from, Func<T, double?> to, object fromName, object toName) =>
        Pairs.Ranges(records, name, from, to, fromName, toName);

    /// <summary>The parts of a whole as one bar.</summary>
    /// <param name="records">One record a part.</param>
    /// <param name="part">Its name.</param>
    /// <param name="value">Its amount; none may be negative.</param>
    /// <exception cref="ReportException">There are no records, or an amount is negative.</exception>
    public static Chart Parts<T>(IEnumerable<T> records, Func<T, object?> part, Func<T, double?> value) => Wholes.Parts(records, part, value);

    /// <summary>The parts of a whole as slices, for those who must; a bar of parts is read more exactly.</summary>
    /// <inheritdoc cref="Parts"/>
    public static Chart Pie<T>(IEnumerable<T> records, Func<T, object?> part, Func<T, double?> value) => Wholes.Pie(records, part, value, 0);

    /// <summary>The parts of a whole as slices of a ring.</summary>
    /// <inheritdoc cref="Parts"/>
    public static Chart Ring<T>(IEnumerable<T> records, Func<T, object?> part, Func<T, double?> value) => Wholes.Pie(records, part, value, 0.58);

    /// <summary>This chart with another one's marks drawn over its own, on its axes.</summary>
    /// <param name="other">The other; of its words only those stay that this chart has not.</param>
    /// <param name="onSecondAxis">Whether its values have an axis of their own at the other side. Readers take two scales for one: two charts are often clearer.</param>
    public Chart Over(Chart other, bool onSecondAxis = false)
    {
        ArgumentNullException.ThrowIfNull(other);
        // What measures something else has a name of its own, by which it can be told apart.
        var areOther = other.ValueAxis.Title.Length > 0 && other.ValueAxis.Title != ValueAxis.Title;
        return this with
        {
            Layers = [.. areOther ? Named(Layers, ValueAxis.Title) : Layers, .. (areOther ? Named(other.Layers, other.ValueAxis.Title) : other.Layers).Select(l => l with { IsOnSecondAxis = l.IsOnSecondAxis || onSecondAxis })],
            BaseAxis = BaseAxis.Title.Length > 0 ? BaseAxis : BaseAxis with { Title = other.BaseAxis.Title },
            ValueAxis = onSecondAxis || ValueAxis.Title.Length > 0 ? ValueAxis : ValueAxis with { Title = other.ValueAxis.Title },
            SecondAxis = onSecondAxis ? other.ValueAxis : SecondAxis,
            References = [.. References, .. onSecondAxis ? [] : other.References],
            Notes = [.. Notes, .. other.Notes],
            Remarks = [.. Remarks, .. other.Remarks, .. onSecondAxis ? [SecondScale] : Array.Empty<Diagnostic>()],
        };
    }

    private static IEnumerable<ChartLayer> Named(ImmutableArray<ChartLayer> layers, string name) =>
        layers.Select(l => l with { Series = [.. l.Series.Select(s => s.Name is null or "" ? s with { Name = name } : s)] });

    private static Diagnostic SecondScale { get; } = Diagnostic.Warning(null, "a chart has a second value axis, whose crossings with the first mean nothing", "two charts above each other are often clearer");

    /// <summary>The same chart with axis titles.</summary>
    /// <param name="baseTitle">What the names, dates or numbers are by which it is compared; empty for no title.</param>
    /// <param name="valueTitle">What the values are, with their unit.</param>
    public Chart Axes(string baseTitle, string valueTitle) => this with { BaseAxis = BaseAxis with { Title = baseTitle }, ValueAxis = ValueAxis with { Title = valueTitle } };

    /// <summary>The same chart with limits and ticks of its value axis.</summary>
    /// <param name="from">Where it begins.</param>
    /// <param name="to">Where it ends.</param>
    /// <param name="step">The distance of its ticks.</param>
    /// <exception cref="ReportException">The limits are not in order, or the step is not above zero.</exception>
    public Chart ValueScale(double? from = null, double? to = null, double? step = null) => this with { ValueAxis = Limited(ValueAxis, from, to, step) };

    /// <summary>The same chart with limits and ticks of its base, where that is of numbers.</summary>
    /// <inheritdoc cref="ValueScale"/>
    public Chart BaseScale(double? from = null, double? to = null, double? step = null) => this with { BaseAxis = Limited(BaseAxis, from, to, step) };

    /// <summary>The same chart with a logarithmic value axis, for ratios and for values over several powers of ten; the base too if asked for.</summary>
    /// <exception cref="ReportException">A value is not above zero.</exception>
    public Chart Logarithmic(bool baseToo = false)
    {
        var chart = this with { ValueAxis = ValueAxis with { IsLogarithmic = true }, BaseAxis = BaseAxis with { IsLogarithmic = BaseAxis.IsLogarithmic || baseToo } };
        foreach (var point in Layers.SelectMany(l => l.Series).SelectMany(s => s.Points))
        {
            if (point.Value <= 0 || point.Lower <= 0 || point.Upper <= 0)
                throw Refused($"a logarithmic axis cannot show {ValueFormatter.Format(new[] { point.Value, point.Lower, point.Upper }.First(v => v <= 0), null, Language.Current)}", "leave such values out, or take a linear axis");
        }
        return chart;
    }

    private static ChartAxis Limited(ChartAxis axis, double? from, double? to, double? step) =>
        from >= to ? throw Refused($"an axis cannot run from {from} to {to}", "give the lower limit first")
        : step <= 0 ? throw Refused("the distance of ticks must be above zero", "give a step above zero, or none")
        : axis with { Minimum = from ?? axis.Minimum, Maximum = to ?? axis.Maximum, Step = step ?? axis.Step };

    /// <summary>The same chart with a number format for its values, in labels, along the axis and in its workbook.</summary>
    /// <param name="format">Any format of a sentence, such as <c>0.0</c>, <c>N1</c>, <c>percent 1</c> or <c>number 1 | unit kg</c>.</param>
    /// <exception cref="ReportException">The format is unknown, or not one for one of the values.</exception>
    public Chart Format(string format)
    {
        ArgumentNullException.ThrowIfNull(format);
        try
        {
            ValueFormatter.Check(Layers.SelectMany(l => l.Series).SelectMany(s => s.Points).Select(p => (object?)p.Value), format);
            return this with { ValueAxis = ValueAxis with { Format = format } };
        }
        catch (ValueFormatException problem)
        {
            throw new ReportException([Diagnostic.Error(null, problem.Message, problem.Suggestion)], problem);
        }
    }

    /// <summary>The same chart with a format for the dates or numbers along its base.</summary>
    /// <param name="format">Such as <c>MMM yyyy</c> or <c>0.0</c>.</param>
    public Chart BaseFormat(string format) => this with { BaseAxis = BaseAxis with { Format = format } };

    /// <summary>The same chart with its values written at their marks.</summary>
    public Chart WithValues() => this with { ShowsValues = true };

    /// <summary>The same chart with a mark at each value of its lines.</summary>
    public Chart WithPoints() => this with { Layers = [.. Layers.Select(l => l.Mark is ChartMark.Lines or ChartMark.Steps ? l with { HasPoints = true } : l)] };

    /// <summary>The same chart with the series on top of each other.</summary>
    public Chart Stacked() => this with { Stacking = Stacking.Sums };

    /// <summary>The same chart with the series on top of each other as shares of their sum.</summary>
    /// <exception cref="ReportException">A value is negative.</exception>
    public Chart AsShares() => Layers.SelectMany(l => l.Series).SelectMany(s => s.Points).Any(p => p.Value < 0)
        ? throw Refused("shares cannot be shown of negative values", "leave such values out, or show the values themselves")
        : this with { Stacking = Stacking.Shares, ValueAxis = ValueAxis with { Format = ValueAxis.Format ?? "percent 0" } };

    /// <summary>The same chart with its names in the order of their values, the greatest first.</summary>
    /// <param name="ascending">Whether the least comes first instead.</param>
    public Chart Sorted(bool ascending = false)
    {
        var sums = Layers[0].Series.SelectMany(s => s.Points).GroupBy(p => p.At).Select(g => (g.Key, Sum: g.Sum(p => p.Value ?? 0))).ToArray();
        return InOrder([.. (ascending ? sums.OrderBy(s => s.Sum) : sums.OrderByDescending(s => s.Sum)).Select(s => s.Key!)]);
    }

    /// <summary>The same chart with its names in a given order; those that are not given follow in their own.</summary>
    public Chart InOrder(params object[] names)
    {
        var places = names.Select((n, i) => (n, i)).DistinctBy(p => p.n).ToDictionary(p => p.n, p => p.i);
        ImmutableArray<ChartPoint> Ordered(ImmutableArray<ChartPoint> points) => [.. points.OrderBy(p => p.At is { } at && places.TryGetValue(at, out var place) ? place : int.MaxValue)];
        return this with { Layers = [.. Layers.Select(l => l with { Series = [.. l.Series.Select(s => s with { Points = Ordered(s.Points) })] })] };
    }

    /// <summary>The same chart with a line across it at a value.</summary>
    public Chart ReferenceLine(double value, string words = "") => this with { References = References.Add(new ReferenceMark(value, null, words, false)) };

    /// <summary>The same chart with a shaded span from one value to another.</summary>
    public Chart ReferenceSpan(double from, double to, string words = "") => this with { References = References.Add(new ReferenceMark(from, to, words, false)) };

    /// <summary>The same chart with a line at a place of its base.</summary>
    public Chart LineAt(object at, string words = "") => this with { References = References.Add(new ReferenceMark(at, null, words, true)) };

    /// <summary>The same chart with a shaded span between two places of its base.</summary>
    public Chart SpanAt(object from, object to, string words = "") => this with { References = References.Add(new ReferenceMark(from, to, words, true)) };

    /// <summary>The same chart with words at a point.</summary>
    /// <param name="at">The point's place along the base.</param>
    /// <param name="words">What they say.</param>
    /// <param name="series">The name of its series; the first if null.</param>
    public Chart NoteAt(object at, string words, object? series = null) => this with { Notes = Notes.Add(new ChartNote(at, series, words)) };

    /// <summary>The same chart with some names or series standing out, while the others are muted.</summary>
    public Chart Highlight(params object[] names) => this with { Highlighted = [.. names] };

    /// <summary>The same chart with colours of its own, one for each series.</summary>
    /// <param name="colours">As <c>#RRGGBB</c>.</param>
    /// <exception cref="ReportException">One is not a colour.</exception>
    public Chart Colours(params string[] colours) => colours.FirstOrDefault(c => !System.Text.RegularExpressions.Regex.IsMatch(c, "^#[0-9A-Fa-f]{6}$")) is { } wrong
        ? throw Refused($"`{wrong}` is not a colour", "write it as `#RRGGBB`, such as `#B4642D`")
        : this with { Palette = [.. colours] };

    /// <summary>The same chart with a line above it.</summary>
    public Chart Under(string subtitle) => this with { Subtitle = subtitle };

    /// <summary>The same chart with the names of its series at another place.</summary>
    public Chart SeriesNames(SeriesLabels labels) => this with { Labels = labels };

    internal static ReportException Refused(string message, string suggestion) => new(Diagnostic.Error(null, message, suggestion));
}
