using System.Collections.Immutable;
using Fennick.Charts;
using Fennick.Formatting;
using Fennick.Pictures;
using Fennick.Styles;

namespace Fennick.Drawing;

/// <summary>Gives everything in a chart its place: words get room first, and what is left is for the data.</summary>
internal sealed class ChartDrawer
{
    // How much smaller words in charts are than those of the text, in points.
    private const double Smaller = 1;
    private const double LeastSize = 7;
    private const double Space = 5;
    private const double KeyWidth = 14;
    private const double EntrySpace = 16;
    private const double MostNames = 0.42;
    private const double MostEnds = 0.36;
    private const int MostLinesOfName = 3;
    private const int MostEndLabels = 8;

    // What a figure leaves of a page for its caption.
    private const double MostOfPage = 0.9;

    private readonly Chart chart;
    private readonly IStyleBook house;
    private readonly Language language;
    private readonly ChartText text;
    private readonly double width;
    private double height;
    private readonly ChartPlan plan;

    private ChartDrawer(Chart chart, Length width, Length height, IStyleBook house, Language language)
    {
        chart = chart.In(language);
        (this.chart, this.house, this.language, this.width, this.height) = (chart, house, language, width.Points, height.Points);
        text = new ChartText(house.Face(StyleRole.TableText), SizeIn(house));
        plan = new ChartPlan(chart, house.Design, language);
        if (chart.LiesOnSide is null && MayLieOnSide() && !NamesFitBelow()) plan.IsOnSide = true;
    }

    /// <summary>Draws a chart.</summary>
    /// <param name="chart">The chart.</param>
    /// <param name="width">Its width.</param>
    /// <param name="height">Its height; null for the usual one, or the one that its rows need.</param>
    /// <param name="usual">The height of figures.</param>
    /// <param name="house">The house that it is drawn in.</param>
    /// <param name="language">The language of its words and numbers.</param>
    public static ChartDrawing Draw(Chart chart, Length width, Length? height, Length usual, IStyleBook house, Language language)
    {
        var drawer = new ChartDrawer(chart, width, height ?? usual, house, language);
        // Names down the side need room for each; a height that has none for them gives way.
        if (drawer.plan.IsOnSide) drawer.height = Math.Max(drawer.HeightOfRows(), height?.Points ?? 0);
        else if (height is null && drawer.plan.Form == ChartForm.Slices) drawer.height = Math.Min(usual.Points, width.Points * 0.45);
        return drawer.Draw();
    }

    /// <summary>What a figure that draws itself needs to know, so that it looks as the charts do.</summary>
    public static FigureFrame FrameOf(IStyleBook house, Length width, Length height, int dotsPerInch, IPictureTools? tools)
    {
        var family = house.Design.TableFamily ?? house.Design.HeadingFamily;
        return new FigureFrame(width, height, dotsPerInch, [.. new[] { family, FontAlternatives.TwinOf(family) }.OfType<string>()], SizeIn(house), house.Design.Colours[ThemeColour.Text], [.. SeriesPalette.Of(house.Design).Select(c => c.Seen.ToString())]) { Tools = tools };
    }

    private static double SizeIn(IStyleBook house) => Math.Max(LeastSize, house.Style(StyleRole.Body).Points - Smaller);

    private bool MayLieOnSide() => chart.Layers.All(l => l.Mark is ChartMark.Columns or ChartMark.Intervals) || chart.Layers.Any(l => l.Mark is ChartMark.Boxes or ChartMark.Violins);

    /// <summary>Whether the names find room below columns, on a few lines.</summary>
    private bool NamesFitBelow()
    {
        if (plan.Form == ChartForm.Names && plan.IsOfDates) return true;
        if (plan.Names.Length == 0 || plan.Keys.Any(k => k is Bin)) return true;
        var room = (width * 0.92 / plan.Names.Length) - 3;
        return plan.Names.All(n => text.WidestWord(n) <= room && text.Lines(n, room).Count <= MostLinesOfName - 1);
    }

    /// <summary>The height that rows of names need, up to that of a page.</summary>
    private double HeightOfRows()
    {
        var room = (width * MostNames) - Space;
        var beside = chart.Stacking == Stacking.None && chart.Layers.Any(l => l.Mark == ChartMark.Columns || (l is { Mark: ChartMark.Intervals, IsFaint: false } && plan.SeriesCount > 1)) ? plan.SeriesCount : 1;
        var rows = plan.Names is [{ Length: 0 }] ? 3 * text.Line : plan.Names.Sum(n => Math.Max(text.Lines(n, room).Count + 0.7, (beside * 0.85) + 0.85)) * text.Line;
        return Math.Min(rows + HeadHeight() + (2.2 * text.Line), house.Page.TextHeight.Points * MostOfPage);
    }

