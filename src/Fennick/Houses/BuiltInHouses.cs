using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Styles;

namespace Fennick.Houses;

/// <summary>The houses that Fennick brings along.</summary>
internal static class BuiltInHouses
{
    /// <summary>Serif text and heads, tables and captions in sans serif, leaf green with a line of tansy yellow: the house of a report that names none.</summary>
    public static HouseDesign Tansy { get; } = new()
    {
        Name = "tansy",
        BodyFamily = "Cambria",
        HeadingFamily = "Cambria",
        TableFamily = "Calibri",
        Page = PageGeometry.A4(measure: Length.Centimetres(12.4), top: Length.Centimetres(2.6), bottom: Length.Centimetres(2.6)),
        Colours = Palette("20262A", "1D4B40", "F2F0E4", "2B6E5E", "DDA91C", "4A86B5", "7B3F61", "A5A294", "93C4D6", "1F6287"),
        Styles = CreateStyles(),
        CharacterStyles =
        [
            new("Strong", "Strong") { IsBuiltIn = true, Bold = true, Priority = 22 },
            new("Emphasis", "Emphasis") { IsBuiltIn = true, Italic = true, Priority = 20 },
            new("CodeText", "Code Text") { Font = FontSlot.Code, NoProofing = true, Priority = 30 },
            new("Warning", "Warning") { Bold = true, Colour = ThemeColour.Accent4, Priority = 30 },
            new("Highlight", "Highlight") { Shaded = true, Priority = 30 },
            new("SmallCapitals", "Small Capitals") { SmallCapitals = true, Priority = 30 },
            new("CodeKeyword", "Code Keyword") { Bold = true, Colour = ThemeColour.StrongText, NoProofing = true, Priority = 31 },
            new("CodeType", "Code Type") { Colour = ThemeColour.Link, NoProofing = true, Priority = 31 },
            new("CodeString", "Code String") { Colour = ThemeColour.Accent4, NoProofing = true, Priority = 31 },
            new("CodeComment", "Code Comment") { Italic = true, Colour = ThemeColour.Accent1, NoProofing = true, Priority = 31 },
            new("Hyperlink", "Hyperlink") { IsBuiltIn = true, Colour = ThemeColour.Link, Underlined = true },
            new("FootnoteReference", "footnote reference") { IsBuiltIn = true, Raised = true },
        ],
        Rulings = RulingDesign.Tansy,
    };

    /// <summary>Sans serif throughout, compact, slate with an ember line under its chapters.</summary>
    public static HouseDesign Flint { get; } = Tansy with
    {
        Name = "flint",
        BodyFamily = "Arial",
        HeadingFamily = "Arial",
        TableFamily = null,
        Page = PageGeometry.A4(measure: Length.Centimetres(13), top: Length.Centimetres(2.2), bottom: Length.Centimetres(2.2)),
        Colours = Palette("1E2428", "26323C", "EEF1F3", "44607A", "CF5B34", "6F8CA3", "8C2F39", "868F96", "B9CCD8", "2B5F8C"),
        Styles = Changed(style => style.Role switch
        {
            StyleRole.Body => style with { Points = 10.5, Lines = 1.24, After = Pt(7) },
            StyleRole.BoxText => style with { Points = 10.5, Lines = 1.24 },
            StyleRole.CoverTitle => style with { Points = 32 },
            StyleRole.Title => style with { Points = 25, RuleAbove = null, RuleBelow = new ParagraphRule(24, 8, ThemeColour.Accent2), After = Pt(10) },
            StyleRole.Subtitle => style with { Points = 13, Colour = ThemeColour.Text },
            StyleRole.Heading1 => style with { Points = 15, RuleBelow = new ParagraphRule(6, 3, ThemeColour.Accent2), After = Pt(8) },
            StyleRole.Heading2 => style with { Points = 11.5, Colour = ThemeColour.Accent1 },
            StyleRole.Heading3 => style with { Points = 10, Colour = ThemeColour.Text },
            StyleRole.Quotation => style with { Italic = false, Colour = ThemeColour.Accent1 },
            StyleRole.Caption or StyleRole.FigureCaption => style with { Points = 9, Colour = ThemeColour.Accent1 },
            _ => style with { Points = style.Points == BodyPoints ? 10.5 : style.Points },
        }),
        Cover = new CoverDesign(0.68, ThemeColour.StrongText, new TableRule(72, ThemeColour.Accent2)),
        Rulings = [.. RulingDesign.Tansy.Take(4)],
        FigureShape = 0.46,
    };

