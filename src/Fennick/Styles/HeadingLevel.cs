using System.Collections.Immutable;
using System.Globalization;
using System.Text.RegularExpressions;
using Fennick.Formatting;

namespace Fennick.Styles;

/// <summary>How the headings of a level are numbered.</summary>
/// <param name="Index">The level of the list, from 0.</param>
/// <param name="Pattern">The number with a <c>%1</c> for that of the first level, and so on.</param>
/// <param name="Format">How its own number is written; null if it is not written at all.</param>
/// <param name="Start">The number of the first.</param>
internal sealed partial record HeadingLevel(int Index, string Pattern, PageNumberFormat? Format, int Start)
{
    private const int Count = 6;

    /// <summary>1, 1.1, 1.1.1 and so on.</summary>
    public static ImmutableArray<HeadingLevel?> Decimal { get; } =
        [.. Enumerable.Range(0, Count).Select(i => new HeadingLevel(i, string.Join('.', Enumerable.Range(1, i + 1).Select(n => string.Create(CultureInfo.InvariantCulture, $"%{n}"))), PageNumberFormat.Decimal, 1))];

    /// <summary>A, A.1, A.1.1 and so on where the house numbers headings of these levels; "Appendix A" where its own first level has no number, or says itself what it is.</summary>
    /// <param name="levels">How the house numbers the headings of chapters.</param>
    /// <param name="word">The word for an appendix.</param>
    public static ImmutableArray<HeadingLevel?> OfAppendices(ImmutableArray<HeadingLevel?> levels, string word)
    {
        var isPlain = levels is [{ HasWord: false }, ..];
        return [.. Decimal.OfType<HeadingLevel>().Select(own => own.Index == 0 ? own with { Pattern = isPlain ? "%1" : $"{word} %1", Format = PageNumberFormat.UpperLetter } : own.Index < levels.Length && levels[own.Index] is not null ? own : null)];
    }

    /// <summary>Whether there is anything to be seen of it.</summary>
    public bool IsShown => Format is not null || !string.IsNullOrWhiteSpace(Placeholder().Replace(Pattern, ""));

    /// <summary>Whether the number itself says what it is the number of, as in "Chapter 2".</summary>
    public bool HasWord => Placeholder().Replace(Pattern, "").Any(char.IsLetter);

    /// <summary>Its own number, as the word processor writes it.</summary>
    public string Sign(int count) => Format is { } format ? Counting.Write(count + Start - 1, format) : "";

    /// <summary>The number as it stands before a heading.</summary>
    /// <param name="levels">All levels.</param>
    /// <param name="counts">How many headings of each level there have been, under the last one of the level above.</param>
    public string Write(IReadOnlyList<HeadingLevel?> levels, int[] counts) => Placeholder().Replace(Pattern, match =>
    {
        var index = match.ValueSpan[1] - '1';
        return levels.FirstOrDefault(l => l?.Index == index)?.Sign(counts[index]) ?? "";
    });

    [GeneratedRegex("%[1-9]")]
    private static partial Regex Placeholder();
}