    private ChartDrawing Draw()
    {
        var top = 0.0;
        DrawnText? subtitle = null;
        if (chart.Subtitle.Length > 0)
        {
            subtitle = new DrawnText(chart.Subtitle, 0, 0, width);
            top += text.Lines(chart.Subtitle, width).Count * text.Line * 1.1;
        }
        var values = new ValueScale(plan, language, chart.Layers.Where(l => !l.IsOnSecondAxis), chart.ValueAxis, withReferences: true);
        if (plan.Form == ChartForm.Slices)
        {
            var keys = chart.Hole > 0 ? LegendOf(plan.Names, ref top) : [];
            return new SlicesDrawing(plan, text, language).Draw(new Frame(width, height, new Area(0, top + (text.Line * 0.5), width, height - top - text.Line), subtitle, keys, null, null, null), house);
        }
        var valueTitle = TitleAt(chart.ValueAxis.Title, ref top, out var valueTop);
        var ends = EndLabels();
        var legend = ends is null ? Legend(ref top) : [];
        if (top > 0) top += Space;
        var second = chart.Layers.Any(l => l.IsOnSecondAxis) ? new ValueScale(plan, language, chart.Layers.Where(l => l.IsOnSecondAxis), chart.SecondAxis, withReferences: false) : null;
        return plan.IsOnSide ? DrawOnSide() : DrawUpright();

        ChartDrawing DrawUpright()
        {
            var bottomTitle = chart.BaseAxis.Title.Length > 0 ? text.Line + 2 : 0;
            var above = chart.ShowsValues ? text.Line : chart.References.Any(r => r.IsAtBase && r.Words.Length > 0) || chart.Notes.Length > 0 ? text.Line * 1.1 : text.Line * 0.4;
            var up = values.Fit(Math.Max(2, (int)((height - top - above - bottomTitle - (2 * text.Line)) / (text.Line * 2.4))));
            var other = second?.Fit(Math.Max(2, up.Count));
            var tickWidth = values.ShowsTicks ? up.Words.Max(w => text.Width(w.Words)) + Space : 0;
            var right = (ends?.Width ?? 0) + (other is null ? 0 : other.Words.Max(w => text.Width(w.Words)) + Space);
            var reference = chart.References.Where(r => !r.IsAtBase && r.Words.Length > 0).Select(r => text.WidestWord(r.Words) is var w ? Math.Max(w, Math.Min(text.Width(r.Words), width * 0.2)) + Space : 0).DefaultIfEmpty(0).Max();
            right = Math.Max(right, reference);
            var left = Math.Max(tickWidth, ends is { HasLeft: true } ? ends.Left : 0);
            var across = new BaseScale(plan, text, chart.BaseAxis).Fit(width - left - right, isOnSide: false);
            if (across.OverhangsLeft > left) left = Math.Min(across.OverhangsLeft, width * 0.2);
            if (across.OverhangsRight > right) right = Math.Min(across.OverhangsRight + 2, width * 0.2);
            var plot = new Area(left, top + above, width - left - right, Math.Max(text.Line, height - top - above - bottomTitle - (across.HasLabels ? (across.Lines * text.Line) + Space : Space)));
            var title = chart.BaseAxis.Title.Length > 0 && text.Width(chart.BaseAxis.Title) is var w ? new DrawnText(chart.BaseAxis.Title, Math.Max(0, Math.Min(plot.Left + ((plot.Width - w) / 2), width - w)), height - text.Line, w) : null;
            var frame = new Frame(width, height, plot, subtitle, legend, valueTitle is null ? null : new DrawnText(chart.ValueAxis.Title, 0, valueTop, text.Width(chart.ValueAxis.Title)), title, second is null || chart.SecondAxis.Title.Length == 0 ? null : new DrawnText(chart.SecondAxis.Title, width - text.Width(chart.SecondAxis.Title), valueTop, text.Width(chart.SecondAxis.Title)))
            {
                Values = up,
                Second = other,
                Base = across,
                ShowsTicks = values.ShowsTicks,
                EndsAt = ends?.Placed(plot, up, text.Line),
                BeginsAt = ends is { HasLeft: true } ? ends.PlacedLeft(plot, up, text.Line) : null,
            };
            return Drawing(frame);
        }

        ChartDrawing DrawOnSide()
        {
            var names = new BaseScale(plan, text, chart.BaseAxis).Fit(width * MostNames, isOnSide: true);
            var left = Math.Min(width * MostNames, names.WidthOfNames) + (names.WidthOfNames > 0 ? 3 * Space : 0);
            var labels = chart.ShowsValues && chart.Stacking == Stacking.None ? values.WidestLabel(text) + Space : 0;
            var plotWidth = width - left - labels;
            var up = values.Fit(Math.Max(2, (int)(plotWidth / (values.WidestTick(text) + (2.5 * text.Points)))));
            var overhang = values.ShowsTicks ? text.Width(up.Words[^1].Words) / 2 : 0;
            plotWidth = width - left - Math.Max(labels, overhang + 1);
            var below = values.ShowsTicks ? text.Line + Space : Space * 0.5;
            var above = chart.References.Any(r => !r.IsAtBase && r.Words.Length > 0) ? text.Line : 0;
            var plot = new Area(left, top + above, plotWidth, Math.Max(text.Line, height - top - above - below));
            var shift = Math.Max(0, Math.Min(left, width - text.Width(chart.ValueAxis.Title)));
            var hasBoth = chart.BaseAxis.Title.Length > 0 && chart.ValueAxis.Title.Length > 0 && text.Width(chart.BaseAxis.Title) + EntrySpace > shift;
            var frame = new Frame(width, height, plot, subtitle, legend,
                valueTitle is null ? null : new DrawnText(chart.ValueAxis.Title, shift, valueTop, text.Width(chart.ValueAxis.Title)),
                chart.BaseAxis.Title.Length == 0 || hasBoth ? null : new DrawnText(chart.BaseAxis.Title, 0, valueTop, text.Width(chart.BaseAxis.Title)), null)
            {
                Values = up,
                Base = names,
                ShowsTicks = values.ShowsTicks,
            };
            return Drawing(frame);
        }
    }

