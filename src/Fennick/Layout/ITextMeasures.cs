namespace Fennick.Layout;

/// <summary>How wide and how high text is on paper.</summary>
internal interface ITextMeasures
{
    /// <summary>The measures of a face.</summary>
    IFaceMeasures Face(FontFace face);
}

/// <summary>How wide and how high the text of one face is.</summary>
internal interface IFaceMeasures
{
    /// <summary>The width of a text on one line, in points.</summary>
    double Width(ReadOnlySpan<char> text, double points);

    /// <summary>The same where letters such as "tt" become one glyph, if the face has it.</summary>
    double WithLigatures(ReadOnlySpan<char> text, double points);

    /// <summary>The height of a single-spaced line, in points.</summary>
    double LineHeight(double points);

    /// <summary>How a line of it stands on paper.</summary>
    LineMetrics Line(double points);
}
