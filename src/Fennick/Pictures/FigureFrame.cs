using System.Collections.Immutable;
using Fennick.Diagnostics;

namespace Fennick.Pictures;

/// <summary>What a figure that draws itself needs to know of its place.</summary>
/// <param name="Width">Its width on the page.</param>
/// <param name="Height">Its height.</param>
/// <param name="DotsPerInch">How fine its pixels are.</param>
/// <param name="Families">The families of letters that it may be set in, the best first.</param>
/// <param name="TextSize">How large its words are, in points.</param>
/// <param name="TextColour">The colour of its words, as six hexadecimal digits.</param>
/// <param name="Colours">The colours of its series, in their order, as six hexadecimal digits each.</param>
public sealed record FigureFrame(Length Width, Length Height, int DotsPerInch, ImmutableArray<string> Families, double TextSize, string TextColour, ImmutableArray<string> Colours)
{
    internal IPictureTools? Tools { get; init; }

    /// <summary>A picture of a drawing in SVG, in the size of the figure: what runs or fetches is taken out, and a PNG stands beside it.</summary>
    /// <param name="svg">The drawing.</param>
    /// <exception cref="ReportException">It is no SVG.</exception>
    public Picture ToPicture(string svg)
    {
        ArgumentNullException.ThrowIfNull(svg);
        var clean = SvgCleaner.Clean(System.Text.Encoding.UTF8.GetBytes(svg)) ?? throw new ReportException(Diagnostic.Error(null, "the figure gave no SVG", "give a drawing whose root element is `svg`"));
        return Picture.Drawn(System.Text.Encoding.UTF8.GetString(clean), Width, Height, DotsPerInch, PictureToolsBeside.Need(Tools, "draw SVG"));
    }
}
