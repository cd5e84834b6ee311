namespace Fennick.Layout;

/// <summary>How wide and how high text is on paper.</summary>
internal interface ITextMeasures
{
    /// <summary>The width of a text on one line, in points.</summary>
    double Width(ReadOnlySpan<char> text, FontFace face, double points);

    /// <summary>The height of a single-spaced line, in points.</summary>
    double LineHeight(FontFace face, double points);
}
