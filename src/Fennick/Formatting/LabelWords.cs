namespace Fennick.Formatting;

/// <summary>The words that a language puts before numbers, and into lists.</summary>
/// <param name="Table">"Table" in "Table 3".</param>
/// <param name="Figure">"Figure" in "Figure 3".</param>
/// <param name="Continued">"continued" in "Table 3, continued".</param>
/// <param name="And">"and" before the last item of a list.</param>
/// <param name="Or">"or" before the last item of a list.</param>
/// <param name="Tables">"Tables" in "Tables 3 and 4".</param>
/// <param name="Figures">"Figures" in "Figures 3 and 4".</param>
public sealed record LabelWords(string Table, string Figure, string Continued, string And, string Or, string Tables, string Figures)
{
    /// <summary>The English words.</summary>
    public static LabelWords English { get; } = new("Table", "Figure", "continued", "and", "or", "Tables", "Figures");

    /// <summary>The words of a two-letter language code, or null if they are not known.</summary>
    internal static LabelWords? Of(string language) => language switch
    {
        "en" => English,
        "de" => new("Tabelle", "Abbildung", "Fortsetzung", "und", "oder", "Tabellen", "Abbildungen"),
        "fr" => new("Tableau", "Figure", "suite", "et", "ou", "Tableaux", "Figures"),
        "es" => new("Tabla", "Figura", "continuación", "y", "o", "Tablas", "Figuras"),
        "it" => new("Tabella", "Figura", "continua", "e", "o", "Tabelle", "Figure"),
        "nl" => new("Tabel", "Figuur", "vervolg", "en", "of", "Tabellen", "Figuren"),
        "pt" => new("Tabela", "Figura", "continuação", "e", "ou", "Tabelas", "Figuras"),
        "pl" => new("Tabela", "Rysunek", "cd.", "i", "lub", "Tabele", "Rysunki"),
        "sv" => new("Tabell", "Figur", "forts.", "och", "eller", "Tabeller", "Figurer"),
        _ => null,
    };
}
