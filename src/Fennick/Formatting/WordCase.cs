using System.Collections.Frozen;

namespace Fennick.Formatting;

/// <summary>The grammatical case of a word.</summary>
public enum WordCase
{
    /// <summary>As it stands in a caption.</summary>
    Nominative,

    /// <summary>"der Inhalt des Abschnitts 3".</summary>
    Genitive,

    /// <summary>"in den Abschnitten 3 und 4".</summary>
    Dative,

    /// <summary>"zobacz tabelę 3".</summary>
    Accusative,

    /// <summary>"zgodnie z tabelą 3".</summary>
    Instrumental,

    /// <summary>"w tabeli 3".</summary>
    Locative,
}

/// <summary>The cases of the words before numbers; languages that are not here change nothing.</summary>
internal static class WordCases
{
    // Each line: the nominative, then genitive, dative, accusative, instrumental and locative.
    private const string German = """
        Abschnitt|Abschnitts|Abschnitt|Abschnitt|Abschnitt|Abschnitt
        Abschnitte|Abschnitte|Abschnitten|Abschnitte|Abschnitten|Abschnitten
        Anhang|Anhangs|Anhang|Anhang|Anhang|Anhang
        Anhänge|Anhänge|Anhängen|Anhänge|Anhängen|Anhängen
        """;

    private const string Polish = """
        Tabela|Tabeli|Tabeli|Tabelę|Tabelą|Tabeli
        Tabele|Tabel|Tabelom|Tabele|Tabelami|Tabelach
        Rysunek|Rysunku|Rysunkowi|Rysunek|Rysunkiem|Rysunku
        Rysunki|Rysunków|Rysunkom|Rysunki|Rysunkami|Rysunkach
        Równanie|Równania|Równaniu|Równanie|Równaniem|Równaniu
        Równania|Równań|Równaniom|Równania|Równaniami|Równaniach
        Rozdział|Rozdziału|Rozdziałowi|Rozdział|Rozdziałem|Rozdziale
        Rozdziały|Rozdziałów|Rozdziałom|Rozdziały|Rozdziałami|Rozdziałach
        Dodatek|Dodatku|Dodatkowi|Dodatek|Dodatkiem|Dodatku
        Dodatki|Dodatków|Dodatkom|Dodatki|Dodatkami|Dodatkach
        """;

    private static readonly FrozenDictionary<string, FrozenDictionary<string, string[]>> Known = new Dictionary<string, string> { ["de"] = German, ["pl"] = Polish }
        .ToFrozenDictionary(l => l.Key, l => l.Value.Split('\n', StringSplitOptions.TrimEntries).Select(line => line.Split('|')).ToFrozenDictionary(words => words[0]));

    /// <summary>A word in a case; as it is where its language changes nothing.</summary>
    public static string In(WordCase wanted, string word, Language language) =>
        wanted != WordCase.Nominative && Known.TryGetValue(language.Culture.TwoLetterISOLanguageName, out var words) && words.TryGetValue(word, out var cases) ? cases[(int)wanted] : word;
}
