namespace Fennick.Layout;

/// <summary>Where families of word processors lay text out differently.</summary>
/// <param name="UsesLigatures">Whether letters such as "tt" become one glyph where the font has it.</param>
/// <param name="HasWholePercents">Whether the space between lines is cut to whole percents of a line.</param>
/// <param name="DropsSectionEnds">Whether an empty paragraph that ends a section is left out.</param>
/// <param name="NoteSeparator">How high the line above footnotes is, with the space around it, in twips.</param>
internal sealed record LayoutRules(bool UsesLigatures, bool HasWholePercents, bool DropsSectionEnds, int NoteSeparator)
{
    // What new documents of one family have, and the percents that the other takes it for.
    private const int UsualLine = 259;
    private const int UsualPercent = 108;

    /// <summary>Those of the word processor of Debian's packages, against which page numbers are checked.</summary>
    public static LayoutRules Debian { get; } = new(UsesLigatures: true, HasWholePercents: true, DropsSectionEnds: true, NoteSeparator: 124);

    /// <summary>Those of the other family, which uses ligatures only when asked to, keeps fractions, and leaves nothing out.</summary>
    public static LayoutRules Other { get; } = Debian with { UsesLigatures = false, HasWholePercents = false, DropsSectionEnds = false };

    /// <summary>The height of text with its share of space, which is written in 240ths of a line; word processors cut fractions off.</summary>
    public int Spaced(int height, double lines)
    {
        var line = (int)Math.Round(lines * 240);
        return HasWholePercents ? height * (line == UsualLine ? UsualPercent : line * 100 / 240) / 100 : height * line / 240;
    }
}
