using System.Collections.Immutable;
using System.Text.RegularExpressions;

namespace Fennick.Manuscripts.Vocabulary;

/// <summary>A word of Fennick's, or several that belong together, and what is to be known of it.</summary>
/// <param name="Form">How it is written, in Markdown: each form in backticks.</param>
/// <param name="Text">What it means, in Markdown; links start from the folder of the pages.</param>
internal sealed partial record ReferenceEntry(string Form, string Text)
{
    /// <summary>Its forms, as they are written.</summary>
    public ImmutableArray<string> Forms => [.. Quoted().Matches(Form).Select(m => m.Groups[1].Value)];

    /// <summary>Its text without the marks of Markdown.</summary>
    public string PlainText => Link().Replace(Text, "$1").Replace("`", "", StringComparison.Ordinal);

    /// <summary>Whether it is about a word: one of its forms is that, or begins with it.</summary>
    public bool IsAbout(string word) => Forms.Any(form =>
    {
        var plain = form.Trim('{', '}', '#', '$', '…', ' ');
        if (form.StartsWith("# Heading {", StringComparison.Ordinal)) plain = form["# Heading {".Length..].TrimEnd('}');
        var wanted = word.Trim('{', '}', ' ');
        return wanted.Length > 0 && (plain.Equals(wanted, StringComparison.OrdinalIgnoreCase) || (plain.StartsWith(wanted, StringComparison.OrdinalIgnoreCase) && !char.IsLetterOrDigit(plain[wanted.Length]) && plain[wanted.Length] is not ('.' or '-' or '_')));
    });

    [GeneratedRegex("`([^`]+)`")]
    private static partial Regex Quoted();

    [GeneratedRegex(@"\[([^\]]+)\]\([^)]+\)")]
    private static partial Regex Link();
}
