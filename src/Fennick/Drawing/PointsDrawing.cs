using System.Collections.Immutable;
using Fennick.Charts;
using Fennick.Formatting;
using Fennick.Styles;

namespace Fennick.Drawing;

/// <summary>Draws all that stands at pairs of numbers: points, steps, and rows of names with dots, intervals and boxes.</summary>
internal sealed class PointsDrawing(ChartPlan plan, ChartText text, Language language) : FormDrawing(plan, text, language)
{
    // How far the marks of several series stand apart in one row, as a share of the row.
    private const double Apart = 0.22;
    private const double MostApart = 0.7;
    private const double BoxShare = 0.5;
    private const double ViolinShare = 0.4;
    private const double MostBoxPoints = 26;
    private const double MostBarPoints = 34;

    private Frame frame = null!;
    private bool hasRows;
    private ChartNumbers? numbers;

    public override ChartDrawing Draw(Frame frame, IStyleBook house)
    {
        this.frame = frame;
        hasRows = frame.Base!.Kind == AxisKind.Names;
        var values = frame.Values!;
        var (hasOwnValues, hasOwnBase) = (values.LogBase is not null && frame.ShowsTicks, frame.Base.Kind == AxisKind.Dates || frame.Base.LogBase is not null);
        if (hasOwnValues) AddTicks(values.Words, isAlongValues: true);
        if (hasOwnBase) AddTicks(frame.Base.Words, isAlongValues: false);
        if (hasRows) AddNames();
        AddReferences(values);
        foreach (var layer in Chart.Layers) Add(layer);
        var basis = new DrawnAxis(frame.Base.Kind == AxisKind.Names ? AxisKind.Numbers : frame.Base.Kind, frame.Base.Minimum, frame.Base.Maximum, frame.Base.Step)
        {
            Ticks = frame.Base.Words,
            Code = frame.Base.Code,
            LogBase = frame.Base.LogBase,
            HasLabels = !hasRows && !hasOwnBase,
            HasLine = !hasRows,
            Each = frame.Base.Each,
            Crossing = frame.Base.Minimum,
            Title = frame.BaseTitle,
        };
        var measured = ValueAxis(values, frame.ValueTitle, frame.ShowsTicks && !hasOwnValues) with { Crossing = hasRows || values.LogBase is not null ? values.Minimum : values.Crossing, HasLine = hasOwnValues };
        return Plan.IsOnSide ? Finish(frame, house, measured, basis, null) : Finish(frame, house, basis, measured, null);
    }

    /// <summary>Ticks as words of their own, where readers would put them at other places: along dates and logarithms.</summary>
    private void AddTicks(ImmutableArray<(double At, string Words)> ticks, bool isAlongValues)
    {
        var values = frame.Values!;
        var low = isAlongValues ? frame.Base!.Minimum : values.Minimum;
        var name = isAlongValues ? "Ticks of the values" : "Ticks of the base";
        var isUpright = isAlongValues == Plan.IsOnSide;
        AddPairs(new DrawnSeries(DrawnMark.Point, name, [.. ticks.Select(t => (double?)(isAlongValues ? Inside(t.At) : low))], -1)
        {
            IsHelper = true,
            Labels = [.. ticks.Select((t, i) => new DrawnLabel(i, t.Words, isUpright ? LabelPlace.Below : LabelPlace.Left))],
        }, [.. ticks.Select(t => (double?)(isAlongValues ? low : Inside(t.At)))]);

        // On a logarithm the very edges are lost to rounding.
        double Inside(double at) => (isAlongValues ? values.LogBase : frame.Base!.LogBase) is null ? at : Math.Clamp(at, (isAlongValues ? values.Minimum : low) * 1.000001, (isAlongValues ? values.Maximum : frame.Base!.Maximum) * 0.999999);
    }

