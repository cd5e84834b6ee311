using System.Collections.Immutable;
using Fennick.Charts;
using Fennick.Formatting;
using Fennick.Styles;

namespace Fennick.Drawing;

/// <summary>Draws columns, bars, lines and areas over names or dates.</summary>
internal sealed class NamesDrawing(ChartPlan plan, ChartText text, Language language) : FormDrawing(plan, text, language)
{
    private const int GapOfOne = 55;
    private const int GapOfSeveral = 70;
    private const double BroadestColumn = 62;
    private const double BroadestBar = 30;

    public override ChartDrawing Draw(Frame frame, IStyleBook house)
    {
        AddBase(frame);
        var values = frame.Values!;
        AddReferences(values, isBehind: true);
        foreach (var layer in Chart.Layers.OrderBy(l => l.Mark switch { ChartMark.Areas => 0, ChartMark.Bands => 0, ChartMark.Columns => 1, _ => 2 }).Where(l => !l.IsPartOfAnother || l.Mark == ChartMark.Bands)) Add(layer, frame);
        AddReferences(values, isBehind: false);
        if (Plan.Keys.All(k => k is Bin)) AddEdges(frame);
        else if (HasOwnNames(frame)) AddSomeNames(frame);
        var columns = Chart.Layers.FirstOrDefault(l => l.Mark == ChartMark.Columns);
        var basis = BaseAxis(frame, isMidway: columns is null);
        var measured = ValueAxis(values, frame.ValueTitle, frame.ShowsTicks);
        var second = frame.Second is { } other ? ValueAxis(other, frame.SecondTitle, showsTicks: true) with { HasLines = false } : null;
        var drawing = Plan.IsOnSide ? Finish(frame, house, measured, basis, second) : Finish(frame, house, basis, measured, second);
        return drawing with
        {
            Gap = columns is null ? GapOfOne : columns.IsContiguous ? 0 : Gap(columns, frame),
            Overlap = Chart.Stacking != Stacking.None ? 100 : columns?.Series.Length > 1 ? -5 : 0,
        };
    }

    /// <summary>The gap between columns that leaves them slender where they are few.</summary>
    private int Gap(ChartLayer columns, Frame frame)
    {
        var beside = Chart.Stacking == Stacking.None ? columns.Series.Length : 1;
        var usual = beside > 1 ? GapOfSeveral : GapOfOne;
        var place = (Plan.IsOnSide ? frame.Plot.Height : frame.Plot.Width) / Math.Max(1, Plan.Keys.Length);
        var broadest = (Plan.IsOnSide ? BroadestBar : BroadestColumn) / (beside > 1 ? 1.5 : 1);
        return (int)Math.Clamp(Math.Max(usual, ((place / broadest) - beside) * 100), 0, 500);
    }

    /// <summary>Whether only some names have room, which not every reader would leave out by itself.</summary>
    private bool HasOwnNames(Frame frame) => frame.Base is { Kind: AxisKind.Names, LabelEach: > 1 } && !Plan.IsOnSide;

    private void AddSomeNames(Frame frame)
    {
        var each = frame.Base!.LabelEach;
        var edge = Enumerable.Repeat((double?)frame.Values!.Minimum, Plan.Names.Length).ToImmutableArray();
        Series.Add(new DrawnSeries(DrawnMark.Line, "Names", edge, Column("Names", edge.Cast<object?>())) { IsHelper = true, Labels = [.. Plan.Names.Select((n, i) => new DrawnLabel(i, n, LabelPlace.Below)).Where((_, i) => i % each == 0)] });
    }

    /// <summary>The edges of bins as words between the columns.</summary>
    private void AddEdges(Frame frame)
    {
        var bins = Plan.Keys.OfType<Bin>().ToArray();
        var format = ValueFormatter.ColumnFormat(bins.SelectMany(b => new object?[] { b.From, b.To }));
        var words = bins.Select(b => b.From).Append(bins[^1].To).Select(e => ValueFormatter.Format(e, Chart.BaseAxis.Format ?? format, Language)).ToArray();
        var place = frame.Plot.Width / bins.Length;
        var each = Math.Max(1, (int)Math.Ceiling((words.Max(Text.Width) + 6) / place));
        var (nothing, half) = (Enumerable.Repeat((double?)frame.Values!.Minimum, bins.Length).ToImmutableArray(), 0.5 / bins.Length);
        Series.Add(new DrawnSeries(DrawnMark.Line, "Edges", nothing, Column("Edges", nothing.Cast<object?>()))
        {
            IsHelper = true,
            Labels = [.. words.SkipLast(1).Select((w, i) => new DrawnLabel(i, w, LabelPlace.Below) { Aside = -half }).Where((_, i) => i % each == 0)],
        });
        if (bins.Length % each != 0) return;
        Series.Add(new DrawnSeries(DrawnMark.Line, "Last edge", nothing, Column("Last edge", nothing.Cast<object?>())) { IsHelper = true, Labels = [new DrawnLabel(bins.Length - 1, words[^1], LabelPlace.Below) { Aside = half }] });
    }

