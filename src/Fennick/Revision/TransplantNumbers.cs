using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Numbers and names that nothing in a document has yet.</summary>
internal sealed class TransplantNumbers
{
    private int lastBookmark;
    private int lastDrawing;

    /// <param name="document">The document that things are brought into.</param>
    public TransplantNumbers(WordDocument document)
    {
        foreach (var element in document.Stories.SelectMany(s => document.Open(s).Descendants()))
        {
            if (element.Name == WP + "docPr") lastDrawing = Math.Max(lastDrawing, NumberIn(element.Attribute("id")) ?? 0);
            else if (element.Is("bookmarkStart"))
            {
                lastBookmark = Math.Max(lastBookmark, NumberIn(element.Attribute(Id)) ?? 0);
                if ((string?)element.Attribute(Name) is { } name) Bookmarks.Add(name);
            }
        }
    }

    /// <summary>The names of its bookmarks.</summary>
    public HashSet<string> Bookmarks { get; } = new(StringComparer.OrdinalIgnoreCase);

    public int NextBookmark() => ++lastBookmark;

    public int NextDrawing() => ++lastDrawing;
}
