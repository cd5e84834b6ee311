using System.Collections.Immutable;
using System.Globalization;
using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Styles;
using Fennick.Tables;

namespace Fennick.Houses;

/// <summary>Finds the style that a house's file has for each role, and makes those that it lacks from what they are based on, in the house's own families and colours.</summary>
internal sealed class RoleFinder
{
    private static readonly HouseDesign Model = BuiltInHouses.Tansy;

    private readonly StyleSheet sheet;
    private readonly HouseTheme theme;
    private readonly IReadOnlyDictionary<string, string> named;
    private readonly List<FoundStyle> found = [];
    private readonly HashSet<StyleRole> made = [];
    private readonly ParagraphStyle?[] styles = new ParagraphStyle?[Model.Styles.Length];
    private readonly ImmutableArray<CharacterStyle>.Builder characterStyles = ImmutableArray.CreateBuilder<CharacterStyle>();
    private readonly List<CharacterStyle> madeCharacterStyles = [];
    private readonly ImmutableArray<RulingDesign>.Builder rulings = ImmutableArray.CreateBuilder<RulingDesign>();
    private readonly List<RulingDesign> madeRulings = [];
    private readonly List<RulingDesign> madeBoxes = [];
    private ImmutableArray<RulingDesign> boxes = [];

    /// <param name="sheet">The house's styles.</param>
    /// <param name="theme">Its theme.</param>
    /// <param name="named">Names of styles for roles, as the settings give them.</param>
    public RoleFinder(StyleSheet sheet, HouseTheme theme, IReadOnlyDictionary<string, string> named)
    {
        this.sheet = sheet;
        this.theme = theme;
        this.named = named;
    }

    /// <summary>What has become of each role, in the order of the roles.</summary>
    public IReadOnlyList<FoundStyle> Found => found;

    /// <summary>The roles whose style is not in the file yet.</summary>
    public IEnumerable<StyleRole> MadeStyles => made.Order();

    public IReadOnlyList<CharacterStyle> MadeCharacterStyles => madeCharacterStyles;

    public IReadOnlyList<RulingDesign> MadeRulings => madeRulings;

    public IReadOnlyList<RulingDesign> MadeBoxes => madeBoxes;

    /// <summary>Whether the table style of the cover is not in the file yet.</summary>
    public bool MakesCover => FindCover() is null;

    /// <summary>The words by which settings name a role: <c>heading 1</c>, <c>table head</c>.</summary>
    public static string WordsOf(StyleRole role) =>
        string.Concat(role.ToString().Select((c, i) => i > 0 && (char.IsUpper(c) || char.IsDigit(c)) ? $" {char.ToLowerInvariant(c)}" : char.ToLowerInvariant(c).ToString()));

    /// <summary>The words by which settings name a role of words in a text: <c>strong</c>, <c>note mark</c>.</summary>
    public static string WordsOf(CharacterRole role) => role == CharacterRole.NoteMark ? "note mark" : role.ToString().ToLowerInvariant();

    /// <summary>All that settings can name a style for.</summary>
    public static IEnumerable<string> Roles => [.. Enum.GetValues<StyleRole>().Select(WordsOf), .. Enum.GetValues<CharacterRole>().Select(WordsOf), .. Model.Rulings.Take(4).Concat(Model.Boxes).Select(r => r.Ruling.Name)];

