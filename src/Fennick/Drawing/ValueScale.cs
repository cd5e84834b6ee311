using System.Collections.Immutable;
using Fennick.Charts;
using Fennick.Formatting;

namespace Fennick.Drawing;

/// <summary>The scale of what is measured: from zero for what is seen as a length, else around the values.</summary>
internal sealed class ValueScale
{
    // Lines begin at zero too if it is no further away than this share of their range.
    private const double NearZero = 0.35;
    private const double NarrowForPowersOfTwo = 60;
    private const double RoomForLabels = 0.12;

    private readonly ChartPlan plan;
    private readonly Language language;
    private readonly ChartAxis axis;
    private double low = double.PositiveInfinity;
    private double high = double.NegativeInfinity;

    public ValueScale(ChartPlan plan, Language language, IEnumerable<ChartLayer> layers, ChartAxis axis, bool withReferences)
    {
        (this.plan, this.language, this.axis) = (plan, language, axis);
        var used = layers.ToArray();
        var isShare = plan.Chart.Stacking == Stacking.Shares && used.Any(IsStackable);
        foreach (var layer in used)
        {
            if (isShare && IsStackable(layer)) Widen(0, 1);
            else if (plan.Chart.Stacking == Stacking.Sums && IsStackable(layer)) WidenBySums(layer);
            else foreach (var point in layer.Series.SelectMany(s => s.Points)) Widen(layer.Mark is ChartMark.Intervals or ChartMark.Boxes or ChartMark.Bands ? point.Lower ?? point.Value : point.Value, layer.Mark is ChartMark.Intervals or ChartMark.Boxes or ChartMark.Bands ? point.Upper ?? point.Value : point.Value);
        }
        foreach (var reference in withReferences ? plan.Chart.References.Where(r => !r.IsAtBase) : []) Widen(ValueFormatter.ToDouble(reference.From), ValueFormatter.ToDouble(reference.To ?? reference.From));
        if (axis.Reaches is { } shared) Widen(shared.Low, shared.High);
        if (double.IsPositiveInfinity(low)) (low, high) = (0, 1);
        var startsAtZero = used.Any(l => l.Mark is ChartMark.Columns or ChartMark.Areas) && !axis.IsLogarithmic;
        if (startsAtZero || (!axis.IsLogarithmic && low > 0 && low < (high - low) * NearZero)) low = Math.Min(low, 0);
        if (startsAtZero || (!axis.IsLogarithmic && high < 0 && -high < (high - low) * NearZero)) high = Math.Max(high, 0);
        Numbers = ChartNumbers.Of(axis.Format, [.. used.Where(l => l.Mark is not (ChartMark.Bands or ChartMark.Boxes)).SelectMany(l => l.Series).SelectMany(s => s.Points).Select(p => p.Value).OfType<double>()], language);
    }

    private void Widen(double? from, double? to)
    {
        if (from is { } least) low = Math.Min(low, least);
        if (to is { } most) high = Math.Max(high, most);
    }

    private void WidenBySums(ChartLayer layer)
    {
        foreach (var place in layer.Series.SelectMany(s => s.Points).GroupBy(p => p.At ?? ""))
        {
            var (negative, positive) = (place.Sum(p => Math.Min(0, p.Value ?? 0)), place.Sum(p => Math.Max(0, p.Value ?? 0)));
            Widen(layer.Mark == ChartMark.Areas ? Math.Min(0, negative + positive) : negative, layer.Mark == ChartMark.Areas ? negative + positive : positive);
        }
    }

    private static bool IsStackable(ChartLayer layer) => layer.Mark is ChartMark.Columns or ChartMark.Areas;

    /// <summary>How values are written.</summary>
    public ChartNumbers Numbers { get; }

    /// <summary>Whether numbers stand along the axis: not where each mark carries its own.</summary>
    public bool ShowsTicks => !plan.Chart.ShowsValues && !EndLabels.IsSlope(plan);

    /// <summary>The width of the widest value that is written.</summary>
    public double WidestLabel(ChartText text) => plan.Chart.Layers.SelectMany(l => l.Series).SelectMany(s => s.Points).Select(p => p.Value).OfType<double>().Select(v => text.Width(Numbers.Text(v, language))).DefaultIfEmpty(0).Max();

    /// <summary>About the width of the widest tick.</summary>
    public double WidestTick(ChartText text) => Fit(5).Words.Select(w => text.Width(w.Words)).DefaultIfEmpty(0).Max();

    /// <summary>The axis with at most so many distances.</summary>
    public FittedValues Fit(int most)
    {
        if (axis.IsLogarithmic) return Logarithm();
        // Where no ticks are seen the axis ends where the values end.
        var ticks = Ticks.Of(low, high, Math.Clamp(most, 1, 8), axis, ShowsTicks ? null : plan.IsOnSide && plan.Form == ChartForm.Points && plan.SeriesCount > 1 ? RoomForLabels : 0);
        var (format, code) = ChartNumbers.OfTicks(axis.Format, ticks, language);
        return new FittedValues(ticks.Minimum, ticks.Maximum, ticks.Step, null, code, [.. ticks.Numbers.Select(n => (n, Words(n, format)))]);
    }

    private FittedValues Logarithm()
    {
        var (from, to) = (axis.Minimum ?? low, axis.Maximum ?? high);
        // The word processor's own ticks are at powers of ten.
        var root = plan.Form == ChartForm.Points && to / from <= NarrowForPowersOfTwo ? 2 : 10;
        var (first, last) = ((int)Math.Floor(Math.Log(from, root) + 1e-9), (int)Math.Ceiling(Math.Log(to, root) - 1e-9));
        if (first == last) last++;
        var numbers = Enumerable.Range(first, last - first + 1).Select(p => Math.Pow(root, p)).ToArray();
        var format = axis.Format ?? "0.########";
        var code = axis.Format is null ? NumberCode.General : NumberCode.ForAxis(axis.Format, language, false);
        return new FittedValues(numbers[0], numbers[^1], 1, root, code, [.. numbers.Select(n => (n, Words(n, format)))]);
    }

    private string Words(double number, string? format) => ValueFormatter.Format(number, format, language);
}

/// <summary>An axis of values with its ticks.</summary>
internal sealed record FittedValues(double Minimum, double Maximum, double Step, int? LogBase, string Code, ImmutableArray<(double At, string Words)> Words)
{
    /// <summary>How many distances it has.</summary>
    public int Count => Words.Length - 1;

    /// <summary>The share of the way along it at which a value stands.</summary>
    public double Share(double value) => LogBase is null ? (value - Minimum) / (Maximum - Minimum) : Math.Log(value / Minimum) / Math.Log(Maximum / Minimum);

    /// <summary>Where the other axis crosses it: at zero, or at its end nearest to that.</summary>
    public double Crossing => LogBase is not null ? Minimum : Math.Clamp(0, Minimum, Maximum);
}
