namespace Fennick.Documents;

/// <summary>A series of captioned things of the report's own, such as boxes or maps, with numbers of its own.</summary>
/// <param name="Name">What it is called in the manuscript or in code.</param>
/// <param name="Word">The word before a number: "Box" in "Box 3".</param>
/// <param name="Plural">The word before several, and over the list of them: "Boxes".</param>
public sealed record CaptionSeries(string Name, string Word, string Plural);
