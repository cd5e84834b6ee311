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

/// <summary>How the pages of a section are numbered.</summary>
/// <param name="Format">How the numbers are written.</param>
/// <param name="Start">The number of its first page; null to count on.</param>
public sealed record PageNumbers(PageNumberFormat Format = PageNumberFormat.Decimal, int? Start = null);