    /// <summary>The names as words at points on the edge.</summary>
    private void AddNames()
    {
        if (Plan.Names.All(n => n.Length == 0)) return;
        var head = Chart.BaseAxis.Title.Length > 0 ? Chart.BaseAxis.Title : "Name";
        _ = Column(head, Plan.Names);
        var edge = Enumerable.Repeat((double?)(frame.Values!.LogBase is null ? frame.Values.Minimum : frame.Values.Minimum * 1.000001), Plan.Names.Length).ToImmutableArray();
        var rows = Plan.Names.Select((_, i) => Place(i)).ToArray();
        AddPairs(new DrawnSeries(DrawnMark.Point, head, edge, -1)
        {
            IsHelper = true,
            Labels = [.. frame.Base!.Wrapped.Select((w, i) => new DrawnLabel(i, w, Plan.IsOnSide ? LabelPlace.Left : LabelPlace.Below) { Bold = Plan.Keys[i] is RowName { IsHeading: true } || (Plan.Highlights && Plan.StandsOut(Plan.Names[i])) })],
        }, [.. rows.Select(r => (double?)r)]);
    }

    /// <summary>Where a name's row or column stands: the first at the top, or at the left.</summary>
    private double Place(int index) => Plan.IsOnSide ? Plan.Names.Length - index : index + 1;

    private void Add(ChartLayer layer)
    {
        var limits = Chart.Layers.FirstOrDefault(l => l is { Mark: ChartMark.Intervals, IsPartOfAnother: true } && !ReferenceEquals(l, layer) && l.Series.SequenceEqual(layer.Series));
        if (layer is { Mark: ChartMark.Intervals, IsPartOfAnother: true } && Chart.Layers.Any(l => l.Mark == ChartMark.Points && l.Series.SequenceEqual(layer.Series))) return;
        var isBeside = hasRows && Plan.SeriesCount > 1 && (limits is not null || layer.Mark == ChartMark.Columns);
        foreach (var series in layer.Series)
        {
            var points = series.Points.Where(p => p.Value is not null || layer.Mark is ChartMark.Lines or ChartMark.Steps).ToImmutableArray();
            if (points.IsEmpty) continue;
            var aside = isBeside ? Aside(Plan.PlaceOf(series)) : 0;
            var places = points.Select((p, i) => hasRows ? Place(Plan.PlaceOf(p.At)) + (layer.IsFaint && layer.Mark == ChartMark.Points ? Distributions.Aside(i) : 0) - (Plan.IsOnSide ? aside : -aside) : BaseValue.Number(p.At)).ToArray();
            var values = points.Select(p => p.Value).ToImmutableArray();
            var colour = layer is { IsFaint: true, Mark: ChartMark.Intervals } ? Plan.Muted : Plan.ColourOf(series);
            var drawn = new DrawnSeries(DrawnMark.Point, HeadOf(series), values, -1) { Code = Numbers.Code, Format = Numbers.Format, IsInLegend = IsNamed(layer, series, frame) };
            switch (layer.Mark)
            {
                case ChartMark.Lines:
                    AddLine(drawn with { Line = colour, LinePoints = Plan.Highlights && !Plan.StandsOut(series) ? 1.25 : LinePoints, Dash = frame.EndsAt is null ? DashOf(series) : 0, Shape = layer.HasPoints ? Plan.ShapeOf(series) : MarkShape.None, ShapePoints = 6, Fill = layer.HasPoints ? colour : null }, series, points, places);
                    break;
                case ChartMark.Steps:
                    var (stairs, at) = Stairs(values, places);
                    AddLine(drawn with { Values = stairs, Line = colour, Dash = frame.EndsAt is null ? DashOf(series) : 0 }, series, points, at);
                    break;
                case ChartMark.Bands:
                    var first = Series.Count;
                    foreach (var (words, limit) in new[] { ("lower limit", points.Select(p => p.Lower)), ("upper limit", points.Select(p => p.Upper)) })
                        AddPairs(drawn with { Name = $"{drawn.Name}, {words}", Values = [.. limit], Line = colour, LinePoints = 0.75, Dash = 1, IsHelper = true, IsInLegend = false }, [.. places.Select(p => (double?)p)]);
                    Series[first + 1] = Series[first + 1] with { FilledFrom = first };
                    break;
                case ChartMark.Intervals:
                    AddSegments(drawn, points, places, layer.IsFaint ? 2 : 1.25, colour);
                    break;
                case ChartMark.Boxes:
                    AddSegments(drawn, points, places, BoxPoints, Tint(colour));
                    break;
                case ChartMark.Violins:
                    foreach (var row in points.Zip(places).GroupBy(p => p.Second))
                    {
                        (ChartPoint Point, double At)[] outline = [.. row];
                        var sides = outline.Select(o => (o.Point.Value, At: o.At + (o.Point.Size!.Value * ViolinShare))).Concat(outline.Reverse().Select(o => (o.Point.Value, At: o.At - (o.Point.Size!.Value * ViolinShare)))).ToArray();
                        AddPairs(drawn with { Values = [.. sides.Select(s => s.Value)], Fill = Tint(colour), IsOutline = true, IsInLegend = false }, [.. sides.Select(s => (double?)s.At)]);
                    }
                    break;
                case ChartMark.Dashes:
                    AddStrokes(drawn, Chart.Layers.Any(l => l.Mark == ChartMark.Boxes) ? colour : Plan.Ink, points, places);
                    break;
                case ChartMark.Columns:
                    AddBars(drawn, series, colour, points, places);
                    break;
                default:
                    AddPoints(layer, series, points, drawn, colour, places, limits is not null);
                    break;
            }
        }
    }

