namespace Fennick.Styles;

/// <summary>What kind of letters a family has, and which families are as wide: they stand in for it where it is not installed.</summary>
internal static class FontAlternatives
{
    private static readonly (string Family, string? Twin, FontKind Kind)[] Known =
    [
        ("Calibri", "Carlito", FontKind.Swiss),
        ("Cambria", "Caladea", FontKind.Roman),
        ("Arial", "Liberation Sans", FontKind.Swiss),
        ("Helvetica", "Liberation Sans", FontKind.Swiss),
        ("Times New Roman", "Liberation Serif", FontKind.Roman),
        ("Courier New", "Liberation Mono", FontKind.Modern),
        ("Georgia", "Gelasio", FontKind.Roman),
        ("Carlito", "Calibri", FontKind.Swiss),
        ("Caladea", "Cambria", FontKind.Roman),
        ("Liberation Sans", "Arial", FontKind.Swiss),
        ("Liberation Serif", "Times New Roman", FontKind.Roman),
        ("Liberation Mono", "Courier New", FontKind.Modern),
        ("Verdana", "DejaVu Sans", FontKind.Swiss),
        ("Consolas", null, FontKind.Modern),
        ("Segoe UI", null, FontKind.Swiss),
        ("Tahoma", null, FontKind.Swiss),
        ("Garamond", null, FontKind.Roman),
        ("Palatino Linotype", null, FontKind.Roman),
        ("Book Antiqua", null, FontKind.Roman),
    ];

    /// <summary>The family that stands in; null if none is known.</summary>
    public static string? TwinOf(string family) => Find(family)?.Twin;

    /// <summary>What kind of letters a family has.</summary>
    public static FontKind KindOf(string family) => Find(family)?.Kind ?? FontKind.Unknown;

    /// <summary>The family and what stands in for it, as style sheets write them.</summary>
    public static string ListOf(string family) => string.Join(", ", new[] { family, TwinOf(family) }.OfType<string>().Select(f => f.Contains(' ', StringComparison.Ordinal) ? $"'{f.Replace("'", "", StringComparison.Ordinal)}'" : f).Append(KindOf(family) switch { FontKind.Roman => "serif", FontKind.Modern => "monospace", _ => "sans-serif" }));

    private static (string Family, string? Twin, FontKind Kind)? Find(string family) =>
        Array.FindIndex(Known, k => string.Equals(k.Family, family, StringComparison.OrdinalIgnoreCase)) is >= 0 and var place ? Known[place] : null;
}

/// <summary>Kinds of letters (ECMA-376 Part 1, §17.18.30).</summary>
internal enum FontKind
{
    Unknown,
    Roman,
    Swiss,
    Modern,
}
