namespace Fennick.Formatting;

/// <summary>The words that a language puts before numbers.</summary>
/// <param name="Table">"Table" in "Table 3".</param>
/// <param name="Figure">"Figure" in "Figure 3".</param>
public sealed record LabelWords(string Table, string Figure)
{
    /// <summary>The English words.</summary>
    public static LabelWords English { get; } = new("Table", "Figure");

    /// <summary>The words of a two-letter language code, or null if they are not known.</summary>
    internal static LabelWords? Of(string language) => language switch
    {
        "en" => English,
        "de" => new("Tabelle", "Abbildung"),
        "fr" => new("Tableau", "Figure"),
        "es" => new("Tabla", "Figura"),
        "it" => new("Tabella", "Figura"),
        "nl" => new("Tabel", "Figuur"),
        "pt" => new("Tabela", "Figura"),
        "pl" => new("Tabela", "Rysunek"),
        "sv" => new("Tabell", "Figur"),
        _ => null,
    };
}
