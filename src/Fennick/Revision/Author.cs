using System.Globalization;
using System.Xml.Linq;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Who signs the comments and tracked changes that a document is given.</summary>
/// <param name="date">The date that they bear; none if null, so that the same inputs give the same bytes.</param>
internal sealed class Author(DateOnly? date)
{
    public const string Signature = "Fennick";

    private int last;

    /// <summary>The numbers of the document's own are below this one.</summary>
    public void StartAbove(int number) => last = Math.Max(last, number);

    public int NextId() => ++last;

    /// <summary>An element with number, author and date.</summary>
    public XElement Sign(XName name, params object?[] content) => new(name, new XAttribute(Id, NextId().ToString(CultureInfo.InvariantCulture)), new XAttribute(W + "author", Signature),
        date is { } day ? new XAttribute(W + "date", day.ToString("yyyy-MM-dd'T00:00:00Z'", CultureInfo.InvariantCulture)) : null, content);
}