    /// <summary>The house as the pipeline knows it.</summary>
    /// <exception cref="ReportException">The settings name a style that the house does not have.</exception>
    public HouseDesign Find(string name, PageGeometry page, string? defaultTableStyle)
    {
        foreach (var model in Model.Styles)
            if (Find("paragraph", WordsOf(model.Role), model.Name, model.Role == StyleRole.Body ? sheet.Default("paragraph") : null) is { } style)
                styles[(int)model.Role] = Keep(sheet.Resolve(style, model), style);
        foreach (var model in Model.Styles)
            if (styles[(int)model.Role] is null) Make(model.Role);
        foreach (var model in Model.CharacterStyles) FindCharacterStyle(model);
        foreach (var (other, style) in sheet.Named("character"))
            if (characterStyles.All(s => s.Id != StyleSheet.IdOf(style) && !string.Equals(s.Name, other, StringComparison.OrdinalIgnoreCase))) characterStyles.Add(Read(style, other, true));
        FindRulings(defaultTableStyle);
        var heading = styles[(int)StyleRole.Heading1]!;
        var body = styles[(int)StyleRole.Body]!;
        var headingFamily = made.Contains(StyleRole.Heading1) ? theme.Heading ?? body.Family! : heading.Family!;
        var (colours, outside) = FindColours();
        var cell = styles[(int)StyleRole.TableText]!;
        var design = Model with
        {
            Name = name,
            BodyFamily = body.Family!,
            HeadingFamily = headingFamily,
            TableFamily = null,
            HasThemeFamilies = theme.Heading == headingFamily,
            CodeFamily = made.Contains(StyleRole.Listing) ? Model.CodeFamily : styles[(int)StyleRole.Listing]!.Family!,
            Page = page,
            Colours = colours,
            OutsideTheme = outside,
            Styles = [.. styles.Select(s => s!)],
            CharacterStyles = characterStyles.ToImmutable(),
            Rulings = rulings.ToImmutable(),
            Boxes = boxes,
            Cover = Model.Cover with { StyleId = FindCover() is { } cover ? StyleSheet.IdOf(cover) : FreeId(Model.Cover.StyleId) },
        };
        // Where the table style itself says how heads look, their words leave it to that: a colour of their own could not be seen in another ruling.
        if (design.Rulings[0].Head is { } head)
            design = design with { Styles = [.. design.Styles.Select(s => made.Contains(s.Role) && s.Role is StyleRole.TableHead or StyleRole.TableHeadNumber ? s with { Bold = head.Bold, LeavesBold = true, Hex = cell.Hex, Colour = cell.Colour } : s)] };
        found.AddRange(design.Styles.Where(s => made.Contains(s.Role)).Select(s => new FoundStyle(WordsOf(s.Role), s.Name, StyleOrigin.Made, Look(design, s))));
        var order = Roles.ToList();
        found.Sort((a, b) => order.IndexOf(a.Role).CompareTo(order.IndexOf(b.Role)));
        return design;
    }

    private ParagraphStyle Keep(ParagraphStyle style, XElement element)
    {
        var origin = named.ContainsKey(WordsOf(style.Role)) ? StyleOrigin.Named : StyleOrigin.Found;
        var colour = sheet.ColourOf(element);
        found.Add(new FoundStyle(WordsOf(style.Role), style.Name, origin, Look(style, colour)));
        return style;
    }

    /// <summary>What makes a style of one of Fennick's own houses.</summary>
    public static string Look(HouseDesign design, ParagraphStyle style) => Look(style with { Family = design.Family(style) }, style.Hex ?? design.Colours[style.Colour]);

    private static string Look(ParagraphStyle style, string? colour) => string.Join(", ", new[]
    {
        style.Family, string.Create(CultureInfo.InvariantCulture, $"{style.Points:0.#} pt"), style.Bold ? "bold" : null, style.Italic ? "italic" : null, colour is null or "000000" ? null : $"#{colour}",
    }.OfType<string>());

    /// <summary>The style that the settings name, or else that of the role's name, or else the one given.</summary>
    private XElement? Find(string type, string role, string name, XElement? otherwise = null)
    {
        if (!named.TryGetValue(role, out var own)) return otherwise ?? sheet.Find(type, name);
        return sheet.Find(type, own) ?? throw new ReportException(Diagnostic.Error(null, $"the house has no {type} style `{own}` for `{role}`",
            Nearest.Suggest(own, sheet.Named(type).Select(s => s.Name)) ?? "run `fennick house check` on it to see its styles"));
    }