    /// <summary>Sans serif with large, light heads, wide margins, a centred title: water blue with a rust line.</summary>
    public static HouseDesign Heron { get; } = Tansy with
    {
        Name = "heron",
        BodyFamily = "Calibri",
        HeadingFamily = "Calibri",
        TableFamily = null,
        Page = PageGeometry.A4(measure: Length.Centimetres(12.4), top: Length.Centimetres(3), bottom: Length.Centimetres(2.8)),
        Colours = Palette("2B2B2B", "28475C", "F6F1E8", "33658A", "B9512F", "7FA3B8", "6B4C7A", "8F8A80", "C9D8E0", "2A6A93"),
        Styles = Changed(style => style.Role switch
        {
            StyleRole.Body => style with { Points = 11, Lines = 1.22, After = Pt(8) },
            StyleRole.BoxText => style with { Lines = 1.22 },
            StyleRole.CoverTitle or StyleRole.CoverTitleSmall => style with { Bold = false, Centred = true, OnFill = ThemeColour.Tint },
            StyleRole.CoverText => style with { Centred = true, OnFill = ThemeColour.Tint },
            StyleRole.CoverSubtitle => style with { Italic = true, Centred = true, OnFill = ThemeColour.Tint },
            StyleRole.Title => style with { Points = 30, Bold = false, Centred = true, RuleAbove = null, Before = Pt(26), After = Pt(6) },
            StyleRole.Subtitle => style with { Points = 14, Italic = true, Centred = true, Colour = ThemeColour.Accent2, After = Pt(12) },
            StyleRole.Author => style with { Bold = false, Centred = true },
            StyleRole.Date => style with { Centred = true, RuleBelow = new ParagraphRule(4, 12, ThemeColour.Accent2), After = Pt(26) },
            StyleRole.Heading1 => style with { Points = 20, Bold = false, Before = Pt(26), After = Pt(8) },
            StyleRole.Heading2 => style with { Points = 14, Bold = false, Colour = ThemeColour.Accent1 },
            StyleRole.Heading3 => style with { Points = 12, Bold = false, Italic = true },
            StyleRole.ContentsHeading => style with { Points = 18, Bold = false },
            StyleRole.Caption or StyleRole.FigureCaption => style with { Bold = false, Italic = true, Colour = ThemeColour.Accent1 },
            _ => style with { Points = style.Points == BodyPoints ? 11 : style.Points },
        }),
        Cover = new CoverDesign(0.5, ThemeColour.Tint, new TableRule(12, ThemeColour.Accent2)),
        Rulings = [.. RulingDesign.Tansy.Take(4)],
    };

    /// <summary>The house of a name, however it is capitalised.</summary>
    /// <exception cref="ReportException">There is none of this name.</exception>
    public static HouseDesign Find(string name, SourcePlace? place)
    {
        HouseDesign[] all = [Tansy, Flint, Heron];
        return all.FirstOrDefault(h => string.Equals(h.Name, name, StringComparison.OrdinalIgnoreCase))
            ?? throw new ReportException(Diagnostic.Error(place, $"`{name}` is not a house", Nearest.Suggest(name, all.Select(h => h.Name)) ?? $"the houses are {string.Join(", ", all.Select(h => $"`{h.Name}`"))}"));
    }

    private static ImmutableArray<ParagraphStyle> Changed(Func<ParagraphStyle, ParagraphStyle> change) => [.. Tansy.Styles.Select(change)];

