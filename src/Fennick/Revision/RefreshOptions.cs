namespace Fennick.Revision;

/// <summary>How what the manuscript says is proposed where people have changed the same thing.</summary>
public enum ProposalForm
{
    /// <summary>As a comment on theirs.</summary>
    Comment,

    /// <summary>As a tracked change of theirs, which they accept or reject.</summary>
    Tracked,
}

/// <summary>How a document is refreshed.</summary>
public sealed record RefreshOptions
{
    /// <summary>How what the manuscript says is proposed where people have changed the same thing.</summary>
    public ProposalForm Proposals { get; init; }

    /// <summary>Whether everything that is refreshed is a tracked change.</summary>
    public bool IsTracked { get; init; }
}
