using System.Text.RegularExpressions;

namespace Fennick.Formatting;

/// <summary>The words that a language puts before numbers, into lists, and around what is quoted.</summary>
public sealed record LabelWords
{
    /// <summary>"Table" in "Table 3".</summary>
    public required string Table { get; init; }

    /// <summary>"Tables" in "Tables 3 and 4".</summary>
    public required string Tables { get; init; }

    /// <summary>"Figure" in "Figure 3".</summary>
    public required string Figure { get; init; }

    /// <summary>"Figures" in "Figures 3 and 4".</summary>
    public required string Figures { get; init; }

    /// <summary>"Equation" in "Equation (3)".</summary>
    public required string Equation { get; init; }

    /// <summary>"Equations" in "Equations (3) and (4)".</summary>
    public required string Equations { get; init; }

    /// <summary>"Section" in "Section 3.1".</summary>
    public required string Section { get; init; }

    /// <summary>"Sections" in "Sections 3.1 and 4".</summary>
    public required string Sections { get; init; }

    /// <summary>"Appendix" in "Appendix A".</summary>
    public required string Appendix { get; init; }

    /// <summary>"Appendices" in "Appendices A and B".</summary>
    public required string Appendices { get; init; }

    /// <summary>The title of the index.</summary>
    public required string Index { get; init; }

    /// <summary>The title of the list of abbreviations.</summary>
    public required string Abbreviations { get; init; }

    /// <summary>Whether words before numbers are small within a sentence: "le tableau 3".</summary>
    public bool IsLowerInSentences { get; init; }

    /// <summary>"continued" in "Table 3, continued".</summary>
    public required string Continued { get; init; }

    /// <summary>"and" before the last item of a list.</summary>
    public required string And { get; init; }

    /// <summary>"or" before the last item of a list.</summary>
    public required string Or { get; init; }

    /// <summary>The title of the contents.</summary>
    public required string Contents { get; init; }

    /// <summary>The title of the list of tables.</summary>
    public required string ListOfTables { get; init; }

    /// <summary>The title of the list of figures.</summary>
    public required string ListOfFigures { get; init; }

    /// <summary>"Source:" before what a table or figure was made from.</summary>
    public required string Source { get; init; }

    /// <summary>The title of a box that says the most important in few words.</summary>
    public required string InBrief { get; init; }

    /// <summary>The title of an appendix that holds the code.</summary>
    public required string Code { get; init; }

    /// <summary>What stands for further authors: "et al.".</summary>
    public string AndOthers { get; init; } = "et al.";

    /// <summary>What stands for a missing year: "n.d.".</summary>
    public required string NoDate { get; init; }

    /// <summary>Before the book that a chapter is in: "In".</summary>
    public required string In { get; init; }

    /// <summary>After the name of an editor: "ed.".</summary>
    public required string Editor { get; init; }

    /// <summary>After the names of editors: "eds".</summary>
    public required string Editors { get; init; }

    /// <summary>Before a page: "p.".</summary>
    public required string Page { get; init; }

    /// <summary>Before pages: "pp.".</summary>
    public required string Pages { get; init; }

    /// <summary>The mark that opens a quotation.</summary>
    public required string OpenQuote { get; init; }

    /// <summary>The mark that closes a quotation.</summary>
    public required string CloseQuote { get; init; }

    /// <summary>The mark that opens a quotation within another.</summary>
    public required string InnerOpenQuote { get; init; }

    /// <summary>The mark that closes a quotation within another.</summary>
    public required string InnerCloseQuote { get; init; }

    /// <summary>"And" before a word: Spanish changes its "y" before the sound of one.</summary>
    internal string AndBefore(string next) => And == "y" && Regex.IsMatch(next, "^h?[ií](?![aáeé])", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant) ? "e" : And;

    /// <summary>"Or" before a word: Spanish changes its "o" before the sound of one.</summary>
    internal string OrBefore(string next) => And == "y" && Regex.IsMatch(next, "^h?[oó]", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant) ? "u" : Or;

    /// <summary>The English words.</summary>
    public static LabelWords English { get; } = new()
    {
        Table = "Table",
        Tables = "Tables",
        Figure = "Figure",
        Figures = "Figures",
        Equation = "Equation",
        Equations = "Equations",
        Section = "Section",
        Sections = "Sections",
        Appendix = "Appendix",
        Appendices = "Appendices",
        Index = "Index",
        Abbreviations = "Abbreviations",
        Continued = "continued",
        And = "and",
        Or = "or",
        Contents = "Contents",
        ListOfTables = "Tables",
        ListOfFigures = "Figures",
        Source = "Source:",
        InBrief = "In brief",
        Code = "The code",
        NoDate = "n.d.",
        In = "In",
        Editor = "ed.",
        Editors = "eds",
        Page = "p.",
        Pages = "pp.",
        OpenQuote = "\u2018",
        CloseQuote = "\u2019",
        InnerOpenQuote = "\u201C",
        InnerCloseQuote = "\u201D",
    };

