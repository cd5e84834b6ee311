namespace Fennick.Formatting;

/// <summary>The words that a language puts before numbers.</summary>
/// <param name="Table">"Table" in "Table 3".</param>
/// <param name="Figure">"Figure" in "Figure 3".</param>
/// <param name="Continued">"continued" in "Table 3, continued".</param>
public sealed record LabelWords(string Table, string Figure, string Continued)
{
    /// <summary>The English words.</summary>
    public static LabelWords English { get; } = new("Table", "Figure", "continued");

    /// <summary>The words of a two-letter language code, or null if they are not known.</summary>
    internal static LabelWords? Of(string language) => language switch
    {
        "en" => English,
        "de" => new("Tabelle", "Abbildung", "Fortsetzung"),
        "fr" => new("Tableau", "Figure", "suite"),
        "es" => new("Tabla", "Figura", "continuación"),
        "it" => new("Tabella", "Figura", "continua"),
        "nl" => new("Tabel", "Figuur", "vervolg"),
        "pt" => new("Tabela", "Figura", "continuação"),
        "pl" => new("Tabela", "Rysunek", "cd."),
        "sv" => new("Tabell", "Figur", "forts."),
        _ => null,
    };
}