    /// <summary>Text, strong text, tint, six accents and links on white.</summary>
    private static ImmutableDictionary<ThemeColour, string> Palette(string text, string strong, string tint, string accent1, string accent2, string accent3, string accent4, string accent5, string accent6, string link) => new Dictionary<ThemeColour, string>
    {
        [ThemeColour.Text] = text,
        [ThemeColour.Background] = "FFFFFF",
        [ThemeColour.StrongText] = strong,
        [ThemeColour.Tint] = tint,
        [ThemeColour.Accent1] = accent1,
        [ThemeColour.Accent2] = accent2,
        [ThemeColour.Accent3] = accent3,
        [ThemeColour.Accent4] = accent4,
        [ThemeColour.Accent5] = accent5,
        [ThemeColour.Accent6] = accent6,
        [ThemeColour.Link] = link,
        [ThemeColour.FollowedLink] = accent4,
    }.ToImmutableDictionary();

    private static ImmutableArray<ParagraphStyle> CreateStyles()
    {
        const double body = BodyPoints;
        var cell = new ParagraphStyle(StyleRole.TableText, "TableText", "Table Text")
        {
            IsBuiltIn = false,
            Font = FontSlot.Table,
            Points = TableSizes[0],
            Before = Pt(1.5),
            After = Pt(1.5),
            Next = StyleRole.TableText,
            Priority = 40,
        };
        var list = new ParagraphStyle(StyleRole.ListBullet, "ListBullet", "List Bullet")
        {
            Points = body,
            Lines = 1.18,
            After = Pt(7.5),
            Contextual = true,
            IndentLeft = ParagraphStyle.UsualListStep,
            Hanging = ParagraphStyle.UsualListHanging,
            Next = StyleRole.ListBullet,
            Priority = 36,
        };
        var caption = new ParagraphStyle(StyleRole.Caption, "Caption", "caption")
        {
            Font = FontSlot.Table,
            Points = 10,
            Bold = true,
            Colour = ThemeColour.StrongText,
            Before = Pt(9),
            After = Pt(4),
            KeepWithNext = true,
            KeepLines = true,
            Priority = 35,
        };
        StyleRole[] cells = [StyleRole.TableText, StyleRole.TableNumber, StyleRole.TableHead, StyleRole.TableHeadNumber, StyleRole.TableGroup];
        IEnumerable<ParagraphStyle> Smaller(int step, string word) => cells.Select(role => new ParagraphStyle(role.At(step), $"{role}{word}", $"{Spaced(role)} {word}")
        {
            IsBuiltIn = false,
            BasedOn = role,
            OnlySize = true,
            Points = TableSizes[step],
            Next = role.At(step),
            Priority = 42,
        });
        return
        [
            new(StyleRole.Body, "Normal", "Normal") { BasedOn = null, Points = body, Lines = 1.18, After = Pt(7.5), Priority = 0 },
            new(StyleRole.Title, "Title", "Title")
            {
                Font = FontSlot.Heading, Points = 27, Bold = true, Colour = ThemeColour.StrongText, After = Pt(4), Lines = 0.95, KeepWithNext = true, KeepLines = true,
                RuleAbove = new ParagraphRule(36, 14, ThemeColour.Accent2), Next = StyleRole.Subtitle, Priority = 10,
            },
            new(StyleRole.Subtitle, "Subtitle", "Subtitle") { Font = FontSlot.Heading, Points = 14.5, Colour = ThemeColour.Accent1, After = Pt(14), KeepWithNext = true, KeepLines = true, Priority = 11 },
            new(StyleRole.Author, "Author", "Author") { IsBuiltIn = false, Font = FontSlot.Table, Points = 10.5, Bold = true, After = Pt(0), KeepWithNext = true, Next = StyleRole.Date, Priority = 12 },
            new(StyleRole.Date, "Date", "Date") { Font = FontSlot.Table, Points = 10.5, After = Pt(22), Priority = 12 },
            Heading(1, 17, before: 22, after: 6, ThemeColour.StrongText),
            Heading(2, 13, before: 16, after: 4, ThemeColour.StrongText),
            Heading(3, 11.5, before: 13, after: 3, ThemeColour.Accent1),
            Heading(4, 11, before: 11, after: 2, ThemeColour.Text),
            Heading(5, 11, before: 10, after: 2, ThemeColour.Accent1) with { Bold = false, Italic = true },
            Heading(6, 11, before: 10, after: 2, ThemeColour.Text) with { Bold = false, Italic = true },
            list,
            list with { Role = StyleRole.ListNumber, Id = "ListNumber", Name = "List Number", Next = StyleRole.ListNumber },
            list with { Role = StyleRole.ListContinue, Id = "ListContinue", Name = "List Continue", Hanging = Length.Zero, Next = StyleRole.ListContinue },
            new(StyleRole.Quotation, "Quote", "Quote") { Points = body, Italic = true, Lines = 1.18, After = Pt(7.5), IndentLeft = Cm(0.75), IndentRight = Cm(0.75), Priority = 29 },
            new(StyleRole.Listing, "Listing", "Listing")
            {
                IsBuiltIn = false, Font = FontSlot.Code, Points = 8.5, After = Pt(7.5), IndentLeft = Cm(0.15), IndentRight = Cm(0.15), KeepLines = true, NoProofing = true, Shaded = true, Priority = 30,
            },
            new(StyleRole.ThoughtBreak, "ThoughtBreak", "Thought Break")
            {
                IsBuiltIn = false, Points = 4, After = Pt(10), Before = Pt(2), IndentLeft = Cm(6), IndentRight = Cm(6), RuleBelow = new ParagraphRule(8, 1, ThemeColour.Accent2), Priority = 30,
            },
            caption,
            caption with { Role = StyleRole.FigureCaption, Id = "FigureCaption", Name = "Figure Caption", IsBuiltIn = false, BasedOn = StyleRole.Caption, Before = Pt(3), After = Pt(13), KeepWithNext = false },
            new(StyleRole.Figure, "Figure", "Figure") { IsBuiltIn = false, Points = body, Before = Pt(9), After = Pt(2), KeepWithNext = true, Next = StyleRole.Caption, Priority = 35 },
            cell,
            cell with { BasedOn = StyleRole.TableText, Role = StyleRole.TableNumber, Id = "TableNumber", Name = "Table Number", RightAligned = true, Next = StyleRole.TableNumber },
            cell with { BasedOn = StyleRole.TableText, Role = StyleRole.TableHead, Id = "TableHead", Name = "Table Head", Bold = true, Colour = ThemeColour.StrongText, KeepWithNext = true, Next = StyleRole.TableHead },
            cell with { BasedOn = StyleRole.TableHead, Role = StyleRole.TableHeadNumber, Id = "TableHeadNumber", Name = "Table Head Number", Bold = true, Colour = ThemeColour.StrongText, KeepWithNext = true, RightAligned = true, Next = StyleRole.TableHeadNumber },
            cell with { BasedOn = StyleRole.TableText, Role = StyleRole.TableGroup, Id = "TableGroup", Name = "Table Group", Bold = true, Before = Pt(4), KeepWithNext = true },
            .. Smaller(1, "Small"),
            .. Smaller(2, "Smallest"),
            new(StyleRole.Note, "Note", "Note") { IsBuiltIn = false, Font = FontSlot.Table, Points = 8.5, Before = Pt(4), After = Pt(13), KeepLines = true, Priority = 41 },
            new(StyleRole.ContentsHeading, "TOCHeading", "TOC Heading") { Font = FontSlot.Heading, Points = 15, Bold = true, Colour = ThemeColour.StrongText, Before = Pt(18), After = Pt(7), KeepWithNext = true, KeepLines = true, Priority = 39 },
            .. Enumerable.Range(1, 6).Select(level => new ParagraphStyle(StyleRole.Contents1 + level - 1, $"TOC{level}", $"toc {level}")
            {
                Points = body,
                Bold = level == 1,
                Before = Pt(level == 1 ? 5 : 0),
                After = Pt(2),
                IndentLeft = Cm(0.6 * (level - 1)),
                RightTabAtTextWidth = true,
                HasLeader = true,
                Next = StyleRole.Contents1 + level - 1,
                Priority = 39,
            }),
            new(StyleRole.ContentsOfKind, "TableofFigures", "table of figures") { Points = body, After = Pt(2), RightTabAtTextWidth = true, HasLeader = true, Next = StyleRole.ContentsOfKind, Priority = 39 },
            new(StyleRole.Footnote, "FootnoteText", "footnote text") { Points = 8.5, Lines = 1.08, After = Pt(2), Next = StyleRole.Footnote },
            new(StyleRole.Term, "Term", "Term") { IsBuiltIn = false, Points = body, Lines = 1.18, Bold = true, Before = Pt(3), After = Pt(1), KeepWithNext = true, Next = StyleRole.Definition, Priority = 37 },
            new(StyleRole.Definition, "Definition", "Definition") { IsBuiltIn = false, Points = body, Lines = 1.18, After = Pt(5), IndentLeft = Cm(0.75), Next = StyleRole.Term, Priority = 37 },
            new(StyleRole.Equation, "Equation", "Equation") { IsBuiltIn = false, Points = body, Before = Pt(4), After = Pt(8), Next = StyleRole.Body, Priority = 38 },
            new(StyleRole.EquationNumber, "EquationNumber", "Equation Number") { IsBuiltIn = false, Points = body, Before = Pt(4), After = Pt(8), RightAligned = true, Next = StyleRole.EquationNumber, Priority = 38 },
            new(StyleRole.Source, "Bibliography", "Bibliography") { Points = body, Lines = 1.18, After = Pt(4), IndentLeft = Cm(0.9), Hanging = Cm(0.9), Next = StyleRole.Source, Priority = 37 },
            new(StyleRole.Header, "Header", "header") { Font = FontSlot.Table, Points = 8.5, Colour = ThemeColour.Accent1, RightTabAtTextWidth = true, Next = StyleRole.Header },
            new(StyleRole.Footer, "Footer", "footer") { Font = FontSlot.Table, Points = 8.5, Colour = ThemeColour.Accent1, RightTabAtTextWidth = true, Next = StyleRole.Footer },
            new(StyleRole.Spacer, "Spacer", "Spacer") { IsBuiltIn = false, Points = 4, After = Pt(5) },
            new(StyleRole.BoxTitle, "BoxTitle", "Box Title") { IsBuiltIn = false, Font = FontSlot.Heading, Points = 12, Bold = true, Colour = ThemeColour.StrongText, After = Pt(3), KeepWithNext = true, KeepLines = true, Priority = 33 },
            new(StyleRole.BoxText, "BoxText", "Box Text") { IsBuiltIn = false, Points = body, Lines = 1.18, After = Pt(6), Next = StyleRole.BoxText, Priority = 33 },
            new(StyleRole.KeyFigureLabel, "KeyFigureLabel", "Key Figure Label") { IsBuiltIn = false, Font = FontSlot.Table, Points = 9, Colour = ThemeColour.StrongText, KeepLines = true, Next = StyleRole.KeyFigure, Priority = 34 },
            new(StyleRole.KeyFigure, "KeyFigure", "Key Figure") { IsBuiltIn = false, Font = FontSlot.Heading, Points = 21, Bold = true, Colour = ThemeColour.Accent1, KeepLines = true, Next = StyleRole.KeyFigureChange, Priority = 34 },
            new(StyleRole.KeyFigureChange, "KeyFigureChange", "Key Figure Change") { IsBuiltIn = false, Font = FontSlot.Table, Points = 9.5, Bold = true, Colour = ThemeColour.StrongText, KeepLines = true, Next = StyleRole.KeyFigureNote, Priority = 34 },
            new(StyleRole.KeyFigureNote, "KeyFigureNote", "Key Figure Note") { IsBuiltIn = false, Font = FontSlot.Table, Points = 8.5, KeepLines = true, Next = StyleRole.KeyFigureNote, Priority = 34 },
            new(StyleRole.CoverTitle, "CoverTitle", "Cover Title") { IsBuiltIn = false, Font = FontSlot.Heading, Points = 36, Bold = true, OnFill = ThemeColour.StrongText, Lines = 0.95, After = Pt(12), KeepLines = true, Next = StyleRole.CoverSubtitle, Priority = 13 },
            new(StyleRole.CoverTitleSmall, "CoverTitleSmall", "Cover Title Small") { IsBuiltIn = false, BasedOn = StyleRole.CoverTitle, OnlySize = true, Font = FontSlot.Heading, Points = 23, Bold = true, OnFill = ThemeColour.StrongText, Next = StyleRole.CoverSubtitle, Priority = 13 },
            new(StyleRole.CoverSubtitle, "CoverSubtitle", "Cover Subtitle") { IsBuiltIn = false, Font = FontSlot.Heading, Points = 16, OnFill = ThemeColour.StrongText, After = Pt(18), KeepLines = true, Next = StyleRole.Author, Priority = 13 },
            new(StyleRole.CoverText, "CoverText", "Cover Text") { IsBuiltIn = false, Font = FontSlot.Table, Points = 9.5, OnFill = ThemeColour.StrongText, Lines = 1.15, After = Pt(5), Next = StyleRole.CoverText, Priority = 13 },
            new(StyleRole.PullQuote, "PullQuote", "Pull Quote")
            {
                IsBuiltIn = false, Font = FontSlot.Heading, Points = 15, Colour = ThemeColour.Accent1, Lines = 1.1, Before = Pt(12), After = Pt(16), IndentLeft = Cm(0.75), IndentRight = Cm(0.75), KeepLines = true, Priority = 29,
                RuleAbove = new ParagraphRule(8, 6, ThemeColour.Accent2), RuleBelow = new ParagraphRule(8, 6, ThemeColour.Accent2),
            },
            new(StyleRole.MarginNote, "MarginNote", "Margin Note") { IsBuiltIn = false, Font = FontSlot.Table, Points = 8.5, Colour = ThemeColour.Accent1, After = Pt(3), InMargin = true, Next = StyleRole.MarginNote, Priority = 38 },
            new(StyleRole.Index1, "Index1", "index 1") { Points = body, After = Pt(2), IndentLeft = Cm(0.5), Hanging = Cm(0.5), Next = StyleRole.Index1, Priority = 39 },
            new(StyleRole.Index2, "Index2", "index 2") { Points = body, After = Pt(2), IndentLeft = Cm(1), Hanging = Cm(0.5), Next = StyleRole.Index2, Priority = 39 },
            new(StyleRole.Abbreviation, "Abbreviation", "Abbreviation") { IsBuiltIn = false, Points = body, After = Pt(2), Next = StyleRole.Abbreviation, Priority = 39 },
        ];
    }

    private const double BodyPoints = 11;

    private static double[] TableSizes => [9.5, 8.5, 7.5];

    /// <summary>"Table Head Number" for TableHeadNumber.</summary>
    private static string Spaced(StyleRole role) => string.Concat(role.ToString().Select((c, i) => i > 0 && char.IsUpper(c) ? $" {c}" : $"{c}"));

    private static ParagraphStyle Heading(int level, double points, double before, double after, ThemeColour colour) =>
        new(StyleRole.Heading1 + level - 1, $"Heading{level}", $"heading {level}")
        {
            Font = FontSlot.Heading,
            Points = points,
            Bold = true,
            Colour = colour,
            Before = Pt(before),
            After = Pt(after),
            KeepWithNext = true,
            KeepLines = true,
            OutlineLevel = level - 1,
            Priority = 9,
        };

    private static Length Pt(double value) => Length.FromPoints(value);

    private static Length Cm(double value) => Length.Centimetres(value);
}
