namespace Fennick.Styles;

/// <summary>Where remarks in the margin stand.</summary>
/// <param name="Width">How wide they are.</param>
/// <param name="Left">How far from the left edge of the text they begin.</param>
/// <param name="IsInText">Whether the margin has no room for them, so that the text goes around them.</param>
internal readonly record struct MarginFrame(Length Width, Length Left, bool IsInText)
{
    private static readonly Length EdgeOfPaper = Length.Centimetres(0.9);
    private static readonly Length Narrowest = Length.Centimetres(2.4);

    /// <summary>What stays free between them and the text.</summary>
    public static Length Gap { get; } = Length.Centimetres(0.45);

    /// <summary>Where they stand beside the text of a page.</summary>
    public static MarginFrame Of(PageGeometry page)
    {
        var room = page.Right - Gap - EdgeOfPaper;
        return room < Narrowest ? new(Narrowest, page.TextWidth - Narrowest, IsInText: true) : new(room, page.TextWidth + Gap, IsInText: false);
    }
}
