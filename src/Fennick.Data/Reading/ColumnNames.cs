namespace Fennick.Data.Reading;

/// <summary>The names of columns.</summary>
internal static class ColumnNames
{
    /// <summary>Whether a name is that of a column: case, <c>_</c>, <c>-</c> and spaces do not count.</summary>
    public static bool AreAlike(string name, string column) => Fold(name) == Fold(column);

    /// <summary>What counts of a name.</summary>
    public static string Fold(string name) => string.Concat(name.Where(char.IsLetterOrDigit)).ToLowerInvariant();
}
