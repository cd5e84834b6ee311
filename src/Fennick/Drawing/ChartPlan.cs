using System.Collections.Immutable;
using Fennick.Charts;
using Fennick.Formatting;
using Fennick.Styles;

namespace Fennick.Drawing;

/// <summary>By which of the word processor's own charts a chart is drawn.</summary>
internal enum ChartForm
{
    /// <summary>Columns, bars, lines and areas over names or dates.</summary>
    Names,

    /// <summary>Points at pairs of numbers; names stand beside them as words.</summary>
    Points,

    /// <summary>Slices.</summary>
    Slices,
}

/// <summary>What is known of a chart before anything has a place: its names in order, its form, and the colour and shape of each series.</summary>
internal sealed class ChartPlan
{
    private const int MostNumbersAsNames = 40;
    private const double MutedLightness = 0.56;
    private const double FaintLightness = 0.85;

    private readonly HouseDesign design;
    private readonly Dictionary<object, int> places = [];
    private readonly Dictionary<string, int> seriesPlaces = [];
    private readonly HashSet<string> highlighted;

    public ChartPlan(Chart chart, HouseDesign design, Language language)
    {
        (Chart, this.design, Language) = (chart, design, language);
        highlighted = [.. chart.Highlighted.Select(h => ChartWords.Of(h, null, language))];
        var points = chart.Layers.SelectMany(l => l.Series).SelectMany(s => s.Points).ToArray();
        IsOfDates = points.Length > 0 && points.All(p => BaseValue.IsDate(p.At));
        var marks = chart.Layers.Select(l => l.Mark).ToHashSet();
        var isOfNumbers = points.Length > 0 && points.All(p => BaseValue.IsNumber(p.At)) && chart.LiesOnSide != true && !marks.Contains(ChartMark.Columns) && !marks.Overlaps([ChartMark.Boxes, ChartMark.Violins]) && !marks.Contains(ChartMark.Slices);
        Keys = FindKeys(isOfNumbers);
        if (isOfNumbers && !IsOfDates && !marks.Overlaps([ChartMark.Points, ChartMark.Steps]) && AreEquallySpaced()) isOfNumbers = false;
        IsOfNumbers = isOfNumbers;
        IsOnSide = chart.LiesOnSide == true;
        Names = [.. Keys.Select(k => ChartWords.Of(k, chart.BaseAxis.Format, language))];
        var hasTimes = IsOfDates && points.Any(p => BaseValue.Number(p.At) % 1 != 0);
        var isDateOutside = IsOfDates && chart.References.Any(r => r.IsAtBase && !places.ContainsKey(r.From));
        Form = marks.Contains(ChartMark.Slices) ? ChartForm.Slices
            : marks.Contains(ChartMark.Columns) && marks.IsSubsetOf([ChartMark.Columns, ChartMark.Lines, ChartMark.Points, ChartMark.Intervals, ChartMark.Dashes, ChartMark.Areas]) && (!IsOnSide || !DrawsAcross) ? ChartForm.Names
            : IsOnSide || marks.Contains(ChartMark.Steps) || hasTimes || isDateOutside || (isOfNumbers && (!IsOfDates || marks.Contains(ChartMark.Points))) || marks.Overlaps([ChartMark.Boxes, ChartMark.Violins]) || chart.Layers.Any(l => l.IsFaint && l.Mark == ChartMark.Points) ? ChartForm.Points : ChartForm.Names;
        // What names nothing mutes nothing: the writer is told.
        highlighted.IntersectWith(Names.Concat(chart.Layers.SelectMany(l => l.Series).Select(NameOf)));
        foreach (var series in chart.Layers.OrderBy(l => l.IsPartOfAnother).SelectMany(l => l.Series)) seriesPlaces.TryAdd(NameOf(series), seriesPlaces.Count);
    }

    public Chart Chart { get; }

    public Language Language { get; }

    /// <summary>What stands along the base, in order.</summary>
    public ImmutableArray<object?> Keys { get; }

    /// <summary>The words for it.</summary>
    public ImmutableArray<string> Names { get; }

    public ChartForm Form { get; }

    /// <summary>Whether the names stand down the side.</summary>
    public bool IsOnSide { get; set; }

    /// <summary>Whether the base is a scale of numbers or dates.</summary>
    public bool IsOfNumbers { get; }

    /// <summary>Whether the base is of dates.</summary>
    public bool IsOfDates { get; }

    /// <summary>Whether lines, dots or limits lie over bars, for which the word processor's bars have no room.</summary>
    private bool DrawsAcross => Chart.Stacking == Stacking.None && (!Chart.References.IsEmpty || Chart.Layers.Any(l => l.Mark is not (ChartMark.Columns or ChartMark.Intervals)));

    /// <summary>The names of the series that a reader must be told, in the order of their layers.</summary>
    public IEnumerable<ChartSeries> NamedSeries => Chart.Layers.Where(l => !l.IsPartOfAnother).SelectMany(l => l.Series).Where(s => NameOf(s).Length > 0).DistinctBy(NameOf);

    /// <summary>The place of a key; −1 if it has none.</summary>
    public int PlaceOf(object? key) => places.GetValueOrDefault(key ?? "", -1);

    /// <summary>The name of a series in the report's language; empty if it has none.</summary>
    public string NameOf(ChartSeries series) => series.Name is null or "" ? "" : ChartWords.Of(series.Name, null, Language);