    /// <summary>What a style that the house lacks is made from: its neighbour if the house has that, or else what the model bases it on.</summary>
    private static StyleRole BaseOf(StyleRole role) => role switch
    {
        > StyleRole.Heading1 and <= StyleRole.Heading6 or > StyleRole.Contents1 and <= StyleRole.Contents6 => role - 1,
        StyleRole.ListNumber or StyleRole.ListContinue => StyleRole.ListBullet,
        StyleRole.ContentsOfKind => StyleRole.Contents1,
        StyleRole.TableNumber or StyleRole.TableHead or StyleRole.TableGroup => StyleRole.TableText,
        StyleRole.TableHeadNumber => StyleRole.TableHead,
        _ => Model.Style(role).BasedOn ?? StyleRole.Body,
    };

    private ParagraphStyle Make(StyleRole role)
    {
        if (styles[(int)role] is { } known) return known;
        var baseRole = role == StyleRole.Body ? StyleRole.Body : BaseOf(role);
        // The house has no style at all that could be its text.
        if (role == StyleRole.Body) return styles[0] = Keep(Model.Style(role) with { BasedOn = null, Id = FreeId(Model.Style(role).Id), Family = theme.Body ?? Model.BodyFamily }, role);
        var below = Make(baseRole);
        var (model, modelBelow) = (Model.Style(role), Model.Style(baseRole));
        // Text takes the alignment of text; what stands alone does not.
        var isText = role is StyleRole.ListBullet or StyleRole.ListNumber or StyleRole.ListContinue or StyleRole.Quotation or StyleRole.Definition or StyleRole.Footnote or StyleRole.Source;
        var isNeighbour = baseRole != StyleRole.Body;
        return styles[(int)role] = Keep(model with
        {
            Id = FreeId(model.Id),
            BasedOn = baseRole,
            Points = Math.Max(6, Math.Round(2 * below.Points * Ratio(model, modelBelow)) / 2),
            Family = model.Font == modelBelow.Font ? below.Family : null,
            Bold = model.Bold == modelBelow.Bold ? below.Bold : model.Bold,
            Colour = model.Colour == modelBelow.Colour ? below.Colour : model.Colour,
            Italic = model.Italic == modelBelow.Italic ? below.Italic : model.Italic,
            Lines = model.Lines == modelBelow.Lines ? below.Lines : model.Lines,
            Before = isNeighbour && model.Before == modelBelow.Before ? below.Before : model.Before,
            Contextual = isNeighbour && below.Contextual == model.Contextual ? below.Contextual : model.Contextual,
            After = isNeighbour && model.After == modelBelow.After ? below.After : model.After,
            IndentLeft = isNeighbour && model.IndentLeft == modelBelow.IndentLeft ? below.IndentLeft : model.IndentLeft,
            Hanging = isNeighbour && model.Hanging == modelBelow.Hanging ? below.Hanging : model.Hanging,
            Justified = isText && below.Justified,
        }, role);
    }

    private static double Ratio(ParagraphStyle model, ParagraphStyle modelBelow) => model.Points / modelBelow.Points;

    private ParagraphStyle Keep(ParagraphStyle style, StyleRole role)
    {
        made.Add(role);
        return style;
    }

    /// <summary>An id that no style of the house has.</summary>
    private string FreeId(string id)
    {
        var free = id;
        for (var n = 2; sheet.HasId(free); n++) free = string.Create(CultureInfo.InvariantCulture, $"{id}{n}");
        return free;
    }

    private void FindCharacterStyle(CharacterStyle model)
    {
        var role = Enum.GetValues<CharacterRole>().Cast<CharacterRole?>().FirstOrDefault(r => Model.StyleOf(r!.Value) == model);
        var words = role is { } own ? WordsOf(own) : "";
        if (Find("character", words, model.Name) is { } style)
        {
            characterStyles.Add(Read(style, model.Name, model.IsBuiltIn));
            if (role is not null) found.Add(new FoundStyle(words, StyleSheet.NameOf(style), named.ContainsKey(words) ? StyleOrigin.Named : StyleOrigin.Found, ""));
            return;
        }
        var madeStyle = model with { Id = FreeId(model.Id) };
        characterStyles.Add(madeStyle);
        madeCharacterStyles.Add(madeStyle);
        if (role is not null) found.Add(new FoundStyle(words, model.Name, StyleOrigin.Made, ""));
    }

