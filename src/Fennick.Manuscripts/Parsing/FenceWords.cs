using Fennick.Diagnostics;
using Fennick.Manuscripts.Steps;

namespace Fennick.Manuscripts.Parsing;

/// <summary>What stands at the beginning of a fence. Code that was meant to run must not become a listing for readers because of a slip.</summary>
internal static class FenceWords
{
    /// <summary>The language of steps.</summary>
    public const string Language = "csharp";

    /// <summary>What steps begin with that run a program of another language.</summary>
    public const string Script = "script";

    private const string Settings = "manuscript";
    private static readonly string[] OtherNames = ["cs", "csx", "c#", "c-sharp", "dotnet", "csharp-script"];

    // What people forget the language before, or misspell; `text` alone is a listing of plain text.
    private static readonly string[] OwnWords = [.. StepRoles.Names.Where(r => r != "text"), Settings];

    /// <summary>Whether a fence of this first word and what is behind it is a step.</summary>
    public static bool BeginsStep(string info, string arguments) => info is Language or Script && arguments.Length > 0;

    /// <summary>What is wrong with the words of a fence that is not a step; null if it is a listing in a language, or a step.</summary>
    /// <param name="info">Its first word.</param>
    /// <param name="arguments">What stands behind that.</param>
    public static (string Message, string Suggestion)? FindMistake(string info, string arguments)
    {
        if (info == Script && arguments.Length == 0) return ("`script` alone is neither a step nor a listing", $"write `{Script} table NAME`, or the name of the listing's language");
        if (info is Language or Script or "" || (info == Settings && arguments.Length == 0)) return null;
        var said = $"{info} {arguments}".TrimEnd();
        var plain = said.Trim('{', '}', '.', ' ');
        var words = plain.Split([' ', ',', ':'], 2, StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        var (word, rest) = (words.Length == 0 ? "" : words[0].ToLowerInvariant(), words.Length < 2 ? "" : words[1]);
        var neither = $"`{said}` is neither a step nor a listing";
        if (word == Language || OtherNames.Contains(word) || (StepRoles.Find(rest.Split(' ')[0]) is not null && Nearest.Find(word, [Language]) is not null))
            return (neither, rest.Length == 0 ? $"write `{Language}` for a listing, or `{Language} prepare` for a step" : $"write `{Language} {rest}`");
        if (OwnWords.Contains(word) || (word == "text" && rest.Length > 0)) return word == Settings ? ($"`{said}` is not the beginning of settings", $"write `{Settings}` alone") : (neither, $"write `{Language} {plain}`");
        if (word.Length > 4 && Nearest.Find(word, OwnWords) is { Length: > 4 } near) return (neither, near == Settings ? $"did you mean `{Settings}`?" : $"did you mean `{Language} {near}{(rest.Length == 0 ? "" : $" {rest}")}`?");
        return said == word || plain == said && rest.Length == 0 ? null
            : ($"`{said}` is not the beginning of a listing", $"write the name of its language alone, `{(words.Length == 0 ? Language : words[0])}`; a step begins with `{Language}`");
    }
}