    /// <summary>The words of a culture such as <c>en-US</c>, or null if they are not known.</summary>
    internal static LabelWords? Of(string culture, string language) => language switch
    {
        "en" when culture == "en-US" => English with { Editors = "eds.", OpenQuote = "\u201C", CloseQuote = "\u201D", InnerOpenQuote = "\u2018", InnerCloseQuote = "\u2019" },
        "en" => English,
        "de" => new()
        {
            Table = "Tabelle",
            Tables = "Tabellen",
            Figure = "Abbildung",
            Figures = "Abbildungen",
            Equation = "Gleichung",
            Equations = "Gleichungen",
            Section = "Abschnitt",
            Sections = "Abschnitte",
            Appendix = "Anhang",
            Appendices = "Anhänge",
            Index = "Stichwortverzeichnis",
            Abbreviations = "Abkürzungen",
            Continued = "Fortsetzung",
            And = "und",
            Or = "oder",
            Contents = "Inhalt",
            ListOfTables = "Tabellen",
            ListOfFigures = "Abbildungen",
            Source = "Quelle:",
            InBrief = "Auf einen Blick",
            Code = "Der Code",
            AndOthers = "u. a.",
            NoDate = "o. J.",
            In = "In",
            Editor = "Hrsg.",
            Editors = "Hrsg.",
            Page = "S.",
            Pages = "S.",
            OpenQuote = "\u201E",
            CloseQuote = "\u201C",
            InnerOpenQuote = "\u201A",
            InnerCloseQuote = "\u2018",
        },
        "fr" => new()
        {
            Table = "Tableau",
            Tables = "Tableaux",
            Figure = "Figure",
            Figures = "Figures",
            Equation = "Équation",
            Equations = "Équations",
            Section = "Section",
            Sections = "Sections",
            Appendix = "Annexe",
            Appendices = "Annexes",
            Index = "Index",
            Abbreviations = "Abréviations",
            IsLowerInSentences = true,
            Continued = "suite",
            And = "et",
            Or = "ou",
            Contents = "Table des matières",
            ListOfTables = "Tableaux",
            ListOfFigures = "Figures",
            Source = "Source\u00A0:",
            InBrief = "En bref",
            Code = "Le code",
            NoDate = "s. d.",
            In = "Dans",
            Editor = "éd.",
            Editors = "éd.",
            Page = "p.",
            Pages = "p.",
            OpenQuote = "«\u00A0",
            CloseQuote = "\u00A0»",
            InnerOpenQuote = "\u201C",
            InnerCloseQuote = "\u201D",
        },
        "es" => new()
        {
            Table = "Tabla",
            Tables = "Tablas",
            Figure = "Figura",
            Figures = "Figuras",
            Equation = "Ecuación",
            Equations = "Ecuaciones",
            Section = "Sección",
            Sections = "Secciones",
            Appendix = "Apéndice",
            Appendices = "Apéndices",
            Index = "Índice alfabético",
            Abbreviations = "Abreviaturas",
            IsLowerInSentences = true,
            Continued = "continuación",
            And = "y",
            Or = "o",
            Contents = "Índice",
            ListOfTables = "Tablas",
            ListOfFigures = "Figuras",
            Source = "Fuente:",
            InBrief = "En resumen",
            Code = "El código",
            NoDate = "s. f.",
            In = "En",
            Editor = "ed.",
            Editors = "eds.",
            Page = "p.",
            Pages = "pp.",
            OpenQuote = "«",
            CloseQuote = "»",
            InnerOpenQuote = "\u201C",
            InnerCloseQuote = "\u201D",
        },
        "it" => new()
        {
            Table = "Tabella",
            Tables = "Tabelle",
            Figure = "Figura",
            Figures = "Figure",
            Equation = "Equazione",
            Equations = "Equazioni",
            Section = "Sezione",
            Sections = "Sezioni",
            Appendix = "Appendice",
            Appendices = "Appendici",
            Index = "Indice analitico",
            Abbreviations = "Abbreviazioni",
            IsLowerInSentences = true,
            Continued = "continua",
            And = "e",
            Or = "o",
            Contents = "Indice",
            ListOfTables = "Tabelle",
            ListOfFigures = "Figure",
            Source = "Fonte:",
            InBrief = "In breve",
            Code = "Il codice",
            NoDate = "s.d.",
            In = "In",
            Editor = "a cura di",
            Editors = "a cura di",
            Page = "p.",
            Pages = "pp.",
            OpenQuote = "«",
            CloseQuote = "»",
            InnerOpenQuote = "\u201C",
            InnerCloseQuote = "\u201D",
        },
        "nl" => new()
        {
            Table = "Tabel",
            Tables = "Tabellen",
            Figure = "Figuur",
            Figures = "Figuren",
            Equation = "Vergelijking",
            Equations = "Vergelijkingen",
            Section = "Paragraaf",
            Sections = "Paragrafen",
            Appendix = "Bijlage",
            Appendices = "Bijlagen",
            Index = "Register",
            Abbreviations = "Afkortingen",
            IsLowerInSentences = true,
            Continued = "vervolg",
            And = "en",
            Or = "of",
            Contents = "Inhoud",
            ListOfTables = "Tabellen",
            ListOfFigures = "Figuren",
            Source = "Bron:",
            InBrief = "In het kort",
            Code = "De code",
            AndOthers = "e.a.",
            NoDate = "z.d.",
            In = "In",
            Editor = "red.",
            Editors = "red.",
            Page = "p.",
            Pages = "pp.",
            OpenQuote = "\u2018",
            CloseQuote = "\u2019",
            InnerOpenQuote = "\u201C",
            InnerCloseQuote = "\u201D",
        },
        "pt" => new()
        {
            Table = "Tabela",
            Tables = "Tabelas",
            Figure = "Figura",
            Figures = "Figuras",
            Equation = "Equação",
            Equations = "Equações",
            Section = "Secção",
            Sections = "Secções",
            Appendix = "Apêndice",
            Appendices = "Apêndices",
            Index = "Índice remissivo",
            Abbreviations = "Abreviaturas",
            IsLowerInSentences = true,
            Continued = "continuação",
            And = "e",
            Or = "ou",
            Contents = "Índice",
            ListOfTables = "Tabelas",
            ListOfFigures = "Figuras",
            Source = "Fonte:",
            InBrief = "Em resumo",
            Code = "O código",
            NoDate = "s.d.",
            In = "Em",
            Editor = "ed.",
            Editors = "eds.",
            Page = "p.",
            Pages = "pp.",
            OpenQuote = culture == "pt-PT" ? "«" : "\u201C",
            CloseQuote = culture == "pt-PT" ? "»" : "\u201D",
            InnerOpenQuote = culture == "pt-PT" ? "\u201C" : "\u2018",
            InnerCloseQuote = culture == "pt-PT" ? "\u201D" : "\u2019",
        },
        "pl" => new()
        {
            Table = "Tabela",
            Tables = "Tabele",
            Figure = "Rysunek",
            Figures = "Rysunki",
            Equation = "Równanie",
            Equations = "Równania",
            Section = "Rozdział",
            Sections = "Rozdziały",
            Appendix = "Dodatek",
            Appendices = "Dodatki",
            Index = "Indeks",
            Abbreviations = "Wykaz skrótów",
            IsLowerInSentences = true,
            Continued = "cd.",
            And = "i",
            Or = "lub",
            Contents = "Spis treści",
            ListOfTables = "Spis tabel",
            ListOfFigures = "Spis rysunków",
            Source = "Źródło:",
            InBrief = "W skrócie",
            Code = "Kod",
            AndOthers = "i in.",
            NoDate = "b.d.",
            In = "W",
            Editor = "red.",
            Editors = "red.",
            Page = "s.",
            Pages = "s.",
            OpenQuote = "\u201E",
            CloseQuote = "\u201D",
            InnerOpenQuote = "«",
            InnerCloseQuote = "»",
        },
        "sv" => new()
        {
            Table = "Tabell",
            Tables = "Tabeller",
            Figure = "Figur",
            Figures = "Figurer",
            Equation = "Ekvation",
            Equations = "Ekvationer",
            Section = "Avsnitt",
            Sections = "Avsnitt",
            Appendix = "Bilaga",
            Appendices = "Bilagor",
            Index = "Register",
            Abbreviations = "Förkortningar",
            IsLowerInSentences = true,
            Continued = "forts.",
            And = "och",
            Or = "eller",
            Contents = "Innehåll",
            ListOfTables = "Tabeller",
            ListOfFigures = "Figurer",
            Source = "Källa:",
            InBrief = "I korthet",
            Code = "Koden",
            AndOthers = "m.fl.",
            NoDate = "u.å.",
            In = "I",
            Editor = "red.",
            Editors = "red.",
            Page = "s.",
            Pages = "s.",
            OpenQuote = "\u201D",
            CloseQuote = "\u201D",
            InnerOpenQuote = "\u2019",
            InnerCloseQuote = "\u2019",
        },
        _ => null,
    };
}
