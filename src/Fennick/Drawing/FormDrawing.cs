using System.Collections.Immutable;
using Fennick.Charts;
using Fennick.Formatting;
using Fennick.Styles;

namespace Fennick.Drawing;

/// <summary>Draws one form of charts in its frame: the series with their colours, words and columns of data.</summary>
internal abstract class FormDrawing(ChartPlan plan, ChartText text, Language language)
{
    // How opaque spans and bands are, which lie over or under data.
    protected const double SpanOpacity = 0.16;
    protected const double LinePoints = 2;
    protected const double ThinPoints = 1;
    protected const int Dots = 7;
    protected const int SmallDots = 4;

    // What the words of a value and the space before them take, beside their letters.
    private const double SpaceOfLabel = 6;

    private readonly List<DataColumn> columns = [];

    protected ChartPlan Plan => plan;

    protected Chart Chart => plan.Chart;

    protected ChartText Text => text;

    protected Language Language => language;

    protected List<DrawnSeries> Series { get; } = [];

    /// <summary>The finished drawing.</summary>
    public abstract ChartDrawing Draw(Frame frame, IStyleBook house);

    /// <summary>Which words at the ends of bars and columns stand inside them, so that no reference line strikes any through: none, all, or those that must.</summary>
    protected bool[] StandInside(IReadOnlyList<(double? Value, string Words)> labels, Frame frame)
    {
        var scale = frame.Values!;
        var lines = Chart.References.Where(r => r is { IsAtBase: false, To: null }).Select(r => scale.Share(ValueFormatter.ToDouble(r.From))).ToArray();
        var (room, zero) = (Plan.IsOnSide ? frame.Plot.Width : frame.Plot.Height, scale.Share(scale.Crossing));
        var (isStruck, isClearInside) = (new bool[labels.Count], new bool[labels.Count]);
        foreach (var (i, (value, words)) in labels.Index())
        {
            isClearInside[i] = value is null;
            if (value is not { } number) continue;
            var (end, length) = (scale.Share(number), (Plan.IsOnSide ? Text.Width(words) + SpaceOfLabel : Text.Line + (SpaceOfLabel / 2)) / room);
            if (number < 0) length = -length;
            isStruck[i] = lines.Any(l => (l - end) / length is > 0 and < 1);
            isClearInside[i] = Math.Abs(end - zero) > Math.Abs(length) && !lines.Any(l => (end - l) / length is > 0 and < 1);
        }
        return isStruck.All(s => !s) ? isStruck : isClearInside.All(c => c) ? isClearInside : [.. isStruck.Zip(isClearInside, (s, c) => s && c)];
    }

    protected ChartDrawing Finish(Frame frame, IStyleBook house, DrawnAxis? across, DrawnAxis? up, DrawnAxis? second) => new()
    {
        Width = frame.Width,
        Height = frame.Height,
        Plot = frame.Plot,
        Across = across,
        Up = up,
        Second = second,
        IsOnSide = plan.IsOnSide,
        Series = [.. Series],
        Subtitle = frame.Subtitle,
        Legend = frame.Legend,
        Data = DataColumn.WithOwnHeads(columns),
        TextSize = text.Points,
        Family = house.Design.TableFamily ?? house.Design.HeadingFamily,
        Hole = Chart.Hole,
        Language = language,
        Description = ChartDescription.Of(plan),
        Ink = plan.Ink,
        Muted = plan.Muted,
        Faint = plan.Faint,
    };

    /// <summary>Adds a column to the data; the result is its number.</summary>
    protected int Column(string head, IEnumerable<object?> cells, string code = NumberCode.General)
    {
        columns.Add(new DataColumn(head, [.. cells], code));
        return columns.Count - 1;
    }

    /// <summary>What a series is called in the data: by its name, or by what is measured.</summary>
    protected string HeadOf(ChartSeries series) => plan.NameOf(series) is { Length: > 0 } name ? name : Chart.ValueAxis.Title.Length > 0 ? Chart.ValueAxis.Title : "Value";

    /// <summary>Whether the legend, if there is one, names a series.</summary>
    protected bool IsNamed(ChartLayer layer, ChartSeries series, Frame frame) =>
        !layer.IsPartOfAnother && plan.NameOf(series) is { Length: > 0 } name && frame.Legend.Any(l => l.Words == name) && !Series.Any(s => s.IsInLegend && s.Name == name);

    /// <summary>The limits of a series from its values.</summary>
    protected DrawnLimits LimitsOf(string head, ImmutableArray<double?> values, ImmutableArray<(double? Lower, double? Upper)> limits, double points, DrawnColour colour)
    {
        var minus = values.Zip(limits, (v, l) => v is { } value && l.Lower is { } lower ? Clean(value - lower) : (double?)null).ToImmutableArray();
        var plus = values.Zip(limits, (v, l) => v is { } value && l.Upper is { } upper ? Clean(upper - value) : (double?)null).ToImmutableArray();
        return new DrawnLimits(minus, plus, points, colour) { Columns = (Column($"{head} −", minus.Cast<object?>()), Column($"{head} +", plus.Cast<object?>())) };
    }

    /// <summary>A difference without the noise of subtraction.</summary>
    private static double Clean(double number) => double.Parse(number.ToString("G12", System.Globalization.CultureInfo.InvariantCulture), System.Globalization.CultureInfo.InvariantCulture);

    /// <summary>The words of the axis of values.</summary>
    protected static DrawnAxis ValueAxis(FittedValues fitted, DrawnText? title, bool showsTicks) => new(AxisKind.Numbers, fitted.Minimum, fitted.Maximum, fitted.Step)
    {
        Ticks = fitted.Words,
        LogBase = fitted.LogBase,
        Code = fitted.Code,
        Crossing = fitted.Crossing,
        HasLabels = showsTicks,
        HasLines = showsTicks,
        Title = title,
    };

    /// <summary>The dashes of a line where several must be told apart by more than their colour.</summary>
    protected int DashOf(ChartSeries series)
    {
        if (Chart.Labels == SeriesLabels.AtEnds || plan.Highlights || Chart.Layers.Any(l => l.HasPoints)) return 0;
        var lines = Chart.Layers.Where(l => l.Mark is ChartMark.Lines or ChartMark.Steps).SelectMany(l => l.Series).Select(plan.NameOf).Distinct().ToList();
        return lines.Count > 1 ? Math.Max(0, lines.IndexOf(plan.NameOf(series))) % 4 : 0;
    }

    /// <summary>One label for each value, in their order.</summary>
    protected static ImmutableArray<DrawnLabel> Ordered(IEnumerable<DrawnLabel> labels) => [.. labels.OrderBy(l => l.Index).DistinctBy(l => l.Index)];

    /// <summary>What the words of a note stand at, by series and value.</summary>
    protected ImmutableArray<DrawnLabel> NotesOf(ChartSeries series, ImmutableArray<object?> keys)
    {
        var notes = Chart.Notes.Where(n => n.Series is null ? plan.PlaceOf(series) == 0 : ChartWords.Of(n.Series, null, language) == plan.NameOf(series));
        return [.. notes.Select(n => (Note: n, Index: keys.IndexOf(n.At))).Where(n => n.Index >= 0).Select(n => new DrawnLabel(n.Index, n.Note.Words, LabelPlace.Above))];
    }
}
