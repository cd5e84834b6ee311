using System.Globalization;

namespace Fennick.Diagnostics;

/// <summary>A place in a manuscript, a script or a data file.</summary>
/// <param name="File">The file as the user named it.</param>
/// <param name="Line">The line, from 1; 0 where the file as a whole is meant, -1 for what is not a file.</param>
/// <param name="Column">The column, from 1; 0 where the line as a whole is meant.</param>
public sealed record SourcePlace(string File, int Line, int Column)
{
    /// <summary>No place that is known.</summary>
    internal static SourcePlace Nowhere { get; } = new("", -1, 0);

    /// <summary>The place as editors and terminals understand it: <c>file:line:column</c>.</summary>
    public override string ToString() => Line < 0 ? File : string.Create(CultureInfo.InvariantCulture, $"{File}:{Math.Max(1, Line)}:{Math.Max(1, Column)}");
}
