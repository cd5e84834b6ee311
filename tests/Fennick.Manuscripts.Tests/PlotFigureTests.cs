using System.Text;
using Fennick.Plots;
using Fennick.Testing;
using ScottPlot;
using Xunit;

namespace Fennick.Manuscripts.Tests;

/// <summary>Plots of the plotting package as figures.</summary>
public sealed class PlotFigureTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private static Plot Scatter()
    {
        var plot = new Plot();
        plot.Add.ScatterLine(new[] { 1.0, 2, 3 }, new[] { 24.0, 26, 25 });
        plot.Add.ScatterLine(new[] { 1.0, 2, 3 }, new[] { 20.0, 21, 22 }).LineColor = Color.FromHex("#123456");
        plot.XLabel("Season");
        return plot;
    }

    private string Svg(Report report)
    {
        report.Save(folder.File("plot.docx"));
        var docx = WordClean.Check(folder.File("plot.docx"));
        Assert.Contains("Figure\u00A01. Honey", docx.Paragraphs);
        return Encoding.UTF8.GetString(docx.Bytes(docx.Names.Single(n => n.EndsWith(".svg", StringComparison.Ordinal)))).ToLowerInvariant();
    }

    [Fact]
    public void A_plot_takes_the_letters_and_colours_of_the_house()
    {
        var svg = Svg(new Report($"x").Add(Scatter(), "two lines", caption: "Honey"));
        Assert.Contains("season", svg, StringComparison.Ordinal);
        Assert.Contains("carlito", svg, StringComparison.Ordinal);
        Assert.Contains("#2b6e5e", svg, StringComparison.Ordinal);
        Assert.DoesNotContain(Scatter().Add.Palette.Colors[0].ToHex().ToLowerInvariant(), svg, StringComparison.Ordinal);
        // What was chosen by hand stays.
        Assert.Contains("#123456", svg, StringComparison.Ordinal);
    }

    [Fact]
    public void A_plot_may_keep_its_look_and_several_stand_in_one_figure()
    {
        var kept = Svg(new Report($"x").Add(PlotFigure.Of(Scatter()) with { KeepsLook = true }, "two lines", caption: "Honey"));
        Assert.Contains(Scatter().Add.Palette.Colors[0].ToHex().ToLowerInvariant(), kept, StringComparison.Ordinal);
        var several = new Multiplot();
        several.AddPlots(2);
        foreach (var plot in several.GetPlots()) plot.Add.Signal([1.0, 2, 1]);
        Assert.Contains("<path", Svg(new Report($"x").Add(several, "two plots", caption: "Honey")), StringComparison.Ordinal);
    }

    [Fact]
    public void A_figure_step_gives_a_plot()
    {
        var path = folder.Write("plot.ms.md", """
            ```manuscript
            fennick: 1
            title: Plots
            figures.width: 8 cm
            ```

            ```csharp figure honey
            caption: Honey
            alt: a line
            =>
            var plot = new ScottPlot.Plot();
            plot.Add.Signal(new[] { 24.0, 26, 25 });
            plot
            ```

            See {see honey}.
            """);
        var docx = WordClean.Check(Manuscript.Open(path).Write().Path);
        Assert.Contains("See Figure\u00A01.", docx.Paragraphs);
        Assert.Equal(2_880_000, (long)docx.Body.Descendants(Docx.Wp + "extent").Single().Attribute("cx")!);
    }
}
