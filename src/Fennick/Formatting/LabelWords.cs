namespace Fennick.Formatting;

/// <summary>The words that a language puts before numbers, and into lists.</summary>
/// <param name="Table">"Table" in "Table 3".</param>
/// <param name="Figure">"Figure" in "Figure 3".</param>
/// <param name="Continued">"continued" in "Table 3, continued".</param>
/// <param name="And">"and" before the last item of a list.</param>
/// <param name="Or">"or" before the last item of a list.</param>
public sealed record LabelWords(string Table, string Figure, string Continued, string And, string Or)
{
    /// <summary>The English words.</summary>
    public static LabelWords English { get; } = new("Table", "Figure", "continued", "and", "or");

    /// <summary>The words of a two-letter language code, or null if they are not known.</summary>
    internal static LabelWords? Of(string language) => language switch
    {
        "en" => English,
        "de" => new("Tabelle", "Abbildung", "Fortsetzung", "und", "oder"),
        "fr" => new("Tableau", "Figure", "suite", "et", "ou"),
        "es" => new("Tabla", "Figura", "continuación", "y", "o"),
        "it" => new("Tabella", "Figura", "continua", "e", "o"),
        "nl" => new("Tabel", "Figuur", "vervolg", "en", "of"),
        "pt" => new("Tabela", "Figura", "continuação", "e", "ou"),
        "pl" => new("Tabela", "Rysunek", "cd.", "i", "lub"),
        "sv" => new("Tabell", "Figur", "forts.", "och", "eller"),
        _ => null,
    };
}