    /// <summary>The place of a series among all.</summary>
    public int PlaceOf(ChartSeries series) => seriesPlaces[NameOf(series)];

    /// <summary>How many series there are.</summary>
    public int SeriesCount => seriesPlaces.Count;

    /// <summary>Whether any names or series stand out.</summary>
    public bool Highlights => highlighted.Count > 0;

    /// <summary>Whether any names stand out.</summary>
    public bool HighlightsNames => Names.Any(highlighted.Contains);

    /// <summary>Whether a series is one of those that stand out.</summary>
    public bool StandsOut(ChartSeries series) => highlighted.Contains(NameOf(series));

    /// <summary>Whether a name is one of those that stand out.</summary>
    public bool StandsOut(string name) => highlighted.Contains(name);

    /// <summary>The colour of a series.</summary>
    public DrawnColour ColourOf(ChartSeries series)
    {
        if (highlighted.Count == 0) return ColourAt(PlaceOf(series));
        var named = Chart.Layers.SelectMany(l => l.Series).Select(NameOf).Distinct().Where(highlighted.Contains).ToList();
        return named.IndexOf(NameOf(series)) is >= 0 and var place ? ColourAt(place) : Muted;
    }

    /// <summary>The colour at a place of the palette.</summary>
    public DrawnColour ColourAt(int place)
    {
        if (!Chart.Palette.IsEmpty) return new DrawnColour(Colour.Parse(Chart.Palette[place % Chart.Palette.Length])!.Value);
        var colour = SeriesPalette.Of(design)[place % SeriesPalette.Count];
        return new DrawnColour(colour.Seen, colour.Accent, colour.Modulation, colour.Offset);
    }

    /// <summary>The colour of a series, dark enough for words.</summary>
    public DrawnColour WordsOf(ChartSeries series)
    {
        var colour = ColourOf(series);
        if (Colour.Contrast(colour.Rgb, Colour.White) >= 4.5) return colour;
        var dark = colour.Rgb.ReadableOn(Colour.White);
        if (colour.Theme is not { } theme) return new DrawnColour(dark);
        var form = SeriesColour.Of(theme, Colour.Parse(design.Colours[theme])!.Value, dark.Lightness, 0);
        return new DrawnColour(form.Seen, theme, form.Modulation, form.Offset);
    }

    /// <summary>The colour of words on a fill.</summary>
    public DrawnColour InkOn(DrawnColour fill) => Colour.Contrast(fill.Rgb, Colour.White) >= Colour.Contrast(fill.Rgb, Ink.Rgb) ? Paper : Ink;

    /// <summary>The grey of what does not stand out.</summary>
    public DrawnColour Muted => Grey(MutedLightness);

    /// <summary>The grey of lines that help the eye.</summary>
    public DrawnColour Faint => Grey(FaintLightness);

    private DrawnColour Grey(double lightness)
    {
        var form = SeriesColour.Of(ThemeColour.Text, Colour.Parse(design.Colours[ThemeColour.Text])!.Value, lightness, 0);
        return new DrawnColour(form.Seen, ThemeColour.Text, form.Modulation, form.Offset);
    }

    /// <summary>The colour of words.</summary>
    public DrawnColour Ink => new(Colour.Parse(design.Colours[ThemeColour.Text])!.Value, ThemeColour.Text);

    /// <summary>The colour of the paper.</summary>
    public static DrawnColour Paper { get; } = new(Colour.White, ThemeColour.Background);

    /// <summary>The shape of a series' marks.</summary>
    public MarkShape ShapeOf(ChartSeries series) => (PlaceOf(series) % 4) switch { 0 => MarkShape.Circle, 1 => MarkShape.Diamond, 2 => MarkShape.Square, _ => MarkShape.Triangle };

    private ImmutableArray<object?> FindKeys(bool isSorted)
    {
        // Columns without series may have the same name twice: each record has its own.
        if (Chart.Layers.FirstOrDefault(l => l.Mark is ChartMark.Columns or ChartMark.Slices) is { Series: [{ } only] } && only.Points.Select(p => p.At ?? "").Distinct().Count() < only.Points.Length)
        {
            for (var i = 0; i < only.Points.Length; i++) places.TryAdd(only.Points[i].At ?? "", i);
            IsByRecord = true;
            return [.. only.Points.Select(p => p.At)];
        }
        var keys = new List<object?>();
        foreach (var point in Chart.Layers.SelectMany(l => l.Series).SelectMany(s => s.Points))
        {
            if (places.TryAdd(point.At ?? "", keys.Count)) keys.Add(point.At);
        }
        if (isSorted || (IsOfDates && keys.Count > 0))
        {
            keys = [.. keys.OrderBy(BaseValue.Number)];
            for (var i = 0; i < keys.Count; i++) places[keys[i]!] = i;
        }
        return [.. keys];
    }

    /// <summary>Whether each record has a place of its own, whatever its name.</summary>
    public bool IsByRecord { get; private set; }

    private bool AreEquallySpaced()
    {
        if (Keys.Length > MostNumbersAsNames || Chart.BaseAxis is { Minimum: not null } or { Maximum: not null } or { IsLogarithmic: true }) return false;
        double[] numbers = [.. Keys.Select(BaseValue.Number)];
        return numbers.Length < 2 || (numbers.All(n => n == Math.Truncate(n)) && numbers.Zip(numbers.Skip(1)).All(p => p.Second - p.First == numbers[1] - numbers[0]));
    }
}
