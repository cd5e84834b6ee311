namespace Fennick.Houses;

/// <summary>A page: its size and margins.</summary>
internal sealed record PageGeometry(Length Width, Length Height, Length Top, Length Bottom, Length Left, Length Right, Length HeaderDistance, Length FooterDistance)
{
    public Length TextWidth => Width - Left - Right;

    public Length TextHeight => Height - Top - Bottom;

    public bool IsLandscape => Width > Height;

    /// <summary>The page a quarter turned; its margins turn with it.</summary>
    public PageGeometry Turned => new(Height, Width, Left, Right, Top, Bottom, HeaderDistance, FooterDistance);

    public static PageGeometry A4(Length sides, Length top, Length bottom) =>
        new(Length.Millimetres(210), Length.Millimetres(297), top, bottom, sides, sides, Length.Millimetres(12.5), Length.Millimetres(12.5));
}
