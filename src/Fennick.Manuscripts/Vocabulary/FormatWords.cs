using System.Collections.Immutable;

namespace Fennick.Manuscripts.Vocabulary;

/// <summary>What formats give.</summary>
internal static class FormatWords
{
    /// <summary>The named formats.</summary>
    public static ImmutableArray<ReferenceEntry> All { get; } =
    [
        new("`quoted`", "a text in the quotation marks of the language"),
        new("`money EUR`, `money EUR 0`", "an amount as the language writes it"),
        new("`unit kg`", "the value, an unbreakable space, the unit"),
        new("`percent`, `percent 1`", "a share as a percentage"),
        new("`number 2`, `signed 1`, `thousands`", "decimals; with a sign also above zero; a grouped whole number"),
        new("`ordinal`, `words`", "3rd; three"),
        new("`date d MMMM`", "a date in a pattern"),
        new("`list`, `list and`, `list or`", "the items of a sequence, joined in the language"),
        new("`title`, `sentence`, `upper`, `lower`", "a text in other capitals"),
        new("`p-value`, `p-value 2`", "a p-value with its sign, to stand behind the letter: \"= 0.032\", \"< 0.001\", \"> 0.99\""),
        new("`p-value bare`, `p-value bare 2`", "the same with a sign only where it needs one: \"0.032\", \"< 0.001\""),
        new("`power-of-ten -5 2`", "a number in units of 10⁻⁵ with two decimals: \"1.23 × 10⁻⁵\""),
        new("`interval`, `interval 1`", "two ends in brackets"),
    ];
}
