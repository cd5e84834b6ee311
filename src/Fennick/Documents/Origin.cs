using System.Globalization;
using Fennick.Diagnostics;

namespace Fennick.Documents;

/// <summary>Where a value comes from.</summary>
/// <param name="Expression">What gave it.</param>
/// <param name="Format">How it was to be written; null if nothing was said.</param>
/// <param name="Value">The value as it was before it became text, in full.</param>
/// <param name="Place">Where the expression stands.</param>
internal sealed record Origin(string Expression, string? Format, string Value, SourcePlace Place)
{
    private const int LongestValue = 500;

    /// <summary>Text that a value has become as a whole, with where it comes from.</summary>
    public static TextInline Mark(TextInline text, string expression, string? format, object? value, SourcePlace place) =>
        text with { Origins = [new OriginRange(0, text.Text.Length, new Origin(expression, format, Full(value, text.Text), place))] };

    /// <summary>A value in full: a text that is very long by its beginning, and what has no text of its own as it was written.</summary>
    public static string Full(object? value, string written)
    {
        var full = value is null ? "" : value as string ?? (value is IFormattable plain ? plain.ToString(null, CultureInfo.InvariantCulture) : value is bool yes ? yes ? "true" : "false" : written);
        return full.Length > LongestValue ? $"{full[..LongestValue]}…" : full;
    }
}

/// <summary>A stretch of a text that a value has become.</summary>
/// <param name="Start">Where it starts.</param>
/// <param name="Length">How long it is.</param>
/// <param name="Origin">Where it comes from.</param>
internal readonly record struct OriginRange(int Start, int Length, Origin Origin);
