using System.Globalization;

namespace Fennick.Manuscripts.Compilation;

/// <summary>The names that line directives give to steps (<c>s3</c>) and braces (<c>b5</c>).</summary>
internal static class MappedPlace
{
    public static string OfStep(int ordinal) => string.Create(CultureInfo.InvariantCulture, $"s{ordinal}");

    public static string OfBrace(int ordinal) => string.Create(CultureInfo.InvariantCulture, $"b{ordinal}");

    /// <summary>The ordinal of the step or brace; null for the program's own code.</summary>
    public static int? Resolve(string? name) =>
        name is ['s' or 'b', ..] && int.TryParse(name.AsSpan(1), NumberStyles.None, CultureInfo.InvariantCulture, out var ordinal) ? ordinal : null;
}
