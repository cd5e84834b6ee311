using System.Collections.Frozen;
using System.Globalization;
using System.Text.RegularExpressions;

namespace Fennick.Schema;

/// <summary>What a value may be: one of some words, a whole number between two others, or a text of a form; or one of several of these, or all of several.</summary>
internal sealed class ValueRule(string rule)
{
    private readonly Lazy<Func<string, bool>[][]> alternatives = new(() => [.. rule.Split(" and ").Select(r => r.Split(" or ").Select(Read).ToArray())]);

    /// <summary>Whether a value is what the rule says.</summary>
    public bool Allows(string value) => Array.TrueForAll(alternatives.Value, rule => Array.Exists(rule, a => a(value)));

    private static Func<string, bool> Read(string rule)
    {
        var rest = rule[(rule.IndexOf(' ') + 1)..];
        switch (rule.Split(' ')[0])
        {
            case "words":
                var words = rest.Split(' ').Select(w => w == "\"\"" ? "" : w).ToFrozenSet();
                return words.Contains;
            case "whole":
                // Readers keep numbers that may not be negative as ones that may, and have rules of their own against larger ones.
                var ends = rest.Split(' ').Select(e => decimal.Parse(e, CultureInfo.InvariantCulture)).Select(e => e == uint.MaxValue ? int.MaxValue : e).ToArray();
                return value => decimal.TryParse(value, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number) && number >= ends[0] && number <= ends[1];
            default:
                var form = new Regex($@"\A(?:{rest})\z", RegexOptions.CultureInvariant | RegexOptions.NonBacktracking);
                return form.IsMatch;
        }
    }
}
