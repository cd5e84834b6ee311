using Fennick.Diagnostics;
using Fennick.Records;

namespace Fennick.Revision;

/// <summary>What the stages of one refresh share.</summary>
internal sealed class RefreshPass
{
    private readonly List<Change> changes = [];

    public RefreshPass(WordDocument theirs, WordDocument fresh, DocumentRecord before, RefreshOptions options, DateOnly? date)
    {
        (Theirs, Fresh, Options, Date) = (theirs, fresh, options, date);
        Now = fresh.Record!;
        Places = Matching.Find(before, theirs);
        FreshPlaces = Matching.Find(Now, fresh);
        Succession = Succession.Of(before, Now);
        Transplant = new Transplant(fresh, theirs);
        Author = new Author(date);
        Author.StartAbove(theirs.Stories.SelectMany(s => theirs.Open(s).Descendants()).Where(e => e.Is("ins") || e.Is("del") || e.Is("rPrChange")).Select(e => int.TryParse((string?)e.Attribute(WordNames.Id), out var id) ? id : 0).DefaultIfEmpty(0).Max());
        Proposals = new Proposals(theirs, date);
    }

    /// <summary>The document that people have edited.</summary>
    public WordDocument Theirs { get; }

    /// <summary>What the manuscript gives now.</summary>
    public WordDocument Fresh { get; }

    /// <summary>What was written of that.</summary>
    public DocumentRecord Now { get; }

    public RefreshOptions Options { get; }

    public DateOnly? Date { get; }

    /// <summary>What has become of what was written.</summary>
    public Matching Places { get; }

    /// <summary>Where what is written now stands in the fresh document.</summary>
    public Matching FreshPlaces { get; }

    public Succession Succession { get; }

    public Transplant Transplant { get; }

    public Author Author { get; }

    public Proposals Proposals { get; }

    /// <summary>Who signs what is refreshed; null if that is not tracked.</summary>
    public Author? Tracker => Options.IsTracked ? Author : null;

    public IReadOnlyList<Change> Changes => changes;

    /// <summary>What was not refreshed, because people have changed it: by the block of the fresh record and the number of the segment, with what they had before them.</summary>
    public Dictionary<(RecordedBlock Block, int Segment), string> Unresolved { get; } = [];

    /// <summary>The same for cells: the keys of what they had before them.</summary>
    public Dictionary<(RecordedTable Table, int Row, int Cell), string> UnresolvedCells { get; } = [];

    /// <summary>What people have written into paragraphs of the manuscript.</summary>
    public Dictionary<ReadParagraph, string> OwnWords { get; } = new(ReferenceEqualityComparer.Instance);

    /// <summary>What is another now: what was written, what is written now, and where that comes from.</summary>
    public List<(string Before, string Now, string What, SourcePlace? Place)> Outdated { get; } = [];

    public void Add(ChangeKind kind, string what, string where, string? before, string? after, SourcePlace? place) => changes.Add(new Change(kind, what, where, before, after, place is { Line: >= 0 } ? place : null));
}
