namespace Fennick.Layout;

/// <summary>What was done with a captioned table or figure so that its page is filled.</summary>
/// <param name="Name">What it is: "Figure 3".</param>
/// <param name="Page">The page that would have been left with room.</param>
/// <param name="Shrink">By what share of its height it is smaller; 0 if it is not.</param>
/// <param name="Ahead">How many paragraphs go ahead of it.</param>
internal sealed record LayoutRemedy(string Name, int Page, double Shrink, int Ahead)
{
    public override string ToString() => Ahead > 0
        ? $"{Name} had no room on page {Page}: {(Ahead == 1 ? "the paragraph" : $"the {Ahead} paragraphs")} behind it {(Ahead == 1 ? "goes" : "go")} ahead of it"
        : string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{Name} is {100 * Shrink:0.0} % less high, so that it has room on page {Page}");
}
