using Fennick.Diagnostics;

namespace Fennick;

/// <summary>How the numbers of pages are written.</summary>
public enum PageNumberFormat
{
    /// <summary>1, 2, 3.</summary>
    Decimal,

    /// <summary>i, ii, iii.</summary>
    LowerRoman,

    /// <summary>I, II, III.</summary>
    UpperRoman,

    /// <summary>a, b, c.</summary>
    LowerLetter,

    /// <summary>A, B, C.</summary>
    UpperLetter,
}

/// <summary>What stands between the number of a chapter and that of a page.</summary>
public enum ChapterSign
{
    /// <summary>3–12.</summary>
    EnDash,

    /// <summary>3-12.</summary>
    Hyphen,

    /// <summary>3—12.</summary>
    EmDash,

    /// <summary>3.12.</summary>
    Period,

    /// <summary>3:12.</summary>
    Colon,
}

/// <summary>How the pages of a section are numbered.</summary>
/// <param name="Format">How the numbers are written.</param>
/// <param name="Start">The number of its first page; null to count on.</param>
public sealed record PageNumbers(PageNumberFormat Format = PageNumberFormat.Decimal, int? Start = null)
{
    /// <summary>The sign between chapter and page where each chapter begins with a page 1 of its own, as in 3–12; null to count through. Headings have to be numbered.</summary>
    public ChapterSign? ByChapter { get; init; }

    /// <summary>Where they are asked for.</summary>
    public SourcePlace? Place { get; init; }
}