    private void AddBase(Frame frame)
    {
        var head = Chart.BaseAxis.Title.Length > 0 ? Chart.BaseAxis.Title : Plan.IsOfDates && Plan.IsOfNumbers ? "Date" : "Category";
        if (frame.Base!.Kind == AxisKind.Dates) Column(head, Plan.Keys.Select(k => (object?)BaseValue.Number(k)), frame.Base.Code);
        else if (Chart.BaseAxis.Format is null && Plan.Keys.All(ValueFormatter.IsNumber)) Column(head, Plan.Keys.Select(k => (object?)ValueFormatter.ToDouble(k)), Plan.Names.All(n => n.All(char.IsAsciiDigit)) ? "0" : NumberCode.General);
        else Column(head, Plan.Names);
    }

    private DrawnAxis BaseAxis(Frame frame, bool isMidway)
    {
        var fitted = frame.Base!;
        var axis = new DrawnAxis(fitted.Kind, isMidway && fitted.Kind == AxisKind.Names ? 1 : fitted.Minimum, isMidway && fitted.Kind == AxisKind.Names ? Math.Max(1.0001, Plan.Names.Length) : fitted.Maximum, fitted.Step)
        {
            Ticks = fitted.Kind == AxisKind.Names ? [.. fitted.Wrapped.Select((w, i) => (i + 1.0, w)).Where(t => (t.Item1 - 1) % fitted.LabelEach == 0)] : fitted.Words,
            Code = fitted.Kind == AxisKind.Names ? NumberCode.General : fitted.Code,
            BaseUnit = fitted.BaseUnit,
            Each = fitted.Each,
            LabelEach = fitted.LabelEach,
            HasLine = (!Plan.IsOnSide || fitted.WidthOfNames > 0),
            HasLabels = !Plan.Keys.All(k => k is Bin) && !HasOwnNames(frame),
            Title = frame.BaseTitle,
            Crossing = fitted.Minimum,
            IsMidway = isMidway,
        };
        return axis;
    }

    private void Add(ChartLayer layer, Frame frame)
    {
        var alike = layer.Series.Length > 1 && layer.Mark == ChartMark.Bands;
        foreach (var series in layer.Series)
        {
            var values = Values(layer, series, p => p.Value);
            var drawn = new DrawnSeries(DrawnMark.Line, HeadOf(series), values, -1) { Code = CodeOf(layer), Format = NumbersOf(layer, layer.IsOnSecondAxis ? Chart.SecondAxis : Chart.ValueAxis).Format, IsOnSecond = layer.IsOnSecondAxis, IsInLegend = IsNamed(layer, series, frame) };
            var colour = Plan.ColourOf(series);
            switch (layer.Mark)
            {
                case ChartMark.Columns:
                    AddData(WithLimits(layer, WithOwnColours(drawn with { Mark = DrawnMark.Bar, Fill = colour, IsStacked = Chart.Stacking != Stacking.None, IsShare = Chart.Stacking == Stacking.Shares }), series), series, layer, frame);
                    break;
                case ChartMark.Areas:
                    AddData(drawn with { Mark = DrawnMark.Area, Fill = layer.Series.Length > 1 || Chart.Layers.Length == 1 ? colour : colour with { Opacity = 0.3 }, IsStacked = Chart.Stacking != Stacking.None, IsShare = Chart.Stacking == Stacking.Shares }, series, layer, frame);
                    break;
                case ChartMark.Bands when !alike && Chart.Layers.All(l => l.Mark != ChartMark.Areas):
                    var (lower, upper) = (Values(layer, series, p => p.Lower), Values(layer, series, p => p.Upper));
                    var width = lower.Zip(upper, (l, u) => l is { } from && u is { } to ? to - from : (double?)null).ToImmutableArray();
                    Series.Add(new DrawnSeries(DrawnMark.Area, $"{drawn.Name}, lower limit", lower, Column($"{drawn.Name}, lower limit", lower.Cast<object?>(), drawn.Code)) { IsStacked = true, IsHelper = true, Code = drawn.Code });
                    Series.Add(new DrawnSeries(DrawnMark.Area, $"{drawn.Name}, width of the interval", width, Column($"{drawn.Name}, width of the interval", width.Cast<object?>(), drawn.Code)) { IsStacked = true, IsHelper = true, Fill = colour with { Opacity = SpanOpacity }, Code = drawn.Code });
                    break;
                case ChartMark.Bands:
                    foreach (var (words, limit) in new[] { ("lower limit", Values(layer, series, p => p.Lower)), ("upper limit", Values(layer, series, p => p.Upper)) })
                        Series.Add(new DrawnSeries(DrawnMark.Line, $"{drawn.Name}, {words}", limit, Column($"{drawn.Name}, {words}", limit.Cast<object?>(), drawn.Code)) { IsHelper = true, Line = colour, LinePoints = 0.75, Dash = 1, Code = drawn.Code });
                    break;
                case ChartMark.Intervals:
                    AddData(drawn with { Limits = LimitsOf(drawn.Name, values, Limits(layer, series), 1.25, colour) }, series, layer, frame);
                    break;
                case ChartMark.Dashes:
                    AddData(drawn with { Shape = MarkShape.Dash, ShapePoints = 14, Fill = colour }, series, layer, frame);
                    break;
                case ChartMark.Points:
                    AddData(WithLimits(layer, WithOwnColours(drawn with { Shape = Plan.ShapeOf(series), ShapePoints = Dots, Fill = colour }), series), series, layer, frame);
                    break;
                default:
                    var isAlone = values.Count(v => v is not null) == 1;
                    AddData(drawn with { Line = colour, LinePoints = Plan.Highlights && !Plan.StandsOut(series) ? 1.25 : LinePoints, Dash = frame.EndsAt is null ? DashOf(series) : 0, Shape = layer.HasPoints || isAlone ? Plan.ShapeOf(series) : MarkShape.None, ShapePoints = 6, Fill = layer.HasPoints || isAlone ? colour : null }, series, layer, frame);
                    break;
            }
        }
    }

