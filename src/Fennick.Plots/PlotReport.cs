using System.Runtime.CompilerServices;
using Fennick.Diagnostics;
using Fennick.Prose;
using ScottPlot;

namespace Fennick.Plots;

/// <summary>Adds plots of the plotting package to reports.</summary>
public static class PlotReport
{
    /// <summary>Adds a plot as a figure, numbered if it has a caption or a label; its letters and colours become those of the house, unless it is added as a <see cref="PlotFigure"/> that keeps its look.</summary>
    /// <param name="report">The report.</param>
    /// <param name="plot">The plot.</param>
    /// <param name="alt">What it shows, for readers who cannot see it.</param>
    /// <param name="label">The name under which the text refers to it.</param>
    /// <param name="caption">The words beside its number: inline Markdown with values.</param>
    /// <param name="note">The small print under it.</param>
    /// <param name="source">What it was made from, on a line of its own under it, behind the word for it.</param>
    /// <param name="width">Its width, if not the report's.</param>
    /// <param name="height">Its height, if not the report's.</param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    /// <exception cref="ReportException">A format does not fit its value.</exception>
    public static Report Add(this Report report, Plot plot, string alt, string? label = null, ProseTemplate? caption = null, ProseTemplate? note = null, ProseTemplate? source = null, Measure? width = null, Measure? height = null,
        [CallerFilePath] string file = "", [CallerLineNumber] int line = 0)
    {
        ArgumentNullException.ThrowIfNull(report);
        return report.Add(PlotFigure.Of(plot), alt, label, caption, note, source, width, height, file: file, line: line);
    }

    /// <summary>Adds several plots as one figure, numbered if it has a caption or a label.</summary>
    /// <inheritdoc cref="Add(Report, Plot, string, string?, ProseTemplate?, ProseTemplate?, ProseTemplate?, Measure?, Measure?, string, int)"/>
    public static Report Add(this Report report, Multiplot plot, string alt, string? label = null, ProseTemplate? caption = null, ProseTemplate? note = null, ProseTemplate? source = null, Measure? width = null, Measure? height = null,
        [CallerFilePath] string file = "", [CallerLineNumber] int line = 0)
    {
        ArgumentNullException.ThrowIfNull(report);
        return report.Add(PlotFigure.Of(plot), alt, label, caption, note, source, width, height, file: file, line: line);
    }
}