    /// <summary>The room of a row, in points.</summary>
    private double Row => (Plan.IsOnSide ? frame.Plot.Height : frame.Plot.Width) / Math.Max(1, Plan.Names.Length);

    /// <summary>How far a stroke reaches to both sides, in rows: as far as its box, or beyond the dots around it.</summary>
    private double HalfStroke => Chart.Layers.Any(l => l.Mark is ChartMark.Boxes or ChartMark.Violins) ? BoxPoints / Row / 2 : 0.4;

    /// <summary>How broad a box is, in points.</summary>
    private double BoxPoints => Math.Min(MostBoxPoints, Row * BoxShare);

    private static DrawnColour Tint(DrawnColour colour) => colour with { Opacity = 0.45 };

    private double Aside(int place)
    {
        var count = Plan.SeriesCount;
        return (place - ((count - 1) / 2.0)) * Math.Min(Apart, MostApart / count);
    }

    /// <summary>How the values are written.</summary>
    private ChartNumbers Numbers => numbers ??= ChartNumbers.Of(Chart.ValueAxis.Format, [.. Chart.Layers.Where(l => l.Mark is not (ChartMark.Bands or ChartMark.Boxes)).SelectMany(l => l.Series).SelectMany(s => s.Points).Select(p => p.Value).OfType<double>()], Language);

    private void AddPoints(ChartLayer layer, ChartSeries series, ImmutableArray<ChartPoint> points, DrawnSeries drawn, DrawnColour colour, double[] places, bool hasLimits)
    {
        var largest = layer.Series.SelectMany(s => s.Points).Max(p => p.Size ?? 0);
        drawn = drawn with
        {
            Fill = layer.IsFaint ? colour with { Opacity = 0.55 } : colour,
            Shape = hasRows && Plan.SeriesCount == 1 ? MarkShape.Circle : Plan.ShapeOf(series),
            ShapePoints = layer.IsFaint ? SmallDots : hasRows ? Dots + 1 : points.Length > 200 ? SmallDots : Dots - 1,
            Sizes = largest > 0 ? [.. points.Select(p => Math.Max(0, p.Size ?? 0) / largest)] : [],
        };
        if (hasLimits) AddSegments(drawn, points, places, 1.5, colour);
        if (hasRows && Plan.HighlightsNames)
        {
            var own = points.Select((p, i) => (Name: Plan.Names[Plan.PlaceOf(p.At)], i)).Where(p => Plan.StandsOut(p.Name)).ToImmutableDictionary(p => p.i, _ => Plan.ColourAt(Plan.PlaceOf(series)));
            drawn = drawn with { Fill = Plan.Muted, Own = own };
        }
        var labels = NotesOf(series, [.. points.Select(p => p.At)]).ToBuilder();
        if (Chart.ShowsValues && !layer.IsFaint)
        {
            var place = !Plan.IsOnSide ? LabelPlace.Above : LabelPlace.Right;
            drawn = drawn with { ValuesAt = place };
            for (var i = 0; i < points.Length; i++)
            {
                var isLeft = Plan.IsOnSide && !hasLimits && LiesLeft(layer, series, points[i]);
                if (Plan.IsOnSide || !Numbers.IsExact) labels.Add(new DrawnLabel(i, Numbers.Text(points[i].Value!.Value, Language), hasLimits ? LabelPlace.Above : isLeft ? LabelPlace.Left : place));
            }
        }
        AddPairs(drawn with { Labels = Ordered(labels) }, [.. places.Select(p => (double?)p)]);
    }