    private string CodeOf(ChartLayer layer)
    {
        var axis = layer.IsOnSecondAxis ? Chart.SecondAxis : Chart.ValueAxis;
        // The data of shares are amounts, whatever the axis shows.
        return Chart.Stacking == Stacking.Shares && layer.Mark is ChartMark.Columns or ChartMark.Areas ? NumberCode.General : NumbersOf(layer, axis).Code;
    }

    private ChartNumbers NumbersOf(ChartLayer layer, ChartAxis axis) => ChartNumbers.Of(axis.Format, [.. layer.Series.SelectMany(s => s.Points).Select(p => p.Value).OfType<double>()], Language);

    private ImmutableArray<double?> Values(ChartLayer layer, ChartSeries series, Func<ChartPoint, double?> value)
    {
        var values = new double?[Plan.Keys.Length];
        if (Plan.IsByRecord && layer.Mark == ChartMark.Columns) return [.. series.Points.Select(value)];
        foreach (var point in series.Points) values[Plan.PlaceOf(point.At)] = value(point);
        return [.. values];
    }

    private ImmutableArray<(double? Lower, double? Upper)> Limits(ChartLayer layer, ChartSeries series) => [.. Values(layer, series, p => p.Lower).Zip(Values(layer, series, p => p.Upper))];

    /// <summary>The limits that another layer draws for the same series.</summary>
    private DrawnSeries WithLimits(ChartLayer layer, DrawnSeries drawn, ChartSeries series)
    {
        if (Chart.Layers.FirstOrDefault(l => l.Mark == ChartMark.Intervals && l.IsPartOfAnother && l.Series.Any(s => ReferenceEquals(s, series) || s.Equals(series))) is null) return drawn;
        return drawn with { Limits = LimitsOf(drawn.Name, drawn.Values, Limits(layer, series), 1, layer.Mark == ChartMark.Columns ? Plan.Ink : drawn.Fill!.Value) };
    }

    private DrawnSeries WithOwnColours(DrawnSeries drawn)
    {
        if (!Plan.HighlightsNames) return drawn;
        var own = Plan.Names.Select((n, i) => (n, i)).Where(p => Plan.StandsOut(p.n)).ToImmutableDictionary(p => p.i, _ => Plan.ColourAt(0));
        return drawn with { Fill = Plan.Muted, Own = own };
    }

