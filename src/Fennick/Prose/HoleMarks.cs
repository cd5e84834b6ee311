namespace Fennick.Prose;

/// <summary>Stand-ins for braces while Markdown is parsed.</summary>
/// <remarks>
/// Beside emphasis a brace must count as a letter, or <c>**{x}**kg</c> is not bold. So before parsing each brace becomes a
/// noncharacter of the same length, which Markdown takes for a letter, and every text that comes out is restored. Positions stay true.
/// </remarks>
internal static class HoleMarks
{
    public const char Open = '\uFDD0';
    public const char Close = '\uFDD1';

    private const char Replacement = '\uFFFD';

    /// <summary>Puts the marks in place of braces.</summary>
    public static string Mark(string text) => Clean(text).Replace('{', Open).Replace('}', Close);

    /// <summary>Puts the braces back.</summary>
    public static string Restore(string text) =>
        text.AsSpan().IndexOfAny(Open, Close) < 0 ? text : text.Replace(Open, '{').Replace(Close, '}');

    /// <summary>Takes away marks that a text holds by itself; they are noncharacters, and no text should.</summary>
    public static string Clean(string text) =>
        text.AsSpan().IndexOfAny(Open, Close) < 0 ? text : text.Replace(Open, Replacement).Replace(Close, Replacement);
}
