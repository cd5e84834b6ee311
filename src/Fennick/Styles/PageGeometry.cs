namespace Fennick.Styles;

/// <summary>A page: its size and margins.</summary>
internal sealed record PageGeometry(Length Width, Length Height, Length Top, Length Bottom, Length Left, Length Right, Length HeaderDistance, Length FooterDistance)
{
    /// <summary>What the binding takes from the width beside the margins.</summary>
    public Length Gutter { get; init; }

    public Length TextWidth => Width - Left - Right - Gutter;

    public Length TextHeight => Height - Top - Bottom;

    public bool IsLandscape => Width > Height;

    /// <summary>The page a quarter turned; its margins turn with it.</summary>
    public PageGeometry Turned => new(Height, Width, Left, Right, Top, Bottom, HeaderDistance, FooterDistance) { Gutter = Gutter };

    /// <summary>The page with another layout on top; where the paper turns, its margins turn with it.</summary>
    public PageGeometry With(PageLayout layout)
    {
        var page = this;
        if (layout.Width is { } width && layout.Height is { } height) page = page with { Width = page.IsLandscape ? height : width, Height = page.IsLandscape ? width : height };
        if (layout.IsLandscape is { } lies && lies != page.IsLandscape) page = page.Turned;
        return page with { Top = layout.Top?.Of(page.Height) ?? page.Top, Bottom = layout.Bottom?.Of(page.Height) ?? page.Bottom, Left = layout.Left?.Of(page.Width) ?? page.Left, Right = layout.Right?.Of(page.Width) ?? page.Right };
    }

    public static PageGeometry A4(Length sides, Length top, Length bottom) =>
        new(Length.Millimetres(210), Length.Millimetres(297), top, bottom, sides, sides, Length.Millimetres(12.5), Length.Millimetres(12.5));
}
