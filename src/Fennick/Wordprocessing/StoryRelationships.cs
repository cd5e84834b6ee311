namespace Fennick.Wordprocessing;

/// <summary>What one story of a document, its body or its notes, relates to; each story has a part for its relationships.</summary>
internal sealed class StoryRelationships
{
    private readonly List<string> links = [];
    private readonly Dictionary<string, int> linkPlaces = new(StringComparer.Ordinal);

    /// <summary>The outside targets in the order of their relationships.</summary>
    public IReadOnlyList<string> Links => links;

    /// <summary>Which of the document's charts it holds.</summary>
    public SortedSet<int> Charts { get; } = [];

    /// <summary>Which of the document's pictures it holds.</summary>
    public SortedSet<int> Pictures { get; } = [];

    public bool IsEmpty => links.Count == 0 && Charts.Count == 0 && Pictures.Count == 0;

    /// <summary>Gives an outside target its relationship; the result is the relationship's id.</summary>
    public string AddLink(string target)
    {
        if (!linkPlaces.TryGetValue(target, out var index))
        {
            linkPlaces[target] = index = links.Count;
            links.Add(target);
        }
        return RelationshipsPart.LinkId(index);
    }
}
