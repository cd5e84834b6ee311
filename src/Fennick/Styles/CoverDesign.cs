namespace Fennick.Styles;

/// <summary>A cover: a panel over the whole width of the paper that holds the title, and under it who wrote the report and when.</summary>
/// <param name="Share">The share of the page's height that the panel takes.</param>
/// <param name="Fill">The colour of the panel.</param>
/// <param name="Rule">The rule under the panel.</param>
internal sealed record CoverDesign(double Share, ThemeColour Fill, TableRule Rule)
{
    /// <summary>The share of the last page's height that its panel takes.</summary>
    public static double LastShare => 0.3;

    /// <summary>The name of its table style.</summary>
    public const string StyleName = "Cover";

    /// <summary>The id of that style.</summary>
    public string StyleId { get; init; } = StyleName;
}
