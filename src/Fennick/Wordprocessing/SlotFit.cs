using Fennick.Layout;

namespace Fennick.Wordprocessing;

/// <summary>The room that a slot for a title has in a house, so that a long title is set smaller, and neither throws a page nor runs into what stands beside it.</summary>
/// <param name="Face">The measures of its face.</param>
/// <param name="Points">Its size.</param>
/// <param name="Spacing">The line spacing, as a multiple of a single line.</param>
/// <param name="Width">The width of its lines, in points.</param>
/// <param name="Lines">How many lines the house's own words take.</param>
/// <param name="Slack">How much higher it may become, in points; null where it stands on one line and is shortened.</param>
internal sealed record SlotFit(IFaceMeasures Face, double Points, double Spacing, double Width, int Lines, double? Slack)
{
    private const double Smallest = 0.55;
    private const double SmallestInMargin = 0.8;
    private const double Step = 0.05;

    // What is lost at the ends of broken lines, as a share of their width.
    private const double LossAtBreaks = 0.06;

    /// <summary>The size at which words fit; null if they do at the house's own.</summary>
    /// <param name="words">The words.</param>
    /// <param name="fits">Whether they fit at all.</param>
    public double? SizeFor(string words, out bool fits)
    {
        fits = true;
        var least = Slack is null ? SmallestInMargin : Smallest;
        for (var share = 1.0; share > least - (Step / 2); share -= Step)
            if (Fits(words, share)) return share == 1 ? null : Math.Round(2 * Points * share) / 2;
        // What is free is not known to the point.
        fits = Slack is { } slack && Height(LinesOf(words, least), least) <= Height(Lines + 0.5, 1) + slack;
        return Math.Round(2 * Points * least) / 2;
    }

    /// <summary>Words that stand on one line, cut where they do not fit at the smallest size.</summary>
    public string Shorten(string words)
    {
        if (Slack is not null || Fits(words, SmallestInMargin)) return words;
        var shortened = words;
        while (shortened.Length > 1 && !Fits(shortened + "…", SmallestInMargin)) shortened = shortened[..Math.Max(1, shortened.TrimEnd().LastIndexOf(' '))].TrimEnd(' ', ',', ';', ':');
        return shortened + "…";
    }

    private bool Fits(string words, double share)
    {
        if (Slack is not { } slack) return Face.Width(words, Points * share) <= Width;
        return Height(LinesOf(words, share), share) <= Height(Lines, 1) + slack;
    }

    private int LinesOf(string words, double share) => Face.Width(words, Points * share) is var width && width <= Width ? 1 : (int)Math.Ceiling(width / (Width * (1 - LossAtBreaks)));

    private double Height(double lines, double share) => lines * Face.LineHeight(Points * share) * Spacing;
}
