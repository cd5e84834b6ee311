namespace Fennick.Revision;

/// <summary>What begins anew with each document of a join; what does not goes on.</summary>
[Flags]
public enum JoinRestart
{
    /// <summary>Everything goes on.</summary>
    None = 0,

    /// <summary>The numbers of pages begin with 1.</summary>
    Pages = 1,

    /// <summary>Footnotes and endnotes begin anew.</summary>
    Notes = 2,

    /// <summary>Captions count from 1, and so do numbered headings.</summary>
    Captions = 4,
}

/// <summary>How documents are joined.</summary>
public sealed record JoinOptions
{
    /// <summary>The document, from 1, whose headers and footers all get; each keeps its own if null.</summary>
    public int? HeadersOf { get; init; }

    /// <summary>What begins anew with each document.</summary>
    public JoinRestart Restart { get; init; }
}