    /// <summary>Whether another value of the row stands right of a point.</summary>
    private static bool LiesLeft(ChartLayer layer, ChartSeries series, ChartPoint point) =>
        layer.Series.Any(s => !s.Equals(series) && s.Points.Any(p => Equals(p.At, point.At) && p.Value > point.Value));

    /// <summary>Lines from the lower to the upper limit, broken between. Not every reader draws error bars across.</summary>
    private void AddSegments(DrawnSeries drawn, ImmutableArray<ChartPoint> points, double[] places, double thickness, DrawnColour colour) =>
        AddBroken(drawn with { Name = $"{drawn.Name}, limits" }, points.Zip(places, (p, at) => (From: p.Lower, To: p.Upper, At: (double?)at, AtEnd: (double?)at)), thickness, colour);

    /// <summary>Strokes across the rows.</summary>
    private void AddStrokes(DrawnSeries drawn, DrawnColour colour, ImmutableArray<ChartPoint> points, double[] places) =>
        AddBroken(drawn, points.Zip(places, (p, at) => (From: p.Value, To: p.Value, At: (double?)(at - HalfStroke), AtEnd: (double?)(at + HalfStroke))), 2.25, colour);

    private void AddBroken(DrawnSeries drawn, IEnumerable<(double? From, double? To, double? At, double? AtEnd)> lines, double thickness, DrawnColour colour)
    {
        var all = lines.Where(l => l.From is not null && l.To is not null).ToArray();
        AddPairs(drawn with { Values = [.. all.SelectMany(l => new[] { l.From, l.To, null })], Line = colour, LinePoints = thickness, HasFlatEnds = true, IsHelper = true, IsInLegend = false, Shape = MarkShape.None, Fill = null, Own = ImmutableDictionary<int, DrawnColour>.Empty, Sizes = [] }, [.. all.SelectMany(l => new[] { l.At, l.AtEnd, null })]);
    }

    /// <summary>Bars as broad lines from zero, so that lines across them can stand on the same axes.</summary>
    private void AddBars(DrawnSeries drawn, ChartSeries series, DrawnColour colour, ImmutableArray<ChartPoint> points, double[] places)
    {
        var thickness = Math.Min(MostBarPoints, Row * 0.65 / Math.Max(1, Plan.SeriesCount));
        foreach (var isOwn in Plan.HighlightsNames ? new[] { false, true } : [false])
        {
            var own = points.Zip(places).Where(p => isOwn == (Plan.StandsOut(Plan.Names[Plan.PlaceOf(p.First.At)]))).ToArray();
            AddBroken(drawn with { Name = isOwn ? $"{drawn.Name}, highlighted" : drawn.Name }, own.Select(p => (From: (double?)frame.Values!.Crossing, To: p.First.Value, At: (double?)p.Second, AtEnd: (double?)p.Second)), thickness, Plan.HighlightsNames ? isOwn ? Plan.ColourAt(0) : Plan.Muted : colour);
            Series[^1] = Series[^1] with { IsInLegend = drawn.IsInLegend && !isOwn, IsHelper = false };
        }
        var labels = NotesOf(series, [.. points.Select(p => p.At)]).ToBuilder();
        if (Chart.ShowsValues)
        {
            var words = points.Select(p => (p.Value, Numbers.Text(p.Value!.Value, Language))).ToArray();
            foreach (var (i, isInside) in StandInside(words, frame).Index())
            {
                var fill = !Plan.HighlightsNames ? colour : Plan.StandsOut(Plan.Names[Plan.PlaceOf(points[i].At)]) ? Plan.ColourAt(0) : Plan.Muted;
                labels.Add(new DrawnLabel(i, words[i].Item2, points[i].Value < 0 != isInside ? LabelPlace.Left : LabelPlace.Right) { Colour = isInside ? Plan.InkOn(fill) : null });
            }
        }
        if (labels.Count > 0) AddPairs(drawn with { Name = $"{drawn.Name}, labels", IsHelper = true, IsInLegend = false, Labels = Ordered(labels) }, [.. places.Select(p => (double?)p)]);
    }

