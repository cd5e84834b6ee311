using System.Collections.Immutable;
using Fennick.Diagnostics;

namespace Fennick.Houses;

/// <summary>What Fennick finds in a house.</summary>
public sealed record HouseFindings
{
    /// <summary>Each role with the style that it wears.</summary>
    public required ImmutableArray<RoleFinding> Roles { get; init; }

    /// <summary>The width of the page on which reports stand.</summary>
    public required Length PageWidth { get; init; }

    /// <summary>The height of that page.</summary>
    public required Length PageHeight { get; init; }

    /// <summary>The width of its text.</summary>
    public required Length TextWidth { get; init; }

    /// <summary>The families that the styles are set in, and whether their widths are known; tables and pages are laid out by those of a similar family if not.</summary>
    public required ImmutableArray<(string Family, bool IsKnown)> Families { get; init; }

    /// <summary>The slots by their names, and where each stands.</summary>
    public required ImmutableArray<(string Name, string Place)> Slots { get; init; }

    /// <summary>What becomes of its own contents; empty for one of Fennick's own houses.</summary>
    public required string Contents { get; init; }

    /// <summary>The headers and footers.</summary>
    public required ImmutableArray<string> Margins { get; init; }

    /// <summary>The names of the rulings that tables can be drawn with.</summary>
    public required ImmutableArray<string> Rulings { get; init; }

    /// <summary>What deserves attention.</summary>
    public required ImmutableArray<Diagnostic> Diagnostics { get; init; }
}

/// <summary>The style that a role wears.</summary>
/// <param name="Role">The role, by the name that <c>house.style</c> takes.</param>
/// <param name="Style">The name of the style.</param>
/// <param name="Origin">How it was found.</param>
/// <param name="Look">Its family, its size and what else makes it.</param>
public sealed record RoleFinding(string Role, string Style, string Origin, string Look);
