namespace Fennick.Styles;

/// <summary>A page: its size and margins.</summary>
internal sealed record PageGeometry(Length Width, Length Height, Length Top, Length Bottom, Length Left, Length Right, Length HeaderDistance, Length FooterDistance)
{
    private const double SmallestShare = 0.7;
    private const double LandscapeSide = 0.08;
    private const double WidestText = 0.76;
    private const double InnerShare = 0.42;

    // Text that is narrower cannot be read.
    private static readonly Length LeastText = Length.Millimetres(40);

    /// <summary>What the binding takes from the width beside the margins.</summary>
    public Length Gutter { get; init; }

    public Length TextWidth => Width - Left - Right - Gutter;

    public Length TextHeight => Height - Top - Bottom;

    public bool IsLandscape => Width > Height;

    /// <summary>The width of text that is good to read, where the side margins follow from it and the paper; null where they are given.</summary>
    public Length? Measure { get; init; }

    /// <summary>The page a quarter turned; given margins turn with it.</summary>
    public PageGeometry Turned => Measure is null ? new(Height, Width, Left, Right, Top, Bottom, HeaderDistance, FooterDistance) { Gutter = Gutter } : (this with { Width = Height, Height = Width }).WithSides();

    /// <summary>The page with another layout on top; where the paper turns, its margins turn with it.</summary>
    public PageGeometry With(PageLayout layout)
    {
        var page = this;
        if (layout.Width is { } width && layout.Height is { } height) page = page.On(page.IsLandscape ? height : width, page.IsLandscape ? width : height);
        if (layout.IsLandscape is { } lies && lies != page.IsLandscape) page = page.Turned;
        if (layout.Left is not null || layout.Right is not null) page = page with { Measure = null };
        return (page with { Top = layout.Top?.Of(page.Height) ?? page.Top, Bottom = layout.Bottom?.Of(page.Height) ?? page.Bottom, Left = layout.Left?.Of(page.Width) ?? page.Left, Right = layout.Right?.Of(page.Width) ?? page.Right }).WithRoom();
    }

    /// <summary>Whether its margins are narrower than they were given, since they left no room for text.</summary>
    public bool IsNarrowed { get; init; }

    /// <summary>The page with margins that leave room for some words.</summary>
    private PageGeometry WithRoom()
    {
        var page = this;
        if (TextWidth < LeastText) page = page with { Left = Left * Share(Width - Gutter, Left + Right), Right = Right * Share(Width - Gutter, Left + Right), IsNarrowed = true };
        if (TextHeight < LeastText) page = page with { Top = Top * Share(Height, Top + Bottom), Bottom = Bottom * Share(Height, Top + Bottom), IsNarrowed = true };
        return page;

        static double Share(Length paper, Length margins) => Math.Clamp((paper.Points - LeastText.Points) / Math.Max(1, margins.Points), 0, 1);
    }

    /// <summary>An A4 page whose text is as wide as is good to read; what is left goes to the margins, more of it to the outer one.</summary>
    public static PageGeometry A4(Length measure, Length top, Length bottom) =>
        (new PageGeometry(Length.Millimetres(210), Length.Millimetres(297), top, bottom, Length.Zero, Length.Zero, Length.Millimetres(12.5), Length.Millimetres(12.5)) { Measure = measure }).WithSides();

    /// <summary>The page on other paper, with margins in proportion.</summary>
    private PageGeometry On(Length width, Length height)
    {
        var page = this with { Width = width, Height = height };
        if (Measure is null) return page;
        var share = Math.Clamp(height.Points / Height.Points, SmallestShare, 1);
        return (page with { Top = Top * share, Bottom = Bottom * share }).WithSides();
    }

    /// <summary>The page with the side margins that its measure leaves. On paper that lies across there are no lines to read but wide tables: it takes all but narrow margins.</summary>
    private PageGeometry WithSides()
    {
        if (IsLandscape) return this with { Left = Width * LandscapeSide, Right = Width * LandscapeSide };
        var widest = Width * WidestText;
        var rest = Width - (Measure!.Value < widest ? Measure.Value : widest);
        return this with { Left = rest * InnerShare, Right = rest - (rest * InnerShare) };
    }
}