    private ChartDrawing Drawing(Frame frame) => (plan.Form == ChartForm.Names ? (FormDrawing)new NamesDrawing(plan, text, language) : new PointsDrawing(plan, text, language)).Draw(frame, house);

    private double HeadHeight()
    {
        var top = chart.Subtitle.Length > 0 ? text.Lines(chart.Subtitle, width).Count * text.Line * 1.1 : 0;
        _ = TitleAt(chart.ValueAxis.Title, ref top, out _);
        _ = Legend(ref top);
        return top + Space;
    }

    private string? TitleAt(string title, ref double top, out double at)
    {
        at = top;
        if (title.Length == 0 && !(plan.IsOnSide && chart.BaseAxis.Title.Length > 0)) return null;
        top += text.Line;
        return title.Length == 0 ? null : title;
    }

    /// <summary>The names of the series in rows above the data.</summary>
    private ImmutableArray<DrawnText> Legend(ref double top)
    {
        var names = plan.NamedSeries.Select(plan.NameOf).ToArray();
        if (chart.Labels == SeriesLabels.None || names.Length == 0 || (names.Length == 1 && chart.Layers.Length == 1 && chart.Labels != SeriesLabels.Legend)) return [];
        return LegendOf(names, ref top);
    }

    private ImmutableArray<DrawnText> LegendOf(IEnumerable<string> names, ref double top)
    {
        var entries = ImmutableArray.CreateBuilder<DrawnText>();
        var left = 0.0;
        top += 2;
        foreach (var name in names)
        {
            var own = KeyWidth + text.Width(name) + EntrySpace;
            if (left > 0 && left + own - EntrySpace > width)
            {
                left = 0;
                top += text.Line;
            }
            entries.Add(new DrawnText(name, left, top, own));
            left += own;
        }
        top += text.Line;
        return entries.ToImmutable();
    }

    /// <summary>The names at the ends of lines; null if they have no room there, or lines are not all.</summary>
    private EndLabels? EndLabels()
    {
        var layers = chart.Layers.Where(l => !l.IsPartOfAnother).ToArray();
        if (chart.Labels is SeriesLabels.Legend or SeriesLabels.None || layers.Any(l => l.Mark is not (ChartMark.Lines or ChartMark.Steps)) || layers.Any(l => l.IsOnSecondAxis)) return null;
        var series = plan.NamedSeries.ToArray();
        if (series.Length == 0 || (chart.Labels == SeriesLabels.Chosen && series.Length is 1 or > MostEndLabels)) return null;
        var ends = new EndLabels(plan, text, language, series);
        return ends.Width <= width * MostEnds && (chart.Labels == SeriesLabels.AtEnds || ends.HaveRoom(height * 0.7)) ? ends : null;
    }
}

/// <summary>Where the parts of a chart stand.</summary>
internal sealed record Frame(double Width, double Height, Area Plot, DrawnText? Subtitle, ImmutableArray<DrawnText> Legend, DrawnText? ValueTitle, DrawnText? BaseTitle, DrawnText? SecondTitle)
{
    public FittedValues? Values { get; init; }

    public FittedValues? Second { get; init; }

    public FittedBase? Base { get; init; }

    public bool ShowsTicks { get; init; } = true;

    /// <summary>How far the name of each series is moved down from the end of its line, by its place; null if it does not stand there.</summary>
    public IReadOnlyDictionary<int, double>? EndsAt { get; init; }

    /// <summary>How far the value at the beginning of each line is moved down; null if none stands there.</summary>
    public IReadOnlyDictionary<int, double>? BeginsAt { get; init; }
}
