namespace Fennick.Styles;

/// <summary>The pages of a house around the body of a report, as far as they can be told without laying them out.</summary>
/// <param name="FirstPage">The number of the page on which the body begins.</param>
/// <param name="Height">How much of that page is taken before it, in points.</param>
/// <param name="PagesBeside">How many pages of the document hold nothing of the body.</param>
internal readonly record struct HouseLead(int FirstPage, double Height, int PagesBeside);