    private void AddLine(DrawnSeries drawn, ChartSeries series, ImmutableArray<ChartPoint> points, double[] places)
    {
        var labels = NotesOf(series, [.. points.Select(p => p.At)]).ToBuilder();
        if (frame.EndsAt is { } ends && ends.TryGetValue(Plan.PlaceOf(series), out var down))
        {
            var last = drawn.Values.Length - 1;
            while (last > 0 && drawn.Values[last] is null) last--;
            labels.Add(new DrawnLabel(last, Plan.NameOf(series), LabelPlace.Right) { Colour = Plan.Highlights && !Plan.StandsOut(series) ? null : Plan.WordsOf(series), Down = down });
        }
        AddPairs(drawn with { Labels = Ordered(labels) }, [.. places.Select(p => (double?)p)]);
    }

    private static (ImmutableArray<double?> Values, double[] Places) Stairs(ImmutableArray<double?> values, double[] places)
    {
        var (stairs, at) = (new List<double?>(), new List<double>());
        for (var i = 0; i < values.Length; i++)
        {
            if (i > 0 && values[i - 1] is { } before && values[i] is not null)
            {
                stairs.Add(before);
                at.Add(places[i]);
            }
            stairs.Add(values[i]);
            at.Add(places[i]);
        }
        return ([.. stairs], [.. at]);
    }

    /// <summary>Adds a series with its columns; values are across if the names stand down the side.</summary>
    private void AddPairs(DrawnSeries drawn, ImmutableArray<double?> places)
    {
        var code = frame.Base!.Kind == AxisKind.Dates ? frame.Base.Code : NumberCode.General;
        var head = hasRows ? "Row" : Chart.BaseAxis.Title.Length > 0 ? Chart.BaseAxis.Title : "x";
        var place = Column(drawn.IsHelper || hasRows ? $"{drawn.Name}, {head}" : head, places.Select(p => (object?)p), code);
        var value = Column(drawn.Name, drawn.Values.Cast<object?>(), drawn.Code);
        var sizes = drawn.Sizes.IsEmpty ? 0 : Column($"{drawn.Name}, size", drawn.Sizes.Cast<object?>());
        Series.Add(drawn with { Places = places, PlaceColumn = place, Column = value, SizeColumn = sizes });
    }

    private void AddReferences(FittedValues values)
    {
        foreach (var reference in Chart.References)
        {
            var (low, high) = reference.IsAtBase ? (values.Minimum, values.Maximum) : (frame.Base!.Minimum, frame.Base.Maximum);
            var first = Series.Count;
            foreach (var end in new[] { reference.From, reference.To }.OfType<object>())
            {
                var at = reference.IsAtBase ? hasRows ? Place(Plan.PlaceOf(end)) : BaseValue.Number(end) : ValueFormatter.ToDouble(end);
                if (reference.IsAtBase && hasRows && Plan.PlaceOf(end) < 0) continue;
                var name = reference.Words.Length > 0 ? reference.Words : "Reference";
                var line = new DrawnSeries(DrawnMark.Point, name, reference.IsAtBase ? [low, high] : [at, at], -1) { IsHelper = true, Line = reference.To is null ? Plan.Ink : Plan.Muted, LinePoints = reference.To is null ? ThinPoints : 0.75, Dash = 1 };
                var isLabelled = reference.Words.Length > 0 && ReferenceEquals(end, reference.To ?? reference.From);
                var isUpright = reference.IsAtBase != Plan.IsOnSide;
                if (isLabelled) line = line with { Labels = [new DrawnLabel(1, reference.Words, isUpright ? LabelPlace.Above : LabelPlace.Right)] };
                AddPairs(line, reference.IsAtBase ? [at, at] : [low, high]);
            }
            if (reference.To is not null && Series.Count == first + 2) Series[first + 1] = Series[first + 1] with { FilledFrom = first };
        }
    }
}
