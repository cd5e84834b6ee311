using System.Text;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Drawing;
using Fennick.Files;
using Fennick.Flow;
using Fennick.Formatting;
using Fennick.Pictures;
using Fennick.Running;

namespace Fennick;

/// <summary>Saves single figures.</summary>
public static class Figures
{
    /// <summary>Saves a chart alone, as a document of one figure that colleagues can edit or copy from.</summary>
    /// <param name="chart">The chart.</param>
    /// <param name="path">The file, which ends in <c>.docx</c>.</param>
    /// <param name="house">What it wears; <c>House.Tansy</c> if null.</param>
    /// <param name="language">The language of its words and numbers; British English if null.</param>
    /// <param name="width">Its width; that of the text if null.</param>
    /// <param name="height">Its height; what suits its kind if null.</param>
    /// <exception cref="ReportException">The file cannot be written, or a format does not fit.</exception>
    public static IReadOnlyList<Diagnostic> Save(this Chart chart, string path, House? house = null, Language? language = null, Measure? width = null, Measure? height = null) =>
        ReportFile.Save(new ReportContent { Language = language ?? Language.Default, House = house ?? House.Tansy, Blocks = [new FigureBlock(chart) { Width = width, Height = height }] }, path);

    /// <summary>Saves a chart as a picture.</summary>
    /// <param name="chart">The chart.</param>
    /// <param name="path">The file, which ends in <c>.svg</c>, or in <c>.png</c> where the package Fennick.Plots is there.</param>
    /// <param name="house">Whose fonts and colours it has; <c>House.Tansy</c> if null.</param>
    /// <param name="language">The language of its words and numbers; British English if null.</param>
    /// <param name="width">Its width; that of the house's text if null.</param>
    /// <param name="height">Its height; what suits its kind if null.</param>
    /// <param name="dotsPerInch">How many pixels a PNG has to the inch.</param>
    /// <exception cref="ReportException">The ending is another, the file cannot be written, or nothing is there that can make a PNG.</exception>
    public static void SavePicture(this Chart chart, string path, House? house = null, Language? language = null, Length? width = null, Length? height = null, int dotsPerInch = 300)
    {
        ArgumentNullException.ThrowIfNull(chart);
        ArgumentNullException.ThrowIfNull(path);
        var isPng = path.EndsWith(".png", StringComparison.OrdinalIgnoreCase);
        if (!isPng && !path.EndsWith(".svg", StringComparison.OrdinalIgnoreCase)) throw new ReportException(Diagnostic.Error(new SourcePlace(path, 0, 0), "a picture's name ends in `.svg` or `.png`", $"write `{Path.ChangeExtension(path, ".svg")}`"));
        var words = language ?? Language.Default;
        var (given, dressed) = (house ?? House.Tansy, (house ?? House.Tansy).Dress(words));
        var across = width ?? dressed.Page.TextWidth;
        var drawing = ChartDrawer.Draw(chart, across, height, across * dressed.Design.FigureShape, dressed, words);
        var drawn = new GalleyChart(drawing, "figure", drawing.Description);
        var full = RunContext.FullPath(path);
        byte[] bytes = isPng ? [.. drawn.AsPicture(given.PictureTools ?? PictureToolsBeside.Find(), dotsPerInch, null).Picture.Bytes] : Encoding.UTF8.GetBytes(ChartSvg.Write(drawing, drawn.Description));
        ReportFile.Writing(full, [], () =>
        {
            Directory.CreateDirectory(Path.GetDirectoryName(full)!);
            File.WriteAllBytes(full, bytes);
        });
    }
}
