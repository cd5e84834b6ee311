using Fennick.Diagnostics;

namespace Fennick.Revision;

/// <summary>Something printed in a document, and where it comes from.</summary>
/// <param name="Text">It as it stands in the document now.</param>
/// <param name="Where">Where in the document: a caption, a heading.</param>
/// <param name="Expression">What gave it: an expression in braces, or the step of a table or figure.</param>
/// <param name="Format">How it was to be written; null if nothing was said.</param>
/// <param name="Value">Its value in full, as it was before it became text; null if that is not known.</param>
/// <param name="Place">Where in the manuscript that stands; null if it is not known.</param>
public sealed record TracedItem(string Text, string Where, string Expression, string? Format, string? Value, SourcePlace? Place)
{
    /// <summary>What was written there, if people have changed it since; null if not.</summary>
    public string? Written { get; init; }
}
