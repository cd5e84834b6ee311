namespace Fennick.Citations;

/// <summary>How sources are cited.</summary>
public enum CitationStyle
{
    /// <summary>"(Hale 2019)"; the list of sources is sorted by author.</summary>
    AuthorDate,

    /// <summary>"[3]"; the list of sources is in the order of the text.</summary>
    Numbered,
}
