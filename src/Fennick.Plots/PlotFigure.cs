using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Pictures;
using ScottPlot;
using SkiaSharp;

namespace Fennick.Plots;

/// <summary>A plot of the plotting package as a figure, in the letters and colours of the house.</summary>
/// <remarks>Colours that were set by hand stay; those that the plot chose by itself become the house's. The plot itself is changed when it is drawn.</remarks>
public sealed record PlotFigure : IDrawnFigure
{
    private const double PixelsPerPoint = 96 / 72.0;

    // A title is this much larger than the other words.
    private const double TitleSize = 1.15;

    private readonly Plot[] plots;
    private readonly Action<SKCanvas, PixelRect> render;

    private PlotFigure(Plot[] plots, Action<SKCanvas, PixelRect> render) => (this.plots, this.render) = (plots, render);

    /// <summary>Whether its letters and colours stay as they are.</summary>
    public bool KeepsLook { get; init; }

    /// <summary>A figure of one plot.</summary>
    public static PlotFigure Of(Plot plot)
    {
        ArgumentNullException.ThrowIfNull(plot);
        return new PlotFigure([plot], (canvas, room) => plot.Render(canvas, room));
    }

    /// <summary>A figure of several plots.</summary>
    public static PlotFigure Of(Multiplot plots)
    {
        ArgumentNullException.ThrowIfNull(plots);
        return new PlotFigure(plots.Subplots.GetPlots(), plots.Render);
    }

    /// <summary>A figure of a plot object; null if it is none.</summary>
    internal static PlotFigure? Find(object plot) => plot switch
    {
        Plot one => Of(one),
        Multiplot several => Of(several),
        _ => null,
    };

    /// <inheritdoc/>
    public Picture Draw(FigureFrame frame)
    {
        ArgumentNullException.ThrowIfNull(frame);
        if (!KeepsLook)
            foreach (var plot in plots) Dress(plot, frame);
        var room = new PixelRect(0, (int)Math.Round(frame.Width.Points * PixelsPerPoint), (int)Math.Round(frame.Height.Points * PixelsPerPoint), 0);
        using var stream = new MemoryStream();
        try
        {
            // The first time it is drawn a plot measures itself, and draws all twice.
            using var surface = SKSurface.Create(new SKImageInfo(1, 1));
            render(surface.Canvas, room);
            using var canvas = SKSvgCanvas.Create(new SKRect(0, 0, room.Width, room.Height), stream);
            render(canvas, room);
        }
        catch (Exception problem) when (problem is InvalidOperationException or ArgumentException or NullReferenceException or IndexOutOfRangeException)
        {
            throw new ReportException([Diagnostic.Error(null, $"the plot cannot be drawn: {problem.Message.TrimEnd('.')}", "draw it by itself in a script to find out why")], problem);
        }
        return frame.ToPicture(Plain(stream.ToArray()));
    }

    /// <summary>The drawing as every reader understands it: each text begins at one place, and holds no line ends.</summary>
    private static string Plain(byte[] svg)
    {
        var drawing = XDocument.Load(new MemoryStream(svg));
        foreach (var text in drawing.Descendants().Where(e => e.Name.LocalName == "text"))
        {
            text.Value = text.Value.Trim();
            foreach (var place in text.Attributes().Where(a => a.Name.LocalName is "x" or "y")) place.Value = place.Value.Split([',', ' '], StringSplitOptions.RemoveEmptyEntries)[0];
        }
        return drawing.ToString(SaveOptions.DisableFormatting);
    }

    private static void Dress(Plot plot, FigureFrame frame)
    {
        var (size, text) = ((float)(frame.TextSize * PixelsPerPoint), Color.FromHex(frame.TextColour));
        plot.Font.Set(frame.Families.FirstOrDefault(f => Fonts.GetTypeface(f, bold: false, italic: false) is { } face && face.FamilyName == f) ?? Fonts.Default);
        foreach (var axis in plot.Axes.GetAxes())
        {
            axis.TickLabelStyle.FontSize = size;
            axis.Label.FontSize = size;
            axis.Label.Bold = false;
        }
        plot.Axes.Title.Label.FontSize = (float)(size * TitleSize);
        plot.Axes.Color(text);
        plot.Axes.Top.FrameLineStyle.Width = 0;
        plot.Axes.Right.FrameLineStyle.Width = 0;
        (plot.Legend.FontSize, plot.Legend.FontColor, plot.Legend.OutlineWidth, plot.Legend.ShadowColor) = (size, text, 0, Colors.Transparent);
        var chosen = plot.Add.Palette.Colors;
        var own = frame.Colours.Select(c => Color.FromHex(c)).ToArray();
        foreach (var plottable in plot.GetPlottables())
        {
            if (plottable is IHasLine line) line.LineColor = Mapped(line.LineColor);
            if (plottable is IHasMarker marker) (marker.MarkerFillColor, marker.MarkerLineColor) = (Mapped(marker.MarkerFillColor), Mapped(marker.MarkerLineColor));
            if (plottable is IHasFill fill) fill.FillColor = Mapped(fill.FillColor);
            if (plottable is ScottPlot.Plottables.BarPlot bars)
                foreach (var bar in bars.Bars) bar.FillColor = Mapped(bar.FillColor);
        }

        // What the plot chose is one of its palette, as it is or let through by some.
        Color Mapped(Color colour)
        {
            var place = Array.FindIndex(chosen, c => c.Red == colour.Red && c.Green == colour.Green && c.Blue == colour.Blue);
            return place < 0 ? colour : own[place % own.Length].WithAlpha(colour.Alpha);
        }
    }
}
