using System.Collections.Concurrent;
using System.Collections.Frozen;
using System.Globalization;

namespace Fennick.Formatting;

/// <summary>What tables and their notes say, in all languages: for each a file of lines <c>English|the same in the language</c>.</summary>
internal static class Phrases
{
    private static readonly ConcurrentDictionary<string, FrozenDictionary<string, string>> Known = new(StringComparer.Ordinal);

    /// <summary>The languages that have words of their own.</summary>
    public static IEnumerable<string> Languages => typeof(Phrases).Assembly.GetManifestResourceNames().Select(LanguageOf).OfType<string>().Order(StringComparer.Ordinal);

    /// <summary>A phrase in a language; in English where the language has none.</summary>
    public static string Find(string english, Language language) => language.Culture.TwoLetterISOLanguageName is "en" ? english : Of(language.Culture.TwoLetterISOLanguageName).GetValueOrDefault(english, english);

    /// <summary>All phrases of a language by the English ones.</summary>
    public static FrozenDictionary<string, string> Of(string language) => Known.GetOrAdd(language, Read);

    /// <summary>A text as the beginning of a sentence.</summary>
    public static string Capital(string text, Language language) => text.Length == 0 ? text : char.ToUpper(text[0], language.Culture) + text[1..];

    private static FrozenDictionary<string, string> Read(string language)
    {
        using var stream = typeof(Phrases).Assembly.GetManifestResourceStream(NameOf(language));
        if (stream is null) return FrozenDictionary<string, string>.Empty;
        using var reader = new StreamReader(stream);
        var phrases = new Dictionary<string, string>(StringComparer.Ordinal);
        while (reader.ReadLine() is { } line)
            if (line.Split('|') is [var english, var own]) phrases.Add(english, own);
        return phrases.ToFrozenDictionary(StringComparer.Ordinal);
    }

    private static string NameOf(string language) => string.Create(CultureInfo.InvariantCulture, $"Fennick.Formatting.Phrases.{language}.txt");

    private static string? LanguageOf(string resource) => resource.StartsWith("Fennick.Formatting.Phrases.", StringComparison.Ordinal) ? resource.Split('.')[^2] : null;
}
