using System.Collections.Immutable;
using Fennick.Documents;
using Fennick.Styles;

namespace Fennick.Flow;

/// <summary>The number of a heading.</summary>
/// <param name="Shown">As it stands before the heading.</param>
/// <param name="Full">As references name it: with those of the headings above it, and without a full stop at its end.</param>
/// <param name="Own">That of the heading alone.</param>
/// <param name="HasWord">Whether it says itself what it is the number of, as in "Chapter 2".</param>
internal sealed record HeadingNumber(string Shown, string Full, string Own, bool HasWord);

/// <summary>Counts headings as the word processor does.</summary>
internal static class HeadingNumbers
{
    private const int Deepest = 9;

    /// <summary>The numbers of the headings that have one.</summary>
    /// <param name="entries">All headings in their order.</param>
    /// <param name="levels">How the house numbers each level.</param>
    /// <param name="appendices">How those of appendices are numbered.</param>
    public static IReadOnlyDictionary<BlockId, HeadingNumber> Count(ImmutableArray<ContentsEntry> entries, ImmutableArray<HeadingLevel?> levels, ImmutableArray<HeadingLevel?> appendices)
    {
        var numbers = new Dictionary<BlockId, HeadingNumber>();
        Count(entries.Where(e => !e.Target.IsAppendix), levels, numbers);
        Count(entries.Where(e => e.Target.IsAppendix), appendices, numbers);
        return numbers;
    }

    private static void Count(IEnumerable<ContentsEntry> entries, ImmutableArray<HeadingLevel?> levels, Dictionary<BlockId, HeadingNumber> numbers)
    {
        if (levels.IsEmpty) return;
        var counts = new int[Deepest];
        var above = new string[Deepest + 1];
        above[0] = "";
        foreach (var entry in entries)
        {
            if (entry.Target.Kind != NumberedKind.Section || !entry.IsCounted || levels[Math.Min(entry.Level, levels.Length) - 1] is not { } level) continue;
            counts[level.Index]++;
            counts.AsSpan(level.Index + 1).Clear();
            var shown = level.Write(levels, counts);
            var named = shown.TrimEnd('.');
            var full = level.Pattern.Contains("%1", StringComparison.Ordinal) ? named : above[level.Index] + named;
            Array.Fill(above, full, level.Index + 1, Deepest - level.Index);
            numbers[entry.Target.Block] = new HeadingNumber(shown, full, level.Sign(counts[level.Index]), level.HasWord);
        }
    }
}
