namespace Fennick.Layout;

/// <summary>How high a line of text is, in twips.</summary>
/// <param name="Ascent">Above the line that letters stand on.</param>
/// <param name="Descent">Below it.</param>
internal readonly record struct LineMetrics(int Ascent, int Descent)
{
    // Word processors that lay text out for no printer in particular do so on a grid of this many dots to the inch.
    private const int DotsPerTwip = 6;

    public int Height => Ascent + Descent;

    /// <summary>The metrics of a face at a size, from its horizontal header (ISO/IEC 14496-22, hhea): rounded as word processors do, first to dots, then to twips.</summary>
    public static LineMetrics Of(int ascent, int descent, int gap, int unitsPerEm, double points)
    {
        var scale = points * 20 * DotsPerTwip / unitsPerEm;
        int Dots(int units) => (int)Math.Floor((units * scale) + 0.5);
        static int Twips(int dots) => (int)Math.Floor(((double)dots / DotsPerTwip) + 0.5);
        var (height, leading) = (Twips(Dots(ascent) + Dots(descent)), Twips(Dots(gap)));
        var above = Math.Min(height, Twips(Dots(ascent)));
        return new LineMetrics(above + leading, height - above);
    }

    /// <summary>A line that holds both.</summary>
    public LineMetrics With(LineMetrics other) => new(Math.Max(Ascent, other.Ascent), Math.Max(Descent, other.Descent));
}