    private CharacterStyle Read(XElement style, string name, bool isBuiltIn) => new(StyleSheet.IdOf(style), name)
    {
        IsBuiltIn = isBuiltIn,
        Bold = sheet.Chain(style).Any(s => StyleSheet.IsOn(s.Element(StyleSheet.W + "rPr")?.Element(StyleSheet.W + "b"))),
        Italic = sheet.Chain(style).Any(s => StyleSheet.IsOn(s.Element(StyleSheet.W + "rPr")?.Element(StyleSheet.W + "i"))),
    };

    /// <summary>The rulings that every house has, and each table style of the house under its own name.</summary>
    private void FindRulings(string? defaultTableStyle)
    {
        var preferred = sheet.Root.Elements(StyleSheet.W + "style").FirstOrDefault(s => (string?)s.Attribute(StyleSheet.W + "type") == "table" && StyleSheet.IdOf(s) == defaultTableStyle && s != sheet.Default("table"));
        foreach (var model in Model.Rulings.Take(4))
        {
            var name = model.Ruling.Name;
            var style = Find("table", name, model.StyleName, name == Ruling.Open.Name ? preferred : null);
            if (style is not null)
            {
                rulings.Add(Read(style, model.Ruling));
                found.Add(new FoundStyle(name, StyleSheet.NameOf(style), named.ContainsKey(name) ? StyleOrigin.Named : StyleOrigin.Found, ""));
                continue;
            }
            // Heads have one look in all rulings that are made.
            var madeRuling = model with { FoundId = FreeId(model.StyleId), Head = rulings.FirstOrDefault()?.Head };
            rulings.Add(madeRuling);
            madeRulings.Add(madeRuling);
            found.Add(new FoundStyle(name, model.StyleName, StyleOrigin.Made, ""));
        }
        boxes = [.. Model.Boxes.Select(FindBox)];
        foreach (var (name, style) in sheet.Named("table"))
        {
            if (style == sheet.Default("table") || style == FindCover() || rulings.Concat(boxes).Any(r => r.StyleId == StyleSheet.IdOf(style))) continue;
            var own = Model.Rulings.FirstOrDefault(r => r.StyleName == name)?.Ruling.Name ?? name;
            rulings.Add(Read(style, new Ruling(own)));
        }
    }

    /// <summary>The house's own table style for covers.</summary>
    private XElement? FindCover() => sheet.Find("table", CoverDesign.StyleName);

    private RulingDesign FindBox(RulingDesign model)
    {
        var name = model.Ruling.Name;
        var style = Find("table", name, model.StyleName);
        found.Add(new FoundStyle(name, style is null ? model.StyleName : StyleSheet.NameOf(style), style is null ? StyleOrigin.Made : named.ContainsKey(name) ? StyleOrigin.Named : StyleOrigin.Found, ""));
        if (style is not null) return Read(style, model.Ruling);
        var made = model with { FoundId = FreeId(model.StyleId) };
        madeBoxes.Add(made);
        return made;
    }

