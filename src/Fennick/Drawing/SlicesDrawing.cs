using System.Collections.Immutable;
using Fennick.Charts;
using Fennick.Formatting;
using Fennick.Styles;

namespace Fennick.Drawing;

/// <summary>Draws the slices of a whole, each with its name and its share.</summary>
internal sealed class SlicesDrawing(ChartPlan plan, ChartText text, Language language) : FormDrawing(plan, text, language)
{
    // Slices beyond the palette go through it again, lighter.
    private const double LightestOpacity = 0.55;

    public override ChartDrawing Draw(Frame frame, IStyleBook house)
    {
        var series = Chart.Layers[0].Series[0];
        var values = series.Points.Select(p => p.Value).ToImmutableArray();
        var total = values.Sum(v => v ?? 0);
        var share = Chart.ValueAxis.Format is null ? ChartNumbers.Of("percent 0", [.. values.OfType<double>().Select(v => v / total)], Language) : null;
        var own = ChartNumbers.Of(Chart.ValueAxis.Format, [.. values.OfType<double>()], Language);
        // A ring has no room outside it in every reader: its names stand in the legend.
        var isRing = Chart.Hole > 0;
        string Amount(double value) => share is null ? own.Text(value, Language) : share.Text(value / total, Language);
        _ = Column(Chart.BaseAxis.Title.Length > 0 ? Chart.BaseAxis.Title : "Part", Plan.Names);
        var labels = values.Select((v, i) => v is { } value and > 0 ? new DrawnLabel(i, isRing ? Amount(value) : $"{Plan.Names[i]}\n{Amount(value)}", LabelPlace.OutsideEnd) { Colour = isRing ? Plan.InkOn(ColourOf(i)) : null } : null).OfType<DrawnLabel>();
        var side = Math.Min(frame.Plot.Height - ((isRing ? 0 : 5.4) * Text.Line), frame.Plot.Width * 0.5);
        var plot = new Area((frame.Width - side) / 2, frame.Plot.Top + ((frame.Plot.Height - side) / 2), side, side);
        Series.Add(new DrawnSeries(DrawnMark.Slice, HeadOf(series), values, Column(HeadOf(series), values.Cast<object?>(), own.Code))
        {
            Code = own.Code,
            Fill = Plan.ColourAt(0),
            Own = Enumerable.Range(0, values.Length).ToImmutableDictionary(i => i, ColourOf),
            Labels = [.. labels],
            IsInLegend = isRing,
        });
        return Finish(frame with { Plot = plot }, house, null, null, null);
    }

    private DrawnColour ColourOf(int index)
    {
        if (Plan.Highlights) return Plan.StandsOut(Plan.Names[index]) ? Plan.ColourAt(0) : Plan.Muted;
        var colour = Plan.ColourAt(index);
        return index < SeriesPalette.Count ? colour : colour with { Opacity = LightestOpacity };
    }
}