    /// <summary>Adds a series with its column of data and its words.</summary>
    private void AddData(DrawnSeries drawn, ChartSeries series, ChartLayer layer, Frame frame)
    {
        var labels = NotesOf(series, Plan.Keys).ToBuilder();
        var shows = Chart.ShowsValues && layer.Mark is ChartMark.Columns or ChartMark.Lines or ChartMark.Points or ChartMark.Areas;
        var isSlope = EndLabels.IsSlope(Plan);
        if (Chart.ShowsValues && shows && !isSlope)
        {
            var place = layer.Mark switch { ChartMark.Columns => drawn.IsStacked ? LabelPlace.Centre : LabelPlace.OutsideEnd, _ => LabelPlace.Above };
            if (layer.Mark == ChartMark.Lines && Plan.IsOnSide) place = LabelPlace.Right;
            if (place == LabelPlace.OutsideEnd && !layer.IsOnSecondAxis) place = ClearOfReferences(drawn, layer, frame, labels);
            drawn = drawn with { ValuesAt = place, ValueColour = drawn.IsStacked || place == LabelPlace.InsideEnd ? Plan.InkOn(drawn.Fill!.Value) : null };
            AddWords(drawn, layer, frame, labels, place);
        }
        if (frame.EndsAt is { } ends && ends.TryGetValue(Plan.PlaceOf(series), out var down) && LastValue(drawn.Values) is >= 0 and var last)
        {
            var numbers = NumbersOf(layer, Chart.ValueAxis);
            var colour = Plan.Highlights && !Plan.StandsOut(series) ? (DrawnColour?)null : Plan.WordsOf(series);
            labels.Add(new DrawnLabel(last, isSlope ? $"{Plan.NameOf(series)} {numbers.Text(drawn.Values[last]!.Value, Language)}" : Plan.NameOf(series), LabelPlace.Right) { Colour = colour, Down = down });
            if (isSlope && drawn.Values[0] is { } first) labels.Add(new DrawnLabel(0, numbers.Text(first, Language), LabelPlace.Left) { Colour = colour, Down = frame.BeginsAt?.GetValueOrDefault(Plan.PlaceOf(series)) ?? 0 });
        }
        Series.Add(drawn with { Column = Column(drawn.Name, drawn.Values.Cast<object?>(), drawn.Code), Labels = Ordered(labels) });
    }

    /// <summary>What no code shows stands as words, and what has no room in its part of a stack does not stand there.</summary>
    private void AddWords(DrawnSeries drawn, ChartLayer layer, Frame frame, ImmutableArray<DrawnLabel>.Builder labels, LabelPlace place)
    {
        var numbers = NumbersOf(layer, layer.IsOnSecondAxis ? Chart.SecondAxis : Chart.ValueAxis);
        var sums = drawn.IsShare ? Enumerable.Range(0, drawn.Values.Length).Select(i => layer.Series.Sum(s => Values(layer, s, p => p.Value)[i] ?? 0)).ToArray() : null;
        for (var i = 0; i < drawn.Values.Length; i++)
        {
            if (drawn.Values[i] is not { } value || labels.Any(l => l.Index == i)) continue;
            var shown = sums is null ? value : sums[i] == 0 ? 0 : value / sums[i];
            var words = numbers.Text(shown, Language);
            if (drawn.IsStacked)
            {
                var length = Math.Abs(shown) / (frame.Values!.Maximum - frame.Values.Minimum) * (Plan.IsOnSide ? frame.Plot.Width : frame.Plot.Height);
                if (length < (Plan.IsOnSide ? Text.Width(words) + 2 : Text.Line * 0.9)) labels.Add(new DrawnLabel(i, "", place));
                else if (sums is not null || !numbers.IsExact) labels.Add(new DrawnLabel(i, words, place) { Colour = drawn.ValueColour });
            }
            else if (!numbers.IsExact)
            {
                labels.Add(new DrawnLabel(i, words, place) { Colour = drawn.ValueColour });
            }
        }
    }

    /// <summary>The values of columns stand beyond their ends, or inside them where a reference line would strike them through.</summary>
    private LabelPlace ClearOfReferences(DrawnSeries drawn, ChartLayer layer, Frame frame, ImmutableArray<DrawnLabel>.Builder labels)
    {
        var numbers = NumbersOf(layer, Chart.ValueAxis);
        var areInside = StandInside([.. drawn.Values.Select(v => (v, v is { } value ? numbers.Text(value, Language) : ""))], frame);
        if (areInside.All(a => a) && drawn.Own.IsEmpty) return LabelPlace.InsideEnd;
        for (var i = 0; i < areInside.Length; i++)
            if (areInside[i] && labels.All(l => l.Index != i)) labels.Add(new DrawnLabel(i, numbers.IsExact ? null : numbers.Text(drawn.Values[i]!.Value, Language), LabelPlace.InsideEnd) { Colour = Plan.InkOn(drawn.Own.GetValueOrDefault(i, drawn.Fill!.Value)) });
        return LabelPlace.OutsideEnd;
    }