    private RulingDesign Read(XElement style, Ruling ruling)
    {
        var w = StyleSheet.W;
        var borders = sheet.Chain(style).Select(s => s.Element(w + "tblPr")?.Element(w + "tblBorders")).FirstOrDefault(b => b is not null);
        var firstRow = style.Elements(w + "tblStylePr").FirstOrDefault(p => (string?)p.Attribute(w + "type") == "firstRow");
        var outer = Rule(borders?.Element(w + "top"));
        var header = Rule(firstRow?.Element(w + "tcPr")?.Element(w + "tcBorders")?.Element(w + "bottom"));
        var strongest = header ?? outer;
        var columns = Rule(borders?.Element(w + "insideV"));
        return new RulingDesign(ruling)
        {
            FoundId = StyleSheet.IdOf(style),
            FoundName = StyleSheet.NameOf(style),
            Outer = outer,
            FoundBottom = Rule(borders?.Element(w + "bottom")),
            Sides = Rule(borders?.Element(w + "left")),
            Inner = columns,
            Rows = Rule(borders?.Element(w + "insideH")),
            Header = header,
            Thin = columns is not null || ruling == Ruling.Bare ? null : (strongest ?? new TableRule(4, ThemeColour.Text)) with { EighthsOfPoint = 4 },
            HasBands = style.Elements(w + "tblStylePr").Any(p => (string?)p.Attribute(w + "type") is "band1Horz" or "band2Horz") && Model.Rulings.All(r => r.Ruling != ruling || r.HasBands),
            CellMargin = (Margin("left", "start") ?? 108) / 20,
            CellPadding = (Margin("top") ?? 0) / 20,
            CellPaddingBelow = (Margin("bottom") ?? 0) / 20,
            Head = firstRow?.Element(w + "rPr") is { HasElements: true } head
                ? new TableHeadLook(StyleSheet.IsOn(head.Element(w + "b")), theme.Resolve(head.Element(w + "color"), "color", "val"), theme.Resolve(firstRow.Element(w + "tcPr")?.Element(w + "shd"), "fill", "fill")) : null,
        };

        double? Margin(params string[] names) => StyleSheet.Number(sheet.Chain(style).Select(s => s.Element(w + "tblPr")?.Element(w + "tblCellMar")).Select(m => names.Select(n => m?.Element(w + n)).FirstOrDefault(e => e is not null)).FirstOrDefault(m => m is not null), "w");

        TableRule? Rule(XElement? border)
        {
            if (border is null || (string?)border.Attribute(w + "val") is null or "nil" or "none") return null;
            var hex = theme.Resolve(border, "color", "color") ?? "000000";
            var themed = (string?)border.Attribute(w + "themeColor") is { } themeName ? HouseTheme.Find(themeName) : null;
            var isPlain = themed is { } colour && theme.Colours.GetValueOrDefault(colour) == hex;
            return new TableRule((int)(StyleSheet.Number(border, "sz") ?? 4), isPlain ? themed!.Value : ThemeColour.Text) { Hex = isPlain ? null : hex };
        }
    }

    /// <summary>The colours in which new styles are made: those of the theme if the house's styles wear it, or else those that its headings wear.</summary>
    private (ImmutableDictionary<ThemeColour, string> Colours, ImmutableHashSet<ThemeColour> Outside) FindColours()
    {
        var colours = BuiltInHouses.Flint.Colours.SetItems(theme.Colours);
        var body = sheet.Find("paragraph", styles[(int)StyleRole.Body]!.Name);
        colours = colours.SetItem(ThemeColour.Text, (body is null ? null : sheet.ColourOf(body)) ?? "000000");
        if (sheet.Find("paragraph", styles[(int)StyleRole.Heading1]!.Name) is { } heading && !made.Contains(StyleRole.Heading1)) colours = colours.SetItem(ThemeColour.StrongText, sheet.ColourOf(heading) ?? colours[ThemeColour.Text]);
        // Headings in white stand on a colour of their own.
        if (Colour.Contrast(Colour.Parse(colours[ThemeColour.StrongText])!.Value, Colour.White) < 3) colours = colours.SetItem(ThemeColour.StrongText, theme.Colours.GetValueOrDefault(ThemeColour.StrongText, colours[ThemeColour.Text]));
        if (Colour.Parse(colours[ThemeColour.Tint]) is { Lightness: < 0.9 }) colours = colours.SetItem(ThemeColour.Tint, Palette.From(Colour.Parse(colours[ThemeColour.Accent1])!.Value)[ThemeColour.Tint]);
        return (colours, [.. colours.Where(c => theme.Colours.GetValueOrDefault(c.Key) != c.Value).Select(c => c.Key)]);
    }
}