    private static int LastValue(ImmutableArray<double?> values)
    {
        var last = values.Length - 1;
        while (last >= 0 && values[last] is null) last--;
        return last;
    }

    /// <summary>Lines and spans across all places.</summary>
    private void AddReferences(FittedValues values, bool isBehind)
    {
        var hasColumns = Chart.Layers.Any(l => l.Mark == ChartMark.Columns);
        var count = Plan.Keys.Length;
        foreach (var reference in Chart.References)
        {
            var name = reference.Words.Length > 0 ? reference.Words : "Reference";
            if (reference.IsAtBase)
            {
                AddAtBase(reference, name, values, isBehind);
                continue;
            }
            var from = ValueFormatter.ToDouble(reference.From);
            if (reference.To is null && !isBehind)
            {
                Series.Add(Constant(name, from, count, DrawnMark.Line) with
                {
                    Line = Plan.Ink,
                    LinePoints = ThinPoints,
                    Dash = 1,
                    ReachesEdges = hasColumns,
                    Labels = reference.Words.Length == 0 ? [] : [new DrawnLabel(count - 1, reference.Words, LabelPlace.Right) { Aside = hasColumns ? 0.5 / count : 0 }],
                });
            }
            else if (reference.To is not null && isBehind)
            {
                Series.Add(Constant($"{name}, from", from, count, DrawnMark.Area) with { IsStacked = true });
                Series.Add(Constant($"{name}, width", ValueFormatter.ToDouble(reference.To) - from, count, DrawnMark.Area) with { IsStacked = true, Fill = Plan.Muted with { Opacity = SpanOpacity * 1.5 } });
                if (reference.Words.Length > 0) Series.Add(Constant(name, (from + ValueFormatter.ToDouble(reference.To)) / 2, count, DrawnMark.Line) with { Labels = [new DrawnLabel(count - 1, reference.Words, LabelPlace.Right) { Aside = hasColumns ? 0.5 / count : 0 }] });
            }
        }
    }

    private DrawnSeries Constant(string name, double value, int count, DrawnMark mark)
    {
        var values = Enumerable.Repeat((double?)value, count).ToImmutableArray();
        return new DrawnSeries(mark, name, values, Column(name, values.Cast<object?>())) { IsHelper = true };
    }

    private void AddAtBase(ReferenceMark reference, string name, FittedValues values, bool isBehind)
    {
        var (first, last) = (Plan.PlaceOf(reference.From), reference.To is null ? -1 : Plan.PlaceOf(reference.To));
        if (first < 0 || (reference.To is not null && last < 0)) return;
        if (reference.To is null)
        {
            if (isBehind) return;
            var top = Enumerable.Range(0, Plan.Keys.Length).Select(i => i == first ? values.Maximum : (double?)null).ToImmutableArray();
            var line = new DrawnSeries(DrawnMark.Line, name, top, Column(name, top.Cast<object?>())) { IsHelper = true, Labels = reference.Words.Length == 0 ? [] : [new DrawnLabel(first, reference.Words, LabelPlace.Right)] };
            Series.Add(line with { Limits = LimitsOf(name, top, [.. top.Select(t => (t is null ? null : (double?)values.Minimum, (double?)null))], ThinPoints, Plan.Ink) });
            return;
        }
        if (!isBehind) return;
        var inside = Enumerable.Range(0, Plan.Keys.Length).Select(i => i >= Math.Min(first, last) && i <= Math.Max(first, last) ? values.Maximum : (double?)null).ToImmutableArray();
        Series.Add(new DrawnSeries(DrawnMark.Area, name, inside, Column(name, inside.Cast<object?>())) { IsHelper = true, IsStacked = true, Fill = Plan.Muted with { Opacity = SpanOpacity * 1.5 } });
        if (reference.Words.Length == 0) return;
        var middle = Enumerable.Range(0, Plan.Keys.Length).Select(i => i == (first + last) / 2 ? values.Maximum : (double?)null).ToImmutableArray();
        Series.Add(new DrawnSeries(DrawnMark.Line, $"{name}, label", middle, Column($"{name}, label", middle.Cast<object?>())) { IsHelper = true, Labels = [new DrawnLabel((first + last) / 2, reference.Words, LabelPlace.Above)] });
    }
}
